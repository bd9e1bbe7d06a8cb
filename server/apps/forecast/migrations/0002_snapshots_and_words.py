"""Snapshots of the deals, and what people say they will win: words stay as they were said."""

import datetime
import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

from apps.triggers import refuse


class Migration(migrations.Migration):

    dependencies = [
        ('deals', '0009_by_end'),
        ('forecast', '0001_targets'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Snapshot',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('at', models.DateTimeField(unique=True)),
                ('night', models.DateField(null=True, unique=True)),
                ('note', models.CharField(blank=True, max_length=80)),
                ('who', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
        ),
        migrations.CreateModel(
            name='Seen',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('since', models.DateTimeField()),
                ('until', models.DateTimeField(default=datetime.datetime(9999, 12, 31, 0, 0, tzinfo=datetime.timezone.utc))),
                ('outcome', models.CharField(max_length=6)),
                ('amount', models.DecimalField(decimal_places=3, max_digits=18)),
                ('probability', models.DecimalField(decimal_places=4, max_digits=7)),
                ('own', models.BooleanField(default=False)),
                ('decision_on', models.DateField()),
                ('confidence', models.CharField(max_length=8)),
                ('deal', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='seen', to='deals.deal')),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('stage', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to='deals.stage')),
            ],
            options={
                'indexes': [models.Index(fields=['outcome', 'decision_on', 'owner', 'since', 'until'], name='seen_by_decision')],
                'constraints': [models.UniqueConstraint(fields=('deal', 'until'), name='seen_one_way_at_a_time'), models.UniqueConstraint(fields=('deal', 'since'), name='seen_begins_once'), models.CheckConstraint(condition=models.Q(('until__gt', models.F('since'))), name='seen_for_a_while')],
            },
        ),
        migrations.CreateModel(
            name='Word',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('month', models.DateField()),
                ('judged', models.BooleanField(default=False)),
                ('amount', models.DecimalField(decimal_places=3, max_digits=18, null=True)),
                ('reason', models.CharField(blank=True, max_length=200)),
                ('at', models.DateTimeField()),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('who', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'indexes': [models.Index(fields=['month', 'owner', 'judged', 'at'], name='word_newest')],
                'constraints': [models.CheckConstraint(condition=models.Q(('amount__isnull', True), ('amount__gte', 0), _connector='OR'), name='word_not_negative'), models.CheckConstraint(condition=models.Q(('month__day', 1)), name='word_of_a_whole_month')],
            },
        ),
        refuse("forecast_word", "UPDATE", "TRUE", "what was said stays"),
        refuse("forecast_word", "DELETE", "TRUE", "what was said stays"),
    ]
