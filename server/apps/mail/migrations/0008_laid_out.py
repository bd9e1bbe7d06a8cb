"""Mails as their writers laid them out."""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0012_parts_and_priority'),
        ('deals', '0012_teams'),
        ('ledger', '0011_whose_invoice'),
        ('mail', '0007_mail_list'),
        ('orders', '0023_credited'),
        ('quotes', '0020_asked_about'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='received',
            name='layout',
            field=models.CharField(blank=True, max_length=8),
        ),
        migrations.AddField(
            model_name='received',
            name='markup',
            field=models.TextField(blank=True),
        ),
        migrations.AddConstraint(
            model_name='received',
            constraint=models.CheckConstraint(condition=models.Q(('layout__in', ('', 'words', 'pictures'))), name='mail_layout_known'),
        ),
    ]
