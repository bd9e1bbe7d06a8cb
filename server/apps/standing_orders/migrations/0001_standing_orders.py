"""Orders that repeat on days, and what became of each day."""

import django.db.models.deletion
from decimal import Decimal
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        ('catalogue', '0006_kept_figures'),
        ('customers', '0011_told_anew'),
        ('quotes', '0018_parts_of_offers'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='StandingOrder',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('title', models.CharField(max_length=80)),
                ('rule', models.CharField(max_length=120)),
                ('begins', models.DateField()),
                ('ends', models.DateField(null=True)),
                ('notice_days', models.PositiveSmallIntegerField(default=7)),
                ('buyer_reference', models.CharField(blank=True, max_length=60)),
                ('next_on', models.DateField(null=True)),
                ('ask_on', models.DateField(null=True)),
                ('made_at', models.DateTimeField(auto_now_add=True)),
                ('ended_at', models.DateTimeField(null=True)),
                ('version', models.PositiveIntegerField(default=1)),
                ('customer', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='standing_orders', to='customers.customer')),
                ('delivery_address', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to='customers.address')),
                ('made_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
        ),
        migrations.CreateModel(
            name='StandingLine',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('position', models.PositiveSmallIntegerField()),
                ('quantity', models.DecimalField(decimal_places=6, max_digits=18)),
                ('unit', models.CharField(max_length=3)),
                ('item', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to='catalogue.item')),
                ('standing_order', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='lines', to='standing_orders.standingorder')),
            ],
            options={
                'ordering': ['position'],
            },
        ),
        migrations.CreateModel(
            name='StandingTurn',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('on', models.DateField()),
                ('left_out', models.BooleanField(default=False)),
                ('answered_at', models.DateTimeField()),
                ('reason', models.CharField(blank=True, max_length=200)),
                ('answered_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('quote', models.OneToOneField(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='standing_turn', to='quotes.quote')),
                ('standing_order', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='turns', to='standing_orders.standingorder')),
            ],
            options={
                'ordering': ['-on'],
            },
        ),
        migrations.AddIndex(
            model_name='standingorder',
            index=models.Index(fields=['ask_on'], name='standing_order_asks'),
        ),
        migrations.AddConstraint(
            model_name='standingorder',
            constraint=models.CheckConstraint(condition=models.Q(('ends__isnull', True), ('ends__gte', models.F('begins')), _connector='OR'), name='standing_order_dates_in_order'),
        ),
        migrations.AddConstraint(
            model_name='standingline',
            constraint=models.CheckConstraint(condition=models.Q(('quantity__gt', Decimal('0'))), name='standing_line_quantity_positive'),
        ),
        migrations.AddConstraint(
            model_name='standingline',
            constraint=models.UniqueConstraint(fields=('standing_order', 'position'), name='standing_line_position_once'),
        ),
        migrations.AddConstraint(
            model_name='standingturn',
            constraint=models.UniqueConstraint(fields=('standing_order', 'on'), name='standing_turn_once'),
        ),
    ]
