"""When an order is to leave, kept where lists read it."""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0011_told_anew'),
        ('deals', '0008_by_day'),
        ('orders', '0015_cancelled'),
        ('quotes', '0018_parts_of_offers'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.RemoveIndex(
            model_name='order',
            name='order_to_ship',
        ),
        migrations.AddField(
            model_name='order',
            name='leaves_on',
            field=models.DateField(editable=False, null=True),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(fields=['to_ship', 'leaves_on'], name='order_to_ship_by'),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(fields=['handover_state', 'cancelled_at'], name='order_by_handover'),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(fields=['leaves_on', 'id', 'owner'], name='order_by_leaves_on'),
        ),
    ]
