"""The beginnings of words are found by an index."""

from django.db import migrations

from apps.searching import words_index


class Migration(migrations.Migration):
    dependencies = [("customers", "0005_kept_figures")]
    operations = [words_index("customers_customer", "customer_words", "name, number, people, towns")]
