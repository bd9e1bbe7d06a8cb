"""How far an order has come, kept where it is read."""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0005_kept_figures'),
        ('deals', '0003_kept_figures'),
        ('ledger', '0003_kept_figures'),
        ('orders', '0006_further_terms'),
        ('quotes', '0012_kept_figures'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='order',
            name='backoffice_number',
            field=models.CharField(default='', editable=False, max_length=30),
        ),
        migrations.AddField(
            model_name='order',
            name='invoiced',
            field=models.DecimalField(decimal_places=3, default=0, editable=False, max_digits=18),
        ),
        migrations.AddField(
            model_name='order',
            name='customer_name',
            field=models.CharField(default='', editable=False, max_length=120),
        ),
        migrations.AddField(
            model_name='order',
            name='goods_quantity',
            field=models.DecimalField(decimal_places=6, default=0, editable=False, max_digits=18),
        ),
        migrations.AddField(
            model_name='order',
            name='handover_state',
            field=models.CharField(default='', editable=False, max_length=10),
        ),
        migrations.AddField(
            model_name='order',
            name='settled',
            field=models.DecimalField(decimal_places=3, default=0, editable=False, max_digits=18),
        ),
        migrations.AddField(
            model_name='order',
            name='shipped_quantity',
            field=models.DecimalField(decimal_places=6, default=0, editable=False, max_digits=18),
        ),
        migrations.AddField(
            model_name='order',
            name='billed',
            field=models.GeneratedField(db_persist=True, expression=models.Case(models.When(models.Q(('invoiced__gte', models.F('payable'))), then=True), default=False), output_field=models.BooleanField()),
        ),
        migrations.AddField(
            model_name='order',
            name='paid',
            field=models.GeneratedField(db_persist=True, expression=models.Case(models.When(models.Q(('settled__gt', 0), ('settled__gte', models.F('payable'))), then=True), default=False), output_field=models.BooleanField()),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(fields=['customer', 'billed'], name='order_to_bill'),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(fields=['paid', 'accepted_on'], name='order_by_paid_and_accepted_on'),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(fields=['paid', 'owner'], name='order_by_paid_and_owner'),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(fields=['accepted_on'], name='order_by_accepted_on'),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(fields=['requested_on'], name='order_by_requested_on'),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(fields=['payable'], name='order_by_payable'),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(fields=['customer_name'], name='order_by_customer_name'),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(fields=['handover_state'], name='order_by_handover_state'),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(fields=['backoffice_number'], name='order_by_backoffice_number'),
        ),
    ]
