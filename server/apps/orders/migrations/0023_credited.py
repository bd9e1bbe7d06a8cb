"""What credit notes settled, apart from what was paid."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('orders', '0022_order_to_bill_by_owner'),
    ]

    operations = [
        migrations.AddField(
            model_name='order',
            name='credited',
            field=models.DecimalField(decimal_places=3, default=0, editable=False, max_digits=18),
        ),
    ]
