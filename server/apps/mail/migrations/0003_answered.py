"""Mails that came wait for an answer, or do not; what they say to an offer."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


def settle_automatic(apps, schema_editor):
    """Nobody waits for an answer to what a machine wrote."""
    rows = apps.get_model("mail", "Received").objects.filter(automatic=True, settled_at=None)
    rows.update(settled_at=models.F("received_at"))


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0012_parts_and_priority'),
        ('deals', '0012_teams'),
        ('ledger', '0011_whose_invoice'),
        ('mail', '0002_received'),
        ('orders', '0023_credited'),
        ('quotes', '0019_chosen_quote'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='message',
            name='in_answer_to',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='our_answers', to='mail.received'),
        ),
        migrations.AddField(
            model_name='received',
            name='says',
            field=models.JSONField(default=dict),
        ),
        migrations.AddField(
            model_name='received',
            name='settled_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name='received',
            name='settled_by',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL),
        ),
        migrations.AddField(
            model_name='received',
            name='thread',
            field=models.JSONField(default=list),
        ),
        migrations.AddField(
            model_name='received',
            name='version',
            field=models.PositiveIntegerField(default=1),
        ),
        migrations.RunPython(settle_automatic, migrations.RunPython.noop),
        migrations.AddIndex(
            model_name='received',
            index=models.Index(fields=['settled_at', 'customer'], name='mail_waits'),
        ),
    ]
