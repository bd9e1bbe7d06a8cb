"""An offer is ordered in parts: what is left of it, and a day until which it may be ordered late."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('quotes', '0017_line_depots'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='quote',
            name='allowed_by',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL),
        ),
        migrations.AddField(
            model_name='quote',
            name='allowed_reason',
            field=models.CharField(blank=True, max_length=200),
        ),
        migrations.AddField(
            model_name='quote',
            name='allowed_until',
            field=models.DateField(null=True),
        ),
        migrations.AddField(
            model_name='quote',
            name='direct',
            field=models.BooleanField(default=False),
        ),
        migrations.AddField(
            model_name='quote',
            name='late_asked_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name='quote',
            name='late_asked_by',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL),
        ),
        migrations.AddField(
            model_name='quote',
            name='late_reason',
            field=models.CharField(blank=True, max_length=200),
        ),
        migrations.AddField(
            model_name='quote',
            name='lines_left',
            field=models.PositiveIntegerField(default=0, editable=False),
        ),
        migrations.AddField(
            model_name='quote',
            name='rest_closed_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name='quote',
            name='rest_closed_by',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL),
        ),
        migrations.AddField(
            model_name='quote',
            name='rest_reason',
            field=models.CharField(blank=True, max_length=200),
        ),
        migrations.AddIndex(
            model_name='quote',
            index=models.Index(fields=['late_asked_at'], name='quote_asked_late'),
        ),
    ]
