"""Depots and wanted days of lines, and what was promised of them."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0007_kept_names'),
        ('deals', '0006_sorting_past_others'),
        ('orders', '0010_sorting_past_others'),
        ('quotes', '0017_line_depots'),
        ('stock', '0001_initial'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='orderline',
            name='depot',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to='stock.depot'),
        ),
        migrations.AddField(
            model_name='orderline',
            name='arrives_on',
            field=models.DateField(null=True),
        ),
        migrations.AddField(
            model_name='orderline',
            name='missing',
            field=models.DecimalField(decimal_places=12, default=0, max_digits=33),
        ),
        migrations.AddField(
            model_name='orderline',
            name='promised_on',
            field=models.DateField(null=True),
        ),
        migrations.AddField(
            model_name='orderline',
            name='wanted_on',
            field=models.DateField(null=True),
        ),
        migrations.AddField(
            model_name='order',
            name='to_ship',
            field=models.GeneratedField(db_persist=True, expression=models.Case(models.When(models.Q(('shipped_quantity__lt', models.F('goods_quantity'))), then=True), default=False), output_field=models.BooleanField()),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(fields=['to_ship'], name='order_to_ship'),
        ),
    ]
