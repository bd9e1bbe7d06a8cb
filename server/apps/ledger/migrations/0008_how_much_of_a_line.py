"""How much of an order's line an invoice bills."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('ledger', '0007_accounts'),
    ]

    operations = [
        migrations.AddField(
            model_name='invoiceline',
            name='quantity',
            field=models.DecimalField(decimal_places=6, max_digits=18, null=True),
        ),
    ]
