"""A deal's amount, outcome and customer, kept where they are read."""

import django.db.models.functions.comparison
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0005_kept_figures'),
        ('deals', '0002_initial'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='deal',
            name='amount',
            field=models.GeneratedField(db_persist=True, expression=django.db.models.functions.comparison.Coalesce('quoted_amount', 'estimate'), output_field=models.DecimalField(decimal_places=3, max_digits=18)),
        ),
        migrations.AddField(
            model_name='deal',
            name='customer_name',
            field=models.CharField(default='', editable=False, max_length=120),
        ),
        migrations.AddField(
            model_name='deal',
            name='outcome',
            field=models.CharField(default='open', editable=False, max_length=6),
        ),
        migrations.AddIndex(
            model_name='deal',
            index=models.Index(fields=['outcome', 'owner', 'decision_on', 'stage', 'confidence', 'own_probability_percent', 'amount'], name='deal_for_the_forecast'),
        ),
        migrations.AddIndex(
            model_name='deal',
            index=models.Index(fields=['outcome', 'decision_on'], name='deal_by_decision_on'),
        ),
        migrations.AddIndex(
            model_name='deal',
            index=models.Index(fields=['outcome', 'amount'], name='deal_by_amount'),
        ),
        migrations.AddIndex(
            model_name='deal',
            index=models.Index(fields=['outcome', 'customer_name'], name='deal_by_customer_name'),
        ),
        migrations.AddIndex(
            model_name='deal',
            index=models.Index(fields=['outcome', 'title'], name='deal_by_title'),
        ),
    ]
