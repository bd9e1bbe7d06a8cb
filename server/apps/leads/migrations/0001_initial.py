"""Leads, and what is noted of them."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

from apps.searching import words_index


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        ('customers', '0012_parts_and_priority'),
        ('deals', '0009_by_end'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Lead',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(blank=True, max_length=80)),
                ('company', models.CharField(blank=True, max_length=120)),
                ('topic', models.CharField(blank=True, max_length=120)),
                ('need', models.CharField(blank=True, max_length=1000)),
                ('email', models.CharField(blank=True, max_length=200)),
                ('phone', models.CharField(blank=True, max_length=40)),
                ('source', models.CharField(blank=True, max_length=12)),
                ('next_step', models.CharField(blank=True, max_length=200)),
                ('next_on', models.DateField(null=True)),
                ('state', models.CharField(default='open', max_length=12)),
                ('reason', models.CharField(blank=True, max_length=200)),
                ('created_at', models.DateTimeField(auto_now_add=True)),
                ('closed_at', models.DateTimeField(null=True)),
                ('version', models.PositiveIntegerField(default=1)),
                ('contact', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='leads', to='customers.contact')),
                ('customer', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='leads', to='customers.customer')),
                ('deal', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='leads', to='deals.deal')),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='leads', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['-pk'],
            },
        ),
        migrations.CreateModel(
            name='LeadNote',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('text', models.CharField(max_length=1000)),
                ('at', models.DateTimeField()),
                ('lead', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='notes', to='leads.lead')),
                ('who', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['-at', '-pk'],
            },
        ),
        migrations.AddIndex(
            model_name='lead',
            index=models.Index(fields=['owner', 'state', 'next_on'], name='lead_of_owner'),
        ),
        migrations.AddIndex(
            model_name='lead',
            index=models.Index(fields=['state', 'owner', 'id'], name='lead_by_state'),
        ),
        migrations.AddIndex(
            model_name='lead',
            index=models.Index(fields=['email'], name='lead_by_mail'),
        ),
        migrations.AddIndex(
            model_name='lead',
            index=models.Index(fields=['next_on', 'id', 'owner'], name='lead_by_next'),
        ),
        migrations.AddIndex(
            model_name='lead',
            index=models.Index(fields=['company', 'id', 'owner'], name='lead_by_company'),
        ),
        migrations.AddConstraint(
            model_name='lead',
            constraint=models.CheckConstraint(condition=models.Q(('state__in', ('open', 'qualified', 'disqualified'))), name='lead_state_known'),
        ),
        migrations.AddConstraint(
            model_name='lead',
            constraint=models.CheckConstraint(condition=models.Q(('source__in', ('', 'fair', 'recommended', 'called', 'mail', 'website', 'visit', 'other'))), name='lead_source_known'),
        ),
        migrations.AddConstraint(
            model_name='lead',
            constraint=models.CheckConstraint(condition=models.Q(models.Q(('name', ''), _negated=True), models.Q(('company', ''), _negated=True), _connector='OR'), name='lead_is_somebody'),
        ),
        migrations.AddConstraint(
            model_name='lead',
            constraint=models.CheckConstraint(condition=models.Q(('deal__isnull', True), ('customer__isnull', False), _connector='OR'), name='lead_deal_has_a_customer'),
        ),
        words_index("leads_lead", "lead_words", "company, name, topic"),
    ]
