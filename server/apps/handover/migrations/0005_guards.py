"""What was handed over, booked or printed stays: nobody changes or removes it, whoever asks."""

from django.db import migrations

from apps.triggers import refuse

BOOKED = ("ledger_invoice", "ledger_invoiceline", "ledger_payment", "ledger_allocation")
HANDED = "EXISTS (SELECT 1 FROM handover_handover WHERE order_id = OLD.{column})"
SUMS = (
    *("number", "customer_id", "revision_id", "currency", "lines_net", "document_discount"),
    *("net", "tax_total", "gross", "payable_rounding", "payable", "base_payable"),
)
CHANGED = " OR ".join(f"NOT (NEW.{column} <=> OLD.{column})" for column in SUMS)


class Migration(migrations.Migration):
    dependencies = [
        ("handover", "0004_news_set_apart"),
        ("orders", "0006_further_terms"),
        ("ledger", "0002_initial"),
        ("quotes", "0011_versions_and_uniqueness"),
    ]
    operations = [
        *(
            refuse(table, act, "TRUE", "What is booked stays")
            for table in BOOKED
            for act in ("UPDATE", "DELETE")
        ),
        refuse("quotes_quotepaper", "DELETE", "TRUE", "A paper that left the house stays"),
        refuse("orders_order", "DELETE", "TRUE", "An order stays"),
        refuse(
            "orders_order",
            "UPDATE",
            f"({CHANGED}) AND {HANDED.format(column='id')}",
            "What was handed over stays as it is",
        ),
        refuse("orders_orderline", "DELETE", "TRUE", "An order stays"),
        refuse(
            "orders_orderline",
            "UPDATE",
            HANDED.format(column="order_id"),
            "What was handed over stays as it is",
        ),
    ]
