"""A follow-up may be a visit, at its place among those of its day."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('diary', '0004_feed'),
    ]

    operations = [
        migrations.AddField(
            model_name='activity',
            name='place',
            field=models.PositiveSmallIntegerField(default=0),
        ),
        migrations.AddField(
            model_name='activity',
            name='visit',
            field=models.BooleanField(default=False),
        ),
    ]
