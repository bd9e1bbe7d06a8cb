"""Open deals in the order of their days."""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0011_told_anew'),
        ('deals', '0006_sorting_past_others'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddIndex(
            model_name='deal',
            index=models.Index(fields=['outcome', 'decision_on', 'id', 'owner', 'confidence', 'amount'], name='deal_by_outcome_and_day'),
        ),
    ]
