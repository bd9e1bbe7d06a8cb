"""Whose a record is, kept where lists are sorted by it."""
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0007_kept_names'),
        ('deals', '0005_kept_names'),
        ('orders', '0008_words'),
        ('quotes', '0014_kept_names'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='order',
            name='owner_name',
            field=models.CharField(default='', editable=False, max_length=150),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(fields=['owner_name'], name='order_by_owner_name'),
        ),
    ]
