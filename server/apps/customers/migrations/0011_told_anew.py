"""The number a thing was told under turns below zero while it is asked for anew."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0010_held_itself'),
    ]

    operations = [
        migrations.AlterField(
            model_name='customer',
            name='change',
            field=models.BigIntegerField(default=0),
        ),
    ]
