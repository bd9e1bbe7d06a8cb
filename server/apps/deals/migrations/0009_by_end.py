"""Deals by the moment in which they were won, lost or parked."""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0012_parts_and_priority'),
        ('deals', '0008_by_day'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddIndex(
            model_name='deal',
            index=models.Index(fields=['outcome', 'closed_at', 'owner', 'amount'], name='deal_by_end'),
        ),
    ]
