"""Depots, stock, what comes, what is kept, and changes set aside."""

import django.db.models.deletion
from decimal import Decimal
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        ('catalogue', '0006_kept_figures'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='ChangeFeed',
            fields=[
                ('name', models.CharField(max_length=20, primary_key=True, serialize=False)),
                ('position', models.BigIntegerField(default=0)),
                ('epoch', models.CharField(blank=True, max_length=40)),
                ('last', models.BigIntegerField(default=0)),
                ('read_at', models.DateTimeField(null=True)),
                ('problem', models.CharField(blank=True, max_length=20)),
                ('failing_since', models.DateTimeField(null=True)),
                ('resync_from', models.DateTimeField(null=True)),
            ],
        ),
        migrations.CreateModel(
            name='Depot',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('code', models.CharField(max_length=20, unique=True)),
                ('name', models.CharField(max_length=60)),
                ('country', models.CharField(max_length=2)),
                ('region', models.CharField(blank=True, max_length=6)),
                ('transit_days', models.PositiveSmallIntegerField(default=1)),
                ('transit_days_abroad', models.PositiveSmallIntegerField(default=4)),
                ('change', models.BigIntegerField(default=0)),
            ],
            options={
                'ordering': ['pk'],
            },
        ),
        migrations.CreateModel(
            name='Level',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('on_hand', models.DecimalField(decimal_places=12, default=0, max_digits=33)),
                ('lead_days', models.PositiveSmallIntegerField(null=True)),
                ('minimum', models.DecimalField(decimal_places=12, max_digits=33, null=True)),
                ('told_at', models.DateTimeField()),
                ('change', models.BigIntegerField(default=0)),
                ('depot', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='levels', to='stock.depot')),
                ('item', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='levels', to='catalogue.item')),
            ],
        ),
        migrations.CreateModel(
            name='Receipt',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('number', models.CharField(max_length=30)),
                ('on', models.DateField()),
                ('quantity', models.DecimalField(decimal_places=12, max_digits=33)),
                ('sure', models.BooleanField(default=False)),
                ('level', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='receipts', to='stock.level')),
            ],
            options={
                'ordering': ['on', 'pk'],
            },
        ),
        migrations.CreateModel(
            name='Reservation',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('reference', models.CharField(max_length=30)),
                ('order_number', models.CharField(blank=True, max_length=20)),
                ('quantity', models.DecimalField(decimal_places=12, max_digits=33)),
                ('by', models.DateField()),
                ('level', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='reservations', to='stock.level')),
            ],
            options={
                'ordering': ['by', 'pk'],
            },
        ),
        migrations.CreateModel(
            name='SetAside',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('kind', models.CharField(blank=True, max_length=20)),
                ('ref', models.CharField(blank=True, max_length=80)),
                ('raw', models.TextField()),
                ('mark', models.CharField(max_length=64, unique=True)),
                ('facts', models.JSONField(default=dict)),
                ('received_at', models.DateTimeField(auto_now_add=True)),
                ('state', models.CharField(default='apart', max_length=8)),
                ('settled_at', models.DateTimeField(null=True)),
                ('version', models.PositiveIntegerField(default=1)),
                ('settled_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
        ),
        migrations.CreateModel(
            name='Substitute',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('factor', models.DecimalField(decimal_places=12, default=1, max_digits=33)),
                ('instead', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to='catalogue.item')),
                ('item', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='substitutes', to='catalogue.item')),
            ],
            options={
                'ordering': ['item_id', 'pk'],
            },
        ),
        migrations.AddConstraint(
            model_name='level',
            constraint=models.UniqueConstraint(fields=('item', 'depot'), name='level_once'),
        ),
        migrations.AddConstraint(
            model_name='receipt',
            constraint=models.CheckConstraint(condition=models.Q(('quantity__gt', Decimal('0'))), name='receipt_quantity_positive'),
        ),
        migrations.AddConstraint(
            model_name='receipt',
            constraint=models.UniqueConstraint(fields=('level', 'number'), name='receipt_once'),
        ),
        migrations.AddIndex(
            model_name='reservation',
            index=models.Index(fields=['order_number'], name='reservation_by_order'),
        ),
        migrations.AddConstraint(
            model_name='reservation',
            constraint=models.CheckConstraint(condition=models.Q(('quantity__gt', Decimal('0'))), name='reservation_positive'),
        ),
        migrations.AddIndex(
            model_name='setaside',
            index=models.Index(fields=['state', 'id'], name='aside_by_state'),
        ),
        migrations.AddConstraint(
            model_name='setaside',
            constraint=models.CheckConstraint(condition=models.Q(('state__in', ('apart', 'let_go', 'taken_in'))), name='aside_state_known'),
        ),
        migrations.AddConstraint(
            model_name='substitute',
            constraint=models.CheckConstraint(condition=models.Q(('factor__gt', Decimal('0'))), name='substitute_factor_positive'),
        ),
        migrations.AddConstraint(
            model_name='substitute',
            constraint=models.UniqueConstraint(fields=('item', 'instead'), name='substitute_once'),
        ),
        migrations.AddConstraint(
            model_name='substitute',
            constraint=models.CheckConstraint(condition=models.Q(('item', models.F('instead')), _negated=True), name='substitute_is_another'),
        ),
    ]
