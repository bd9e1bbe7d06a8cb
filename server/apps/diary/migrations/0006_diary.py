"""Activities stand on a day, at a time and place; who asked for them, and what colleagues are told of them."""

import django.db.models.deletion
import django.utils.timezone
from django.conf import settings
from django.db import migrations, models

from apps.searching import words_index


def stand_on_their_day(apps, schema_editor):
    """A follow-up on the day it is due, all else on the house's day on which it was noted."""
    rows = apps.get_model("diary", "Activity").objects
    rows.filter(due_on__isnull=False).update(day=models.F("due_on"))
    for row in rows.filter(due_on__isnull=True).iterator(chunk_size=1000):
        rows.filter(pk=row.pk).update(day=django.utils.timezone.localdate(row.created_at))


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0012_parts_and_priority'),
        ('deals', '0012_teams'),
        ('diary', '0005_visits'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Told',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('what', models.CharField(max_length=10)),
                ('word', models.CharField(blank=True, max_length=200)),
                ('at', models.DateTimeField()),
                ('seen_at', models.DateTimeField(null=True)),
            ],
            options={
                'ordering': ['-at', '-pk'],
            },
        ),
        migrations.AddField(
            model_name='activity',
            name='asked_by',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL),
        ),
        migrations.AddField(
            model_name='activity',
            name='contact',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to='customers.contact'),
        ),
        migrations.AddField(
            model_name='activity',
            name='day',
            field=models.DateField(default=django.utils.timezone.localdate),
        ),
        migrations.AddField(
            model_name='activity',
            name='minutes',
            field=models.PositiveSmallIntegerField(null=True),
        ),
        migrations.AddField(
            model_name='activity',
            name='starts',
            field=models.TimeField(null=True),
        ),
        migrations.AddField(
            model_name='activity',
            name='mark',
            field=models.CharField(max_length=64, null=True),
        ),
        migrations.AddField(
            model_name='activity',
            name='where',
            field=models.CharField(blank=True, max_length=160),
        ),
        migrations.RunPython(stand_on_their_day, migrations.RunPython.noop),
        migrations.AddIndex(
            model_name='activity',
            index=models.Index(fields=['owner', 'day'], name='diary_by_owner'),
        ),
        migrations.AddIndex(
            model_name='activity',
            index=models.Index(fields=['day'], name='diary_by_day'),
        ),
        migrations.AddIndex(
            model_name='activity',
            index=models.Index(fields=['customer', 'day'], name='diary_of_customer'),
        ),
        migrations.AddConstraint(
            model_name='activity',
            constraint=models.CheckConstraint(condition=models.Q(('due_on__isnull', True), ('due_on', models.F('day')), _connector='OR'), name='due_where_it_stands'),
        ),
        migrations.AddConstraint(
            model_name='activity',
            constraint=models.UniqueConstraint(fields=('owner', 'mark'), name='read_from_a_calendar_once'),
        ),
        migrations.AddField(
            model_name='told',
            name='activity',
            field=models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='told', to='diary.activity'),
        ),
        migrations.AddField(
            model_name='told',
            name='to',
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL),
        ),
        migrations.AddField(
            model_name='told',
            name='who',
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL),
        ),
        migrations.AddIndex(
            model_name='told',
            index=models.Index(fields=['to', 'seen_at'], name='diary_told'),
        ),
        migrations.AddConstraint(
            model_name='told',
            constraint=models.CheckConstraint(condition=models.Q(('what__in', ('mentioned', 'done', 'moved', 'back'))), name='told_what_known'),
        ),
        words_index('diary_activity', 'activity_words', 'text'),
    ]
