"""The record of changes only grows."""

from django.db import migrations

from apps.triggers import refuse

MESSAGE = "The record of changes only grows"


class Migration(migrations.Migration):
    dependencies = [("journal", "0002_initial")]
    operations = [
        refuse("journal_change", "UPDATE", "TRUE", MESSAGE),
        refuse("journal_change", "DELETE", "TRUE", MESSAGE),
    ]
