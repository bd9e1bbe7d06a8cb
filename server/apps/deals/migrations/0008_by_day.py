"""Deals of all days, with their amounts."""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0011_told_anew'),
        ('deals', '0007_by_outcome_and_day'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.RemoveIndex(
            model_name='deal',
            name='deal_by_decision_on',
        ),
        migrations.AddIndex(
            model_name='deal',
            index=models.Index(fields=['decision_on', 'id', 'owner', 'amount'], name='deal_by_day'),
        ),
    ]
