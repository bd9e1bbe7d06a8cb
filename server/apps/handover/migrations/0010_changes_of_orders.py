"""What the buyer changes of an order, and what the back office says to it."""

import django.db.models.deletion
import uuid
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('handover', '0009_settled_anew'),
        ('orders', '0017_less_of_a_line'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='OrderChange',
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
                ('reason', models.CharField(max_length=200)),
                ('answer', models.JSONField(default=list)),
                ('answered_at', models.DateTimeField(null=True)),
                ('noticed_at', models.DateTimeField(null=True)),
                ('open_order', models.GeneratedField(db_persist=True, expression=models.Case(models.When(state__in=('waiting', 'under_way', 'asked'), then=models.F('order'))), output_field=models.BigIntegerField(null=True))),
                ('asked_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('order', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='changes', to='orders.order')),
            ],
            options={
                'indexes': [models.Index(fields=['state', 'next_try_at'], name='change_to_send'), models.Index(fields=['noticed_at', 'state'], name='change_to_notice')],
                'constraints': [models.CheckConstraint(condition=models.Q(('state__in', ('waiting', 'under_way', 'asked', 'answered', 'refused'))), name='order_change_state_known'), models.UniqueConstraint(fields=('open_order',), name='order_changed_once_at_a_time')],
            },
        ),
    ]
