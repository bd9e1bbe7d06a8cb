"""What settles what may be told anew by the back office; nothing else takes an allocation away."""

from django.db import migrations

from apps.triggers import refuse

MESSAGE = "What is booked stays"
OLD = refuse("ledger_allocation", "DELETE", "TRUE", MESSAGE)


class Migration(migrations.Migration):
    dependencies = [
        ("handover", "0008_records_merge"),
        ("ledger", "0005_told_whole"),
    ]
    operations = [
        migrations.RunSQL(OLD.reverse_sql, OLD.sql),
        refuse("ledger_allocation", "DELETE", "@settled_anew IS NULL", MESSAGE),
    ]
