"""Mailboxes beside the house's own: people's, and shared ones."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('mail', '0004_strangers'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='mailbox',
            name='owner',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name='+', to=settings.AUTH_USER_MODEL),
        ),
        migrations.AddField(
            model_name='mailbox',
            name='retired_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name='mailbox',
            name='sealed',
            field=models.TextField(blank=True),
        ),
        migrations.AddField(
            model_name='mailbox',
            name='server',
            field=models.CharField(blank=True, max_length=120),
        ),
        migrations.AddField(
            model_name='mailbox',
            name='version',
            field=models.PositiveIntegerField(default=1),
        ),
        migrations.AlterField(
            model_name='mailbox',
            name='name',
            field=models.CharField(max_length=254),
        ),
        migrations.AddConstraint(
            model_name='mailbox',
            constraint=models.UniqueConstraint(fields=('server', 'name'), name='mailbox_stands_once'),
        ),
    ]
