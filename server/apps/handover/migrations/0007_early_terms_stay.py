"""What an invoice says of its parts and of paying early stays as well."""

from importlib import import_module

from django.db import migrations

from apps.triggers import refuse

before = import_module("apps.handover.migrations.0006_kept_figures_are_free")
OLD = before.BOOKED["ledger_invoice"]
NEW = (*OLD, "dues", "early_percent", "early_until")


def guard(columns: tuple[str, ...]) -> migrations.RunSQL:
    """The trigger that keeps these columns of an invoice."""
    return refuse("ledger_invoice", "UPDATE", before.changed(columns), "What is booked stays")


class Migration(migrations.Migration):
    dependencies = [
        ("handover", "0006_kept_figures_are_free"),
        ("ledger", "0004_early_and_parts"),
    ]
    operations = [
        migrations.RunSQL(guard(OLD).reverse_sql, guard(OLD).sql),
        guard(NEW),
    ]
