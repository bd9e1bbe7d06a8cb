"""What people sent with another program; from when a mailbox is read."""

import django.utils.timezone
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('mail', '0005_mailboxes'),
    ]

    operations = [
        migrations.AddField(
            model_name='mailbox',
            name='sent_name',
            field=models.CharField(blank=True, max_length=254),
        ),
        migrations.AddField(
            model_name='mailbox',
            name='sent_uid',
            field=models.PositiveBigIntegerField(default=0),
        ),
        migrations.AddField(
            model_name='mailbox',
            name='sent_validity',
            field=models.PositiveBigIntegerField(default=0),
        ),
        migrations.AddField(
            model_name='mailbox',
            name='since',
            field=models.DateTimeField(default=django.utils.timezone.now),
        ),
        migrations.AddField(
            model_name='message',
            name='elsewhere',
            field=models.BooleanField(default=False),
        ),
    ]
