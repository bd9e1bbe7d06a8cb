"""An index for what is billed, and for what is not billed yet."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0012_parts_and_priority'),
        ('ledger', '0008_how_much_of_a_line'),
        ('orders', '0021_outlook_due'),
    ]

    operations = [
        migrations.AddIndex(
            model_name='invoice',
            index=models.Index(fields=['on'], name='invoice_by_day'),
        ),
    ]
