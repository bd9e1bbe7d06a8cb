"""What of invoices is settled and of payments used, kept where it is read."""

from django.db import migrations, models
from django.db.models import F

from apps.columns import amount_column


def left(whole: str, part: str) -> models.GeneratedField:
    return models.GeneratedField(
        expression=F(whole) - F(part),
        output_field=models.DecimalField(decimal_places=3, max_digits=18),
        db_persist=True,
    )


class Migration(migrations.Migration):
    dependencies = [
        ("customers", "0005_kept_figures"),
        ("ledger", "0002_initial"),
        ("orders", "0006_further_terms"),
    ]
    operations = [
        migrations.AddField("invoice", "settled", amount_column(default=0, editable=False)),
        migrations.AddField("payment", "used", amount_column(default=0, editable=False)),
        migrations.AddField("invoice", "open_amount", left("gross", "settled")),
        migrations.AddField("payment", "unused", left("amount", "used")),
        migrations.AddIndex(
            "invoice", models.Index(fields=["customer", "open_amount"], name="invoice_open")
        ),
        migrations.AddIndex(
            "payment", models.Index(fields=["customer", "unused"], name="payment_unused")
        ),
        migrations.AddIndex(
            "payment", models.Index(fields=["customer", "on"], name="payment_by_day")
        ),
    ]
