"""One open question for a content. Of those that were asked twice at once, the newest stays open."""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('quotes', '0009_content_mark'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.RunSQL(
            """
            UPDATE quotes_signoff AS older
            JOIN quotes_signoff AS newer
              ON newer.revision_id = older.revision_id AND newer.fingerprint = older.fingerprint
              AND newer.answer = '' AND newer.id > older.id
            SET older.answer = 'refused', older.comment = 'Asked twice.'
            WHERE older.answer = ''
            """,
            migrations.RunSQL.noop,
        ),
        migrations.AddField(
            model_name='signoff',
            name='open_mark',
            field=models.GeneratedField(db_persist=True, expression=models.Case(models.When(answer='', then=models.F('fingerprint'))), output_field=models.CharField(max_length=64, null=True)),
        ),
        migrations.AddConstraint(
            model_name='signoff',
            constraint=models.UniqueConstraint(fields=('revision', 'open_mark'), name='sign_off_asked_once'),
        ),
    ]
