"""Whose a deal is and how likely, kept where lists are sorted by it."""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0007_kept_names'),
        ('deals', '0004_words'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.RemoveIndex(
            model_name='deal',
            name='deal_for_the_forecast',
        ),
        migrations.RemoveIndex(
            model_name='deal',
            name='deal_by_decision_on',
        ),
        migrations.RemoveIndex(
            model_name='deal',
            name='deal_by_amount',
        ),
        migrations.RemoveIndex(
            model_name='deal',
            name='deal_by_customer_name',
        ),
        migrations.RemoveIndex(
            model_name='deal',
            name='deal_by_title',
        ),
        migrations.AddField(
            model_name='deal',
            name='owner_name',
            field=models.CharField(default='', editable=False, max_length=150),
        ),
        migrations.AddField(
            model_name='deal',
            name='probability',
            field=models.DecimalField(decimal_places=4, default=0, editable=False, max_digits=7),
        ),
        migrations.AddField(
            model_name='deal',
            name='stage_position',
            field=models.PositiveSmallIntegerField(default=0, editable=False),
        ),
        migrations.AddIndex(
            model_name='deal',
            index=models.Index(fields=['outcome', 'owner', 'decision_on', 'stage', 'confidence', 'probability', 'amount'], name='deal_for_the_forecast'),
        ),
        migrations.AddIndex(
            model_name='deal',
            index=models.Index(fields=['decision_on'], name='deal_by_decision_on'),
        ),
        migrations.AddIndex(
            model_name='deal',
            index=models.Index(fields=['amount'], name='deal_by_amount'),
        ),
        migrations.AddIndex(
            model_name='deal',
            index=models.Index(fields=['customer_name'], name='deal_by_customer_name'),
        ),
        migrations.AddIndex(
            model_name='deal',
            index=models.Index(fields=['title'], name='deal_by_title'),
        ),
        migrations.AddIndex(
            model_name='deal',
            index=models.Index(fields=['owner_name'], name='deal_by_owner_name'),
        ),
        migrations.AddIndex(
            model_name='deal',
            index=models.Index(fields=['stage_position'], name='deal_by_stage_position'),
        ),
        migrations.AddIndex(
            model_name='deal',
            index=models.Index(fields=['probability'], name='deal_by_probability'),
        ),
    ]
