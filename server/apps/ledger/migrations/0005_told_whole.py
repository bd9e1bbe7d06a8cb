"""Invoices and payments are told whole; credit notes settle invoices."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('ledger', '0004_early_and_parts'),
    ]

    operations = [
        migrations.AddField(
            model_name='allocation',
            name='credit',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name='spent', to='ledger.invoice'),
        ),
        migrations.AddField(
            model_name='invoice',
            name='change',
            field=models.PositiveBigIntegerField(default=0),
        ),
        migrations.AddField(
            model_name='payment',
            name='change',
            field=models.PositiveBigIntegerField(default=0),
        ),
        migrations.AlterField(
            model_name='allocation',
            name='payment',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name='allocations', to='ledger.payment'),
        ),
        migrations.AddConstraint(
            model_name='allocation',
            constraint=models.UniqueConstraint(fields=('credit', 'invoice'), name='allocation_of_credit_once'),
        ),
        migrations.AddConstraint(
            model_name='allocation',
            constraint=models.CheckConstraint(condition=models.Q(('payment__isnull', True), ('credit__isnull', True), _connector='XOR'), name='allocation_of_one'),
        ),
    ]
