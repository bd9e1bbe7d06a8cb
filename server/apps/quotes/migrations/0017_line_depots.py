"""Depots and wanted days of lines."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('quotes', '0016_sorting_past_others'),
        ('stock', '0001_initial'),
    ]

    operations = [
        migrations.AddField(
            model_name='quoteline',
            name='depot',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to='stock.depot'),
        ),
        migrations.AddField(
            model_name='quoteline',
            name='wanted_on',
            field=models.DateField(null=True),
        ),
    ]
