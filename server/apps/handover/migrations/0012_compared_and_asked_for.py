"""Both sides compared, goods asked for, orders that hand themselves over."""

import django.db.models.deletion
import uuid
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('handover', '0011_what_may_change'),
        ('orders', '0017_less_of_a_line'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='handover',
            name='compared',
            field=models.BigIntegerField(default=0),
        ),
        migrations.CreateModel(
            name='Comparison',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('asked_at', models.DateTimeField()),
                ('leased_until', models.DateTimeField(null=True)),
                ('finished_at', models.DateTimeField(null=True)),
                ('position', models.BigIntegerField(default=0)),
                ('last', models.BigIntegerField(default=0)),
                ('orders', models.PositiveIntegerField(default=0)),
                ('days', models.JSONField(default=list)),
                ('problem', models.CharField(blank=True, max_length=20)),
                ('asked_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['-pk'],
            },
        ),
        migrations.CreateModel(
            name='Difference',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('order_number', models.CharField(max_length=20)),
                ('line', models.PositiveIntegerField(null=True)),
                ('what', models.CharField(max_length=20)),
                ('ours', models.CharField(blank=True, max_length=40)),
                ('theirs', models.CharField(blank=True, max_length=40)),
                ('comparison', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='differences', to='handover.comparison')),
                ('order', models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name='+', to='orders.order')),
            ],
            options={
                'ordering': ['pk'],
            },
        ),
        migrations.CreateModel(
            name='Replenishment',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('key', models.UUIDField(default=uuid.uuid4, editable=False, unique=True)),
                ('state', models.CharField(default='waiting', max_length=10)),
                ('payload', models.JSONField()),
                ('tries', models.PositiveIntegerField(default=0)),
                ('next_try_at', models.DateTimeField()),
                ('leased_until', models.DateTimeField(null=True)),
                ('last_error', models.CharField(blank=True, max_length=300)),
                ('created_at', models.DateTimeField(auto_now_add=True)),
                ('version', models.PositiveIntegerField(default=1)),
                ('quantity', models.DecimalField(decimal_places=12, max_digits=33)),
                ('wanted_on', models.DateField(null=True)),
                ('receipt', models.CharField(blank=True, max_length=30)),
                ('due_on', models.DateField(null=True)),
                ('said', models.CharField(blank=True, max_length=300)),
                ('answered_at', models.DateTimeField(null=True)),
                ('open_line', models.GeneratedField(db_persist=True, expression=models.Case(models.When(state__in=('waiting', 'under_way', 'asked'), then=models.F('order_line'))), output_field=models.BigIntegerField(null=True))),
                ('asked_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('order_line', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='replenishments', to='orders.orderline')),
            ],
            options={
                'indexes': [models.Index(fields=['state', 'next_try_at'], name='replenishment_to_send')],
                'constraints': [models.CheckConstraint(condition=models.Q(('state__in', ('waiting', 'under_way', 'asked', 'answered', 'refused'))), name='replenishment_state_known'), models.UniqueConstraint(fields=('open_line',), name='replenished_once_at_a_time')],
            },
        ),
        migrations.CreateModel(
            name='SelfHandover',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('due_at', models.DateTimeField()),
                ('stopped_at', models.DateTimeField(null=True)),
                ('held_by', models.CharField(blank=True, max_length=40)),
                ('done', models.BooleanField(default=False)),
                ('order', models.OneToOneField(on_delete=django.db.models.deletion.PROTECT, related_name='self_handover', to='orders.order')),
                ('stopped_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'indexes': [models.Index(fields=['done', 'due_at'], name='self_handover_due')],
            },
        ),
    ]
