"""A version for kept cases; the margin stands in the priced answer alone."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('quotes', '0010_sign_off_asked_once'),
    ]

    operations = [
        migrations.RemoveField(
            model_name='revision',
            name='margin_percent',
        ),
        migrations.AddField(
            model_name='keptcase',
            name='version',
            field=models.PositiveIntegerField(default=1),
        ),
    ]
