"""Somebody unknown who wrote, until a person says who they are."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0012_parts_and_priority'),
        ('leads', '0001_initial'),
        ('mail', '0003_answered'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Stranger',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('mark', models.CharField(max_length=64)),
                ('name', models.CharField(blank=True, max_length=120)),
                ('address', models.CharField(blank=True, max_length=254)),
                ('subject', models.CharField(blank=True, max_length=300)),
                ('uid_validity', models.PositiveBigIntegerField()),
                ('uids', models.JSONField(default=list)),
                ('wrote_at', models.DateTimeField()),
                ('state', models.CharField(default='offered', max_length=10)),
                ('version', models.PositiveIntegerField(default=1)),
                ('customer', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to='customers.customer')),
                ('lead', models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name='+', to='leads.lead')),
                ('mailbox', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to='mail.mailbox')),
                ('who', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['-wrote_at', '-pk'],
                'indexes': [models.Index(fields=['state', 'wrote_at'], name='stranger_state')],
                'constraints': [models.CheckConstraint(condition=models.Q(('state__in', ('offered', 'contact', 'lead', 'let_go'))), name='stranger_state_known'), models.UniqueConstraint(fields=('mailbox', 'mark'), name='stranger_stands_once')],
            },
        ),
    ]
