"""News that cannot be read or does not add up is set apart; the feed tells its count."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('handover', '0003_read_at'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='backofficeevent',
            name='facts',
            field=models.JSONField(default=dict),
        ),
        migrations.AddField(
            model_name='backofficeevent',
            name='mark',
            field=models.CharField(max_length=64, null=True, unique=True),
        ),
        migrations.AddField(
            model_name='backofficeevent',
            name='raw',
            field=models.TextField(blank=True),
        ),
        migrations.AddField(
            model_name='backofficeevent',
            name='settled_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name='backofficeevent',
            name='settled_by',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL),
        ),
        migrations.AddField(
            model_name='backofficeevent',
            name='state',
            field=models.CharField(default='waiting', max_length=7),
        ),
        migrations.RunSQL(
            """
            UPDATE handover_backofficeevent SET state =
              CASE WHEN NOT applied THEN 'waiting' WHEN problem = '' THEN 'applied' ELSE 'apart' END,
              facts = CASE WHEN problem = '' THEN '{}' ELSE '{"what": "unexpected"}' END
            """,
            migrations.RunSQL.noop,
        ),
        migrations.RemoveIndex(
            model_name='backofficeevent',
            name='handover_ba_key_9c8383_idx',
        ),
        migrations.RemoveField(
            model_name='backofficeevent',
            name='applied',
        ),
        migrations.RemoveField(
            model_name='backofficeevent',
            name='problem',
        ),
        migrations.AddField(
            model_name='backofficeevent',
            name='version',
            field=models.PositiveIntegerField(default=1),
        ),
        migrations.AddField(
            model_name='feedposition',
            name='epoch',
            field=models.CharField(blank=True, max_length=40),
        ),
        migrations.AddField(
            model_name='feedposition',
            name='failing_since',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name='feedposition',
            name='looked_back_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name='feedposition',
            name='problem',
            field=models.CharField(blank=True, max_length=20),
        ),
        migrations.AddField(
            model_name='feedposition',
            name='status',
            field=models.PositiveSmallIntegerField(default=0),
        ),
        migrations.AlterField(
            model_name='backofficeevent',
            name='event_id',
            field=models.UUIDField(null=True, unique=True),
        ),
        migrations.AlterField(
            model_name='backofficeevent',
            name='key',
            field=models.UUIDField(null=True),
        ),
        migrations.AlterField(
            model_name='backofficeevent',
            name='kind',
            field=models.CharField(blank=True, max_length=20),
        ),
        migrations.AlterField(
            model_name='backofficeevent',
            name='occurred_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddIndex(
            model_name='backofficeevent',
            index=models.Index(fields=['key', 'state'], name='handover_ba_key_70a031_idx'),
        ),
        migrations.AddIndex(
            model_name='backofficeevent',
            index=models.Index(fields=['state', 'id'], name='handover_ba_state_56bcb5_idx'),
        ),
        migrations.AddConstraint(
            model_name='backofficeevent',
            constraint=models.CheckConstraint(condition=models.Q(('state__in', ('waiting', 'applied', 'apart', 'let_go'))), name='event_state_known'),
        ),
    ]
