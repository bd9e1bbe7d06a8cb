"""The number a thing was told under turns below zero while it is asked for anew."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('ledger', '0005_told_whole'),
    ]

    operations = [
        migrations.AlterField(
            model_name='invoice',
            name='change',
            field=models.BigIntegerField(default=0),
        ),
        migrations.AlterField(
            model_name='payment',
            name='change',
            field=models.BigIntegerField(default=0),
        ),
    ]
