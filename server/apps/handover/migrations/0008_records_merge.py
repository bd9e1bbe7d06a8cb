"""Two records of one customer may become one: their booked documents move, and nothing else of them."""

from importlib import import_module

from django.db import migrations

from apps.triggers import refuse

guards = import_module("apps.handover.migrations.0005_guards")
free = import_module("apps.handover.migrations.0006_kept_figures_are_free")
early = import_module("apps.handover.migrations.0007_early_terms_stay")
MESSAGE = "What is booked stays"
HANDED_MESSAGE = "What was handed over stays as it is"
MOVED = "(NOT (NEW.customer_id <=> OLD.customer_id) AND @records_merge IS NULL)"


def changed(columns: tuple[str, ...]) -> str:
    """Whether one of the columns becomes another; a customer does not count while records merge."""
    others = tuple(column for column in columns if column != "customer_id")
    return f"{free.changed(others)} OR {MOVED}"


TABLES = (
    ("ledger_invoice", early.NEW, MESSAGE, "{changed}"),
    ("ledger_payment", free.BOOKED["ledger_payment"], MESSAGE, "{changed}"),
    (
        "orders_order",
        guards.SUMS,
        HANDED_MESSAGE,
        f"({{changed}}) AND {guards.HANDED.format(column='id')}",
    ),
)


class Migration(migrations.Migration):
    dependencies = [
        ("handover", "0007_early_terms_stay"),
        ("customers", "0008_kept_whole"),
    ]
    operations = [
        step
        for table, columns, message, condition in TABLES
        for old, new in (
            (
                refuse(table, "UPDATE", condition.format(changed=free.changed(columns)), message),
                refuse(table, "UPDATE", condition.format(changed=changed(columns)), message),
            ),
        )
        for step in (migrations.RunSQL(old.reverse_sql, old.sql), new)
    ]
