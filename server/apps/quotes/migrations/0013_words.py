"""The beginnings of words are found by an index."""

from django.db import migrations

from apps.searching import words_index


class Migration(migrations.Migration):
    dependencies = [("quotes", "0012_kept_figures")]
    operations = [words_index("quotes_quote", "quote_words", "number, customer_name, deal_title")]
