"""An order that the back office has changes by its answer alone; one that it turned down may be mended."""

from importlib import import_module

from django.db import migrations

from apps.triggers import refuse

guards = import_module("apps.handover.migrations.0005_guards")
merge = import_module("apps.handover.migrations.0008_records_merge")
MESSAGE = merge.HANDED_MESSAGE
HELD_BY_THEM = (
    "@order_changes IS NULL AND EXISTS (SELECT 1 FROM handover_handover "
    "WHERE order_id = OLD.{column} AND state <> 'refused')"
)
CHANGED = merge.changed(guards.SUMS)
STEPS = (
    (
        refuse(
            "orders_order", "UPDATE", f"({CHANGED}) AND {guards.HANDED.format(column='id')}", MESSAGE
        ),
        refuse("orders_order", "UPDATE", f"({CHANGED}) AND {HELD_BY_THEM.format(column='id')}", MESSAGE),
    ),
    (
        refuse("orders_orderline", "UPDATE", guards.HANDED.format(column="order_id"), MESSAGE),
        refuse("orders_orderline", "UPDATE", HELD_BY_THEM.format(column="order_id"), MESSAGE),
    ),
)


class Migration(migrations.Migration):
    dependencies = [("handover", "0010_changes_of_orders")]
    operations = [
        step
        for old, new in STEPS
        for step in (migrations.RunSQL(old.reverse_sql, old.sql), new)
    ]
