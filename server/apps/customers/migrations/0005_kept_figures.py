"""Town, towns and people of a customer, kept where they are read."""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('catalogue', '0004_versions_and_uniqueness'),
        ('customers', '0004_further_terms'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='customer',
            name='people',
            field=models.CharField(default='', editable=False, max_length=500),
        ),
        migrations.AddField(
            model_name='customer',
            name='town',
            field=models.CharField(default='', editable=False, max_length=80),
        ),
        migrations.AddField(
            model_name='customer',
            name='towns',
            field=models.CharField(default='', editable=False, max_length=500),
        ),
        migrations.AddIndex(
            model_name='customer',
            index=models.Index(fields=['kind'], name='customer_by_kind'),
        ),
        migrations.AddIndex(
            model_name='customer',
            index=models.Index(fields=['town'], name='customer_by_town'),
        ),
        migrations.AddIndex(
            model_name='customer',
            index=models.Index(fields=['credit_limit'], name='customer_by_credit_limit'),
        ),
    ]
