"""An order can be cancelled: then it is neither to ship, nor to bill, nor to pay."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('orders', '0014_parts_of_offers'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='order',
            name='cancel_reason',
            field=models.CharField(blank=True, max_length=200),
        ),
        migrations.AddField(
            model_name='order',
            name='cancelled_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name='order',
            name='cancelled_by',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL),
        ),
        migrations.RemoveIndex(model_name='order', name='order_to_bill'),
        migrations.RemoveIndex(model_name='order', name='order_to_ship'),
        migrations.RemoveIndex(model_name='order', name='order_by_paid_and_accepted_on'),
        migrations.RemoveIndex(model_name='order', name='order_by_paid_and_owner'),
        migrations.RemoveField(model_name='order', name='billed'),
        migrations.AddField(
            model_name='order',
            name='billed',
            field=models.GeneratedField(db_persist=True, expression=models.Case(models.When(models.Q(('cancelled_at__isnull', False)), then=True), models.When(models.Q(('invoiced__gte', models.F('payable'))), then=True), default=False), output_field=models.BooleanField()),
        ),
        migrations.RemoveField(model_name='order', name='paid'),
        migrations.AddField(
            model_name='order',
            name='paid',
            field=models.GeneratedField(db_persist=True, expression=models.Case(models.When(models.Q(('cancelled_at__isnull', False)), then=True), models.When(models.Q(('settled__gt', 0), ('settled__gte', models.F('payable'))), then=True), default=False), output_field=models.BooleanField()),
        ),
        migrations.RemoveField(model_name='order', name='to_ship'),
        migrations.AddField(
            model_name='order',
            name='to_ship',
            field=models.GeneratedField(db_persist=True, expression=models.Case(models.When(models.Q(('cancelled_at__isnull', False)), then=False), models.When(models.Q(('shipped_quantity__lt', models.F('goods_quantity'))), then=True), default=False), output_field=models.BooleanField()),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(fields=['customer', 'billed'], name='order_to_bill'),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(fields=['to_ship'], name='order_to_ship'),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(fields=['paid', 'accepted_on'], name='order_by_paid_and_accepted_on'),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(fields=['paid', 'owner'], name='order_by_paid_and_owner'),
        ),
    ]
