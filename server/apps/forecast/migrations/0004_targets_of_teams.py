"""Targets of teams, and of teams with the items of one group."""

import django.db.models.deletion
import django.db.models.functions.comparison
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('catalogue', '0006_kept_figures'),
        ('forecast', '0003_learnt_by_night'),
        ('people', '0005_may_replenish'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='target',
            name='group',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to='catalogue.itemgroup'),
        ),
        migrations.AddField(
            model_name='target',
            name='team',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='targets', to='people.team'),
        ),
        migrations.AlterField(
            model_name='target',
            name='owner',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='targets', to=settings.AUTH_USER_MODEL),
        ),
        migrations.AddField(
            model_name='target',
            name='of_group',
            field=models.GeneratedField(db_persist=True, expression=django.db.models.functions.comparison.Coalesce('group', 0), output_field=models.BigIntegerField()),
        ),
        migrations.AddConstraint(
            model_name='target',
            constraint=models.UniqueConstraint(fields=('month', 'team', 'of_group'), name='target_of_team_once'),
        ),
        migrations.AddConstraint(
            model_name='target',
            constraint=models.CheckConstraint(condition=models.Q(models.Q(('group__isnull', True), ('owner__isnull', False), ('team__isnull', True)), models.Q(('owner__isnull', True), ('team__isnull', False)), _connector='OR'), name='target_is_somebodys'),
        ),
    ]
