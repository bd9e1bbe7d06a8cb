"""The days of customers, for lists."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        ('customers', '0007_kept_names'),
    ]

    operations = [
        migrations.CreateModel(
            name='CustomerDay',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('on', models.DateField(null=True)),
                ('verdict', models.CharField(max_length=7)),
                ('at_limit', models.BooleanField(default=False)),
                ('overdue', models.BooleanField(default=False)),
                ('due', models.PositiveSmallIntegerField(default=0)),
                ('stopped_count', models.PositiveSmallIntegerField(default=0)),
                ('stopped', models.JSONField(default=list)),
                ('customer', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name='day', to='customers.customer')),
            ],
            options={
                'indexes': [models.Index(fields=['on'], name='customer_day_on'), models.Index(fields=['verdict'], name='customer_day_verdict'), models.Index(fields=['stopped_count'], name='customer_day_stopped')],
                'constraints': [models.CheckConstraint(condition=models.Q(('verdict__in', ('clear', 'caution', 'halt'))), name='customer_day_verdict_known')],
            },
        ),
    ]
