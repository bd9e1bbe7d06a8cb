"""Invoices that fall due in parts, and what was given for paying early."""

from django.db import migrations, models
from django.db.models import F

from apps.columns import amount_column, quantity_column


class Migration(migrations.Migration):
    dependencies = [("ledger", "0003_kept_figures")]
    operations = [
        migrations.AddField("invoice", "discount", amount_column(default=0)),
        migrations.AddField("invoice", "dues", models.JSONField(default=list)),
        migrations.AddField("invoice", "early_percent", quantity_column(null=True)),
        migrations.AddField("invoice", "early_until", models.DateField(null=True)),
        migrations.RemoveIndex("invoice", "invoice_open"),
        migrations.RemoveField("invoice", "open_amount"),
        migrations.AddField(
            "invoice",
            "open_amount",
            models.GeneratedField(
                expression=F("gross") - F("settled") - F("discount"),
                output_field=amount_column(),
                db_persist=True,
            ),
        ),
        migrations.AddIndex(
            "invoice", models.Index(fields=["customer", "open_amount"], name="invoice_open")
        ),
    ]
