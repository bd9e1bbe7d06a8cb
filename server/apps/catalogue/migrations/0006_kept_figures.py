"""The order of the price lists' entries, kept where it is read."""
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('catalogue', '0005_words'),
    ]

    operations = [
        migrations.AddField(
            model_name='priceentry',
            name='item_code',
            field=models.CharField(default='', editable=False, max_length=20),
        ),
        migrations.AddField(
            model_name='priceentry',
            name='list_code',
            field=models.CharField(default='', editable=False, max_length=20),
        ),
        migrations.AddIndex(
            model_name='priceentry',
            index=models.Index(fields=['list_code', 'item_code', 'from_quantity', 'valid_from'], name='entry_in_order'),
        ),
    ]
