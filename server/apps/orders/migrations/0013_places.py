"""A line that changed places with another stands in that one's day."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('orders', '0012_order_sign_off'),
    ]

    operations = [
        migrations.AddField(
            model_name='orderline',
            name='reserve_by',
            field=models.DateField(null=True),
        ),
    ]
