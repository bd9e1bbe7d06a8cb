"""The audit: who came in, was refused, took data out. It only grows."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

from apps.triggers import refuse

MESSAGE = "The audit only grows"


class Migration(migrations.Migration):

    dependencies = [
        ('journal', '0004_longer_field'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='AuditLine',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('what', models.CharField(max_length=20)),
                ('name', models.CharField(blank=True, max_length=150)),
                ('address', models.CharField(blank=True, max_length=45)),
                ('detail', models.CharField(blank=True, max_length=300)),
                ('who', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'indexes': [models.Index(fields=['what', 'name', 'at'], name='journal_aud_what_10a353_idx'), models.Index(fields=['what', 'address', 'at'], name='journal_aud_what_4e753f_idx')],
            },
        ),
        refuse("journal_auditline", "UPDATE", "TRUE", MESSAGE),
        refuse("journal_auditline", "DELETE", "TRUE", MESSAGE),
    ]
