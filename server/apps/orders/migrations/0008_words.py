"""The beginnings of words are found by an index."""

from django.db import migrations

from apps.searching import words_index


class Migration(migrations.Migration):
    dependencies = [("orders", "0007_kept_figures")]
    operations = [words_index("orders_order", "order_words", "number, customer_name, buyer_reference, backoffice_number")]
