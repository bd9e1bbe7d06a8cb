"""What earlier deals teach, counted with each snapshot."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('forecast', '0002_snapshots_and_words'),
    ]

    operations = [
        migrations.AddField(
            model_name='snapshot',
            name='learnt',
            field=models.JSONField(null=True),
        ),
    ]
