"""Mail that leaves the house, its words and signatures."""

import django.db.models.deletion
import uuid
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        ('customers', '0012_parts_and_priority'),
        ('deals', '0012_teams'),
        ('ledger', '0010_credited'),
        ('orders', '0023_credited'),
        ('quotes', '0019_chosen_quote'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Message',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('key', models.UUIDField(default=uuid.uuid4, editable=False, unique=True)),
                ('message_id', models.CharField(max_length=120, unique=True)),
                ('sender_name', models.CharField(max_length=120)),
                ('sender', models.CharField(max_length=254)),
                ('reply_to', models.CharField(blank=True, max_length=254)),
                ('to', models.JSONField()),
                ('copies', models.JSONField(default=list)),
                ('hidden_copy', models.CharField(blank=True, max_length=254)),
                ('subject', models.CharField(max_length=200)),
                ('body', models.TextField()),
                ('state', models.CharField(default='waiting', max_length=10)),
                ('tries', models.PositiveIntegerField(default=0)),
                ('next_try_at', models.DateTimeField()),
                ('leased_until', models.DateTimeField(null=True)),
                ('said', models.CharField(blank=True, max_length=300)),
                ('created_at', models.DateTimeField(auto_now_add=True)),
                ('sent_at', models.DateTimeField(null=True)),
                ('version', models.PositiveIntegerField(default=1)),
                ('contact', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='mails', to='customers.contact')),
                ('customer', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='mails', to='customers.customer')),
                ('deal', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='mails', to='deals.deal')),
                ('invoice', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='mails', to='ledger.invoice')),
                ('order', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='mails', to='orders.order')),
                ('revision', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='mails', to='quotes.revision')),
                ('settled_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('who', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['-pk'],
            },
        ),
        migrations.CreateModel(
            name='Attachment',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=120)),
                ('media_type', models.CharField(max_length=80)),
                ('size', models.PositiveIntegerField()),
                ('digest', models.CharField(max_length=64)),
                ('message', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='attachments', to='mail.message')),
            ],
            options={
                'ordering': ['pk'],
            },
        ),
        migrations.CreateModel(
            name='Signature',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('text', models.CharField(blank=True, max_length=1000)),
                ('person', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name='signature', to=settings.AUTH_USER_MODEL)),
            ],
        ),
        migrations.CreateModel(
            name='Wording',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('kind', models.CharField(max_length=12)),
                ('language', models.CharField(max_length=2)),
                ('subject', models.CharField(blank=True, max_length=200)),
                ('body', models.TextField(blank=True)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('owner', models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name='wordings', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['-pk'],
            },
        ),
        migrations.AddIndex(
            model_name='message',
            index=models.Index(fields=['state', 'next_try_at'], name='mail_to_send'),
        ),
        migrations.AddIndex(
            model_name='message',
            index=models.Index(fields=['who', 'state'], name='mail_stuck'),
        ),
        migrations.AddConstraint(
            model_name='message',
            constraint=models.CheckConstraint(condition=models.Q(('state__in', ('waiting', 'under_way', 'handing', 'sent', 'unknown', 'refused', 'let_go'))), name='mail_state_known'),
        ),
        migrations.AddIndex(
            model_name='wording',
            index=models.Index(fields=['kind', 'language', 'owner'], name='wording_by_kind'),
        ),
    ]
