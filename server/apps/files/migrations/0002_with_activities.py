"""Files that lie with an activity."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0012_parts_and_priority'),
        ('deals', '0012_teams'),
        ('diary', '0008_documents'),
        ('files', '0001_kept_files'),
        ('orders', '0023_credited'),
        ('quotes', '0019_chosen_quote'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.RemoveConstraint(
            model_name='keptfile',
            name='kept_file_in_one_place',
        ),
        migrations.AddField(
            model_name='keptfile',
            name='activity',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name='files', to='diary.activity'),
        ),
        migrations.AddConstraint(
            model_name='keptfile',
            constraint=models.CheckConstraint(condition=models.Q(('pk__in', []), models.Q(('activity__isnull', True), ('customer__isnull', False), ('deal__isnull', True), ('order__isnull', True), ('revision__isnull', True)), models.Q(('activity__isnull', True), ('customer__isnull', True), ('deal__isnull', False), ('order__isnull', True), ('revision__isnull', True)), models.Q(('activity__isnull', True), ('customer__isnull', True), ('deal__isnull', True), ('order__isnull', True), ('revision__isnull', False)), models.Q(('activity__isnull', True), ('customer__isnull', True), ('deal__isnull', True), ('order__isnull', False), ('revision__isnull', True)), models.Q(('activity__isnull', False), ('customer__isnull', True), ('deal__isnull', True), ('order__isnull', True), ('revision__isnull', True)), _connector='OR'), name='kept_file_in_one_place'),
        ),
    ]
