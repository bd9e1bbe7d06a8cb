"""All mails in one list: by their day, by their words."""

from django.conf import settings
from django.db import migrations, models

from apps.searching import words_index


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0012_parts_and_priority'),
        ('deals', '0012_teams'),
        ('ledger', '0011_whose_invoice'),
        ('mail', '0006_sent_elsewhere'),
        ('orders', '0023_credited'),
        ('quotes', '0020_asked_about'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddIndex(
            model_name='message',
            index=models.Index(fields=['created_at'], name='mail_by_day'),
        ),
        migrations.AddIndex(
            model_name='received',
            index=models.Index(fields=['written_at'], name='mail_came_by_day'),
        ),
        words_index('mail_message', 'mail_words', 'subject, body'),
        words_index('mail_received', 'mail_came_words', 'subject, text'),
    ]
