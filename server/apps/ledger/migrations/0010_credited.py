"""What credit notes settled, apart from what was paid."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('ledger', '0009_invoice_by_day'),
    ]

    operations = [
        migrations.AddField(
            model_name='invoice',
            name='credited',
            field=models.DecimalField(decimal_places=3, default=0, editable=False, max_digits=18),
        ),
    ]
