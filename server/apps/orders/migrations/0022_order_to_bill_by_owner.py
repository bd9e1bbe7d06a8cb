"""An index for what is billed, and for what is not billed yet."""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0012_parts_and_priority'),
        ('deals', '0010_pipeline_and_reasons'),
        ('orders', '0021_outlook_due'),
        ('quotes', '0019_chosen_quote'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddIndex(
            model_name='order',
            index=models.Index(fields=['billed', 'owner'], name='order_to_bill_by_owner'),
        ),
    ]
