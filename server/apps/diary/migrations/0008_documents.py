"""What is noted at a quote, an order, an invoice; what waits for a quote's answer."""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0012_parts_and_priority'),
        ('deals', '0012_teams'),
        ('diary', '0007_invited'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.RemoveIndex(
            model_name='activity',
            name='diary_activ_documen_8434b0_idx',
        ),
        migrations.AddField(
            model_name='activity',
            name='about',
            field=models.CharField(blank=True, max_length=8),
        ),
        migrations.AddField(
            model_name='activity',
            name='asks',
            field=models.BooleanField(default=False),
        ),
        migrations.AddField(
            model_name='activity',
            name='record',
            field=models.PositiveBigIntegerField(null=True),
        ),
        migrations.AlterField(
            model_name='activity',
            name='document',
            field=models.CharField(blank=True, max_length=30),
        ),
        migrations.AddIndex(
            model_name='activity',
            index=models.Index(fields=['record', 'about'], name='diary_of_document'),
        ),
        migrations.AddConstraint(
            model_name='activity',
            constraint=models.CheckConstraint(condition=models.Q(('about__in', ('', 'quote', 'order', 'invoice'))), name='activity_about_known'),
        ),
        migrations.AddConstraint(
            model_name='activity',
            constraint=models.CheckConstraint(condition=models.Q(('about', ''), ('record__isnull', False), _connector='OR'), name='document_has_its_key'),
        ),
    ]
