"""Who may ask the back office for goods."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('people', '0004_visits_and_audit'),
    ]

    operations = [
        migrations.AddField(
            model_name='user',
            name='may_replenish',
            field=models.BooleanField(default=False),
        ),
    ]
