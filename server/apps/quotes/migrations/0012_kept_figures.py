"""A quote by its newest revision, kept where it is read."""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0005_kept_figures'),
        ('deals', '0003_kept_figures'),
        ('quotes', '0011_versions_and_uniqueness'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='quote',
            name='currency',
            field=models.CharField(default='', editable=False, max_length=3),
        ),
        migrations.AddField(
            model_name='quote',
            name='customer_name',
            field=models.CharField(default='', editable=False, max_length=120),
        ),
        migrations.AddField(
            model_name='quote',
            name='deal_title',
            field=models.CharField(default='', editable=False, max_length=120),
        ),
        migrations.AddField(
            model_name='quote',
            name='issued_at',
            field=models.DateTimeField(editable=False, null=True),
        ),
        migrations.AddField(
            model_name='quote',
            name='letter',
            field=models.CharField(default='', editable=False, max_length=2),
        ),
        migrations.AddField(
            model_name='quote',
            name='net',
            field=models.DecimalField(decimal_places=3, default=0, editable=False, max_digits=18),
        ),
        migrations.AddField(
            model_name='quote',
            name='on',
            field=models.DateField(editable=False, null=True),
        ),
        migrations.AddField(
            model_name='quote',
            name='order_number',
            field=models.CharField(editable=False, max_length=20, null=True),
        ),
        migrations.AddField(
            model_name='quote',
            name='order_pk',
            field=models.BigIntegerField(editable=False, null=True),
        ),
        migrations.AddField(
            model_name='quote',
            name='payable',
            field=models.DecimalField(decimal_places=3, default=0, editable=False, max_digits=18),
        ),
        migrations.AddField(
            model_name='quote',
            name='revision_id',
            field=models.BigIntegerField(editable=False, null=True),
        ),
        migrations.AddField(
            model_name='quote',
            name='valid_until',
            field=models.DateField(editable=False, null=True),
        ),
        migrations.AddIndex(
            model_name='quote',
            index=models.Index(fields=['on'], name='quote_by_on'),
        ),
        migrations.AddIndex(
            model_name='quote',
            index=models.Index(fields=['valid_until'], name='quote_by_valid_until'),
        ),
        migrations.AddIndex(
            model_name='quote',
            index=models.Index(fields=['net'], name='quote_by_net'),
        ),
        migrations.AddIndex(
            model_name='quote',
            index=models.Index(fields=['payable'], name='quote_by_payable'),
        ),
        migrations.AddIndex(
            model_name='quote',
            index=models.Index(fields=['issued_at'], name='quote_by_issued_at'),
        ),
        migrations.AddIndex(
            model_name='quote',
            index=models.Index(fields=['declined_at'], name='quote_by_declined_at'),
        ),
        migrations.AddIndex(
            model_name='quote',
            index=models.Index(fields=['customer_name'], name='quote_by_customer_name'),
        ),
        migrations.AddIndex(
            model_name='quote',
            index=models.Index(fields=['deal_title'], name='quote_by_deal_title'),
        ),
        migrations.AddIndex(
            model_name='quote',
            index=models.Index(fields=['owner', 'on'], name='quote_by_owner_and_day'),
        ),
    ]
