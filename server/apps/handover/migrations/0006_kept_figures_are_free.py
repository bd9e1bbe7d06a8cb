"""What was booked stays, column by column: how much of it is settled or used is kept beside it."""

from django.db import migrations

from apps.triggers import refuse

BOOKED = {
    "ledger_invoice": (
        *("number", "customer_id", "order_id", "kind", "`on`", "due_on"),
        *("currency", "net", "gross", "base_rate"),
    ),
    "ledger_payment": ("number", "customer_id", "`on`", "currency", "amount"),
}


def changed(columns: tuple[str, ...]) -> str:
    """Whether one of the columns becomes another."""
    return " OR ".join(f"NOT (NEW.{column} <=> OLD.{column})" for column in columns)


class Migration(migrations.Migration):
    dependencies = [
        ("handover", "0005_guards"),
        ("ledger", "0003_kept_figures"),
        ("orders", "0007_kept_figures"),
    ]
    operations = [
        step
        for table, columns in BOOKED.items()
        for step in (
            migrations.RunSQL(
                f"DROP TRIGGER {table}_refuse_update",
                refuse(table, "UPDATE", "TRUE", "What is booked stays").sql,
            ),
            refuse(table, "UPDATE", changed(columns), "What is booked stays"),
        )
    ]
