"""The beginnings of words are found by an index."""

from django.db import migrations

from apps.searching import words_index


class Migration(migrations.Migration):
    dependencies = [("catalogue", "0004_versions_and_uniqueness")]
    operations = [words_index("catalogue_item", "item_words", "code, name")]
