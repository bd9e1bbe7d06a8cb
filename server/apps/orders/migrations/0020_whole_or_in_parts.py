"""Whether an order may leave in parts."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('orders', '0019_limits_at_the_order'),
    ]

    operations = [
        migrations.AddField(
            model_name='order',
            name='partial_deliveries',
            field=models.BooleanField(default=True),
        ),
    ]
