"""The revenue of one person, found without that of a whole house."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0012_parts_and_priority'),
        ('ledger', '0011_whose_invoice'),
        ('orders', '0023_credited'),
    ]

    operations = [
        migrations.AddIndex(
            model_name='invoice',
            index=models.Index(fields=['whose_id', 'on', 'kind', 'took', 'net', 'base_rate'], name='invoice_of_a_person'),
        ),
    ]
