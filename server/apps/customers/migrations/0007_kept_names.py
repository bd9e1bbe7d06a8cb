"""Whose a record is, kept where lists are sorted by it."""
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('catalogue', '0006_kept_figures'),
        ('customers', '0006_words'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='customer',
            name='owner_name',
            field=models.CharField(default='', editable=False, max_length=150),
        ),
        migrations.AddIndex(
            model_name='customer',
            index=models.Index(fields=['owner_name'], name='customer_by_owner_name'),
        ),
    ]
