"""What stages ask for, stages that are retired, why deals are closed."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('deals', '0009_by_end'),
    ]

    operations = [
        migrations.CreateModel(
            name='Reason',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('outcome', models.CharField(max_length=6)),
                ('name', models.CharField(max_length=60)),
                ('position', models.PositiveSmallIntegerField(default=0)),
                ('retired', models.BooleanField(default=False)),
            ],
            options={
                'ordering': ['outcome', 'position', 'pk'],
            },
        ),
        migrations.AddField(
            model_name='deal',
            name='lost_to',
            field=models.CharField(blank=True, max_length=80),
        ),
        migrations.AddField(
            model_name='deal',
            name='needs',
            field=models.CharField(blank=True, max_length=1000),
        ),
        migrations.AddField(
            model_name='deal',
            name='reason_note',
            field=models.CharField(blank=True, max_length=200),
        ),
        migrations.AddField(
            model_name='deal',
            name='rivals',
            field=models.CharField(blank=True, max_length=200),
        ),
        migrations.AddField(
            model_name='stage',
            name='asks',
            field=models.CharField(blank=True, max_length=8),
        ),
        migrations.AddField(
            model_name='stage',
            name='retired',
            field=models.BooleanField(default=False),
        ),
        migrations.AddConstraint(
            model_name='stage',
            constraint=models.CheckConstraint(condition=models.Q(('asks__in', ('', 'quote', 'decider'))), name='stage_asks_known'),
        ),
        migrations.AddConstraint(
            model_name='reason',
            constraint=models.CheckConstraint(condition=models.Q(('outcome__in', ('won', 'lost', 'parked'))), name='reason_outcome_known'),
        ),
        migrations.AddConstraint(
            model_name='reason',
            constraint=models.UniqueConstraint(fields=('outcome', 'name'), name='reason_once'),
        ),
        migrations.AddField(
            model_name='deal',
            name='reason',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='deals', to='deals.reason'),
        ),
        migrations.RunSQL(
            "UPDATE deals_stage SET asks = CASE code WHEN 'quoted' THEN 'quote' "
            "WHEN 'deciding' THEN 'decider' ELSE '' END",
            migrations.RunSQL.noop,
        ),
    ]
