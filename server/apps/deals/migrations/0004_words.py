"""The beginnings of words are found by an index."""

from django.db import migrations

from apps.searching import words_index


class Migration(migrations.Migration):
    dependencies = [("deals", "0003_kept_figures")]
    operations = [words_index("deals_deal", "deal_words", "title, customer_name")]
