"""Planned call-offs of agreements, and where each agreement stands on a day."""

import django.db.models.deletion
from decimal import Decimal
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        ('prices', '0005_agreements_over_an_amount'),
    ]

    operations = [
        migrations.CreateModel(
            name='CallOffPlan',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('notice_days', models.PositiveSmallIntegerField(default=7)),
                ('version', models.PositiveIntegerField(default=1)),
                ('agreement', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name='plan', to='prices.agreement')),
            ],
        ),
        migrations.CreateModel(
            name='AgreementDay',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('on', models.DateField(null=True)),
                ('state', models.CharField(max_length=6)),
                ('misses', models.BooleanField(default=False)),
                ('due_on', models.DateField(null=True)),
                ('tell_on', models.DateField(null=True)),
                ('called_off', models.DecimalField(decimal_places=12, default=0, editable=False, max_digits=33)),
                ('judged', models.DecimalField(decimal_places=12, default=0, max_digits=33)),
                ('of_version', models.PositiveIntegerField(default=0)),
                ('agreement', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name='day', to='prices.agreement')),
            ],
            options={
                'indexes': [models.Index(fields=['on'], name='agreement_day_on'), models.Index(fields=['tell_on'], name='agreement_day_tells'), models.Index(fields=['state'], name='agreement_day_state'), models.Index(fields=['misses'], name='agreement_day_misses')],
                'constraints': [models.CheckConstraint(condition=models.Q(('state__in', ('coming', 'behind', 'even', 'ahead', 'used', 'over'))), name='agreement_day_state_known')],
            },
        ),
        migrations.CreateModel(
            name='PlannedCallOff',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('on', models.DateField()),
                ('quantity', models.DecimalField(decimal_places=6, max_digits=18)),
                ('plan', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='rows', to='calloffs.calloffplan')),
            ],
            options={
                'ordering': ['on'],
                'constraints': [models.CheckConstraint(condition=models.Q(('quantity__gt', Decimal('0'))), name='planned_call_off_positive'), models.UniqueConstraint(fields=('plan', 'on'), name='planned_call_off_once')],
            },
        ),
    ]
