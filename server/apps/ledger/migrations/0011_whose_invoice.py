"""Whose an invoice is, what its customer is called, how long it took: kept, and found by."""

from django.db import migrations, models

from apps.searching import words_index


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0012_parts_and_priority'),
        ('ledger', '0010_credited'),
        ('orders', '0023_credited'),
    ]

    operations = [
        migrations.RemoveIndex(
            model_name='invoice',
            name='invoice_by_day',
        ),
        migrations.AddField(
            model_name='invoice',
            name='customer_name',
            field=models.CharField(default='', editable=False, max_length=120),
        ),
        migrations.AddField(
            model_name='invoice',
            name='took',
            field=models.IntegerField(editable=False, null=True),
        ),
        migrations.AddField(
            model_name='invoice',
            name='whose_id',
            field=models.PositiveBigIntegerField(default=0, editable=False),
        ),
        migrations.AddIndex(
            model_name='invoice',
            index=models.Index(fields=['on', 'whose_id', 'kind', 'took', 'net', 'base_rate'], name='invoice_for_the_revenue'),
        ),
        migrations.AddIndex(
            model_name='invoice',
            index=models.Index(fields=['on', 'id', 'whose_id'], name='invoice_by_day'),
        ),
        migrations.AddIndex(
            model_name='invoice',
            index=models.Index(fields=['due_on', 'id', 'whose_id'], name='invoice_by_due'),
        ),
        migrations.AddIndex(
            model_name='invoice',
            index=models.Index(fields=['customer_name', 'id', 'whose_id'], name='invoice_by_customer'),
        ),
        migrations.AddIndex(
            model_name='invoice',
            index=models.Index(fields=['open_amount', 'id', 'whose_id'], name='invoice_by_open'),
        ),
        migrations.AddIndex(
            model_name='invoice',
            index=models.Index(fields=['number', 'id', 'whose_id'], name='invoice_by_number'),
        ),
        words_index("ledger_invoice", "invoice_words", "number, customer_name"),
    ]
