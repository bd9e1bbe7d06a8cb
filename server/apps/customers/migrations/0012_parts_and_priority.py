"""Whether orders may leave in parts, and whose promises are of priority."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0011_told_anew'),
    ]

    operations = [
        migrations.AddField(
            model_name='customer',
            name='partial_deliveries',
            field=models.BooleanField(default=True),
        ),
        migrations.AddField(
            model_name='customer',
            name='priority',
            field=models.BooleanField(default=False),
        ),
    ]
