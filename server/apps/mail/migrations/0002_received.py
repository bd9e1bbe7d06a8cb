"""Mailboxes that are read, what came in, and that a mail of ours may come back."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0012_parts_and_priority'),
        ('deals', '0012_teams'),
        ('ledger', '0011_whose_invoice'),
        ('mail', '0001_outbox'),
        ('orders', '0023_credited'),
        ('quotes', '0019_chosen_quote'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Mailbox',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=254, unique=True)),
                ('uid_validity', models.PositiveBigIntegerField(default=0)),
                ('last_uid', models.PositiveBigIntegerField(default=0)),
                ('looked_at', models.DateTimeField(null=True)),
                ('fault', models.CharField(blank=True, max_length=300)),
            ],
        ),
        migrations.CreateModel(
            name='Received',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('mark', models.CharField(max_length=254)),
                ('sender_name', models.CharField(blank=True, max_length=120)),
                ('sender', models.CharField(max_length=254)),
                ('subject', models.CharField(blank=True, max_length=300)),
                ('text', models.TextField(blank=True)),
                ('automatic', models.BooleanField(default=False)),
                ('left_out', models.PositiveIntegerField(default=0)),
                ('written_at', models.DateTimeField()),
                ('received_at', models.DateTimeField()),
            ],
            options={
                'ordering': ['-pk'],
            },
        ),
        migrations.CreateModel(
            name='ReceivedFile',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=120)),
                ('media_type', models.CharField(max_length=80)),
                ('size', models.PositiveIntegerField()),
                ('digest', models.CharField(max_length=64)),
            ],
            options={
                'ordering': ['pk'],
            },
        ),
        migrations.RemoveConstraint(
            model_name='message',
            name='mail_state_known',
        ),
        migrations.AddConstraint(
            model_name='message',
            constraint=models.CheckConstraint(condition=models.Q(('state__in', ('waiting', 'under_way', 'handing', 'sent', 'unknown', 'refused', 'let_go', 'bounced'))), name='mail_state_known'),
        ),
        migrations.AddField(
            model_name='received',
            name='answers',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='answered_by', to='mail.message'),
        ),
        migrations.AddField(
            model_name='received',
            name='contact',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to='customers.contact'),
        ),
        migrations.AddField(
            model_name='received',
            name='customer',
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='received_mails', to='customers.customer'),
        ),
        migrations.AddField(
            model_name='received',
            name='deal',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='received_mails', to='deals.deal'),
        ),
        migrations.AddField(
            model_name='received',
            name='invoice',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to='ledger.invoice'),
        ),
        migrations.AddField(
            model_name='received',
            name='mailbox',
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to='mail.mailbox'),
        ),
        migrations.AddField(
            model_name='received',
            name='order',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to='orders.order'),
        ),
        migrations.AddField(
            model_name='received',
            name='revision',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to='quotes.revision'),
        ),
        migrations.AddField(
            model_name='receivedfile',
            name='received',
            field=models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='files', to='mail.received'),
        ),
        migrations.AddConstraint(
            model_name='received',
            constraint=models.UniqueConstraint(fields=('mailbox', 'mark'), name='each_mail_comes_in_once'),
        ),
    ]
