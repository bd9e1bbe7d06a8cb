"""A quote's address for its buyer, and what the buyer said there."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        ('orders', '0017_less_of_a_line'),
        ('quotes', '0018_parts_of_offers'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='BuyerLink',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('token_hash', models.CharField(max_length=64, unique=True)),
                ('quantities', models.BooleanField(default=False)),
                ('made_at', models.DateTimeField()),
                ('revoked_at', models.DateTimeField(null=True)),
                ('opened', models.PositiveIntegerField(default=0)),
                ('opened_first', models.DateTimeField(null=True)),
                ('opened_last', models.DateTimeField(null=True)),
                ('live_revision', models.GeneratedField(db_persist=True, expression=models.Case(models.When(revoked_at=None, then=models.F('revision'))), output_field=models.BigIntegerField(null=True))),
                ('made_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('revision', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='links', to='quotes.revision')),
            ],
        ),
        migrations.CreateModel(
            name='BuyerAnswer',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('kind', models.CharField(max_length=7)),
                ('name', models.CharField(max_length=80)),
                ('reference', models.CharField(blank=True, max_length=60)),
                ('words', models.CharField(blank=True, max_length=1000)),
                ('lines', models.JSONField(default=list)),
                ('mark', models.CharField(blank=True, max_length=64)),
                ('payable', models.DecimalField(decimal_places=3, max_digits=18, null=True)),
                ('at', models.DateTimeField()),
                ('address', models.CharField(max_length=45)),
                ('state', models.CharField(default='new', max_length=8)),
                ('decided_at', models.DateTimeField(null=True)),
                ('reply', models.CharField(blank=True, max_length=500)),
                ('open_link', models.GeneratedField(db_persist=True, expression=models.Case(models.When(kind='accepts', state='new', then=models.F('link'))), output_field=models.BigIntegerField(null=True))),
                ('decided_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('order', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to='orders.order')),
                ('link', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='answers', to='buyers.buyerlink')),
            ],
        ),
        migrations.AddConstraint(
            model_name='buyerlink',
            constraint=models.UniqueConstraint(fields=('live_revision',), name='buyer_link_one_lives'),
        ),
        migrations.AddIndex(
            model_name='buyeranswer',
            index=models.Index(fields=['state'], name='buyer_answer_new'),
        ),
        migrations.AddConstraint(
            model_name='buyeranswer',
            constraint=models.CheckConstraint(condition=models.Q(('kind__in', ('accepts', 'asks'))), name='buyer_answer_kind_known'),
        ),
        migrations.AddConstraint(
            model_name='buyeranswer',
            constraint=models.CheckConstraint(condition=models.Q(('state__in', ('new', 'taken', 'declined'))), name='buyer_answer_state_known'),
        ),
        migrations.AddConstraint(
            model_name='buyeranswer',
            constraint=models.UniqueConstraint(fields=('open_link',), name='buyer_accepts_once'),
        ),
    ]
