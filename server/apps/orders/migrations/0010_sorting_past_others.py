"""Lists are read in the order of an index that knows whose a record is."""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("customers", "0007_kept_names"),
        ("deals", "0006_sorting_past_others"),
        ("orders", "0009_kept_names"),
        ("quotes", "0016_sorting_past_others"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.RemoveIndex(
            model_name="order",
            name="order_by_accepted_on",
        ),
        migrations.RemoveIndex(
            model_name="order",
            name="order_by_requested_on",
        ),
        migrations.RemoveIndex(
            model_name="order",
            name="order_by_payable",
        ),
        migrations.RemoveIndex(
            model_name="order",
            name="order_by_customer_name",
        ),
        migrations.RemoveIndex(
            model_name="order",
            name="order_by_handover_state",
        ),
        migrations.RemoveIndex(
            model_name="order",
            name="order_by_backoffice_number",
        ),
        migrations.RemoveIndex(
            model_name="order",
            name="order_by_owner_name",
        ),
        migrations.AddIndex(
            model_name="order",
            index=models.Index(fields=["accepted_on", "id", "owner"], name="order_by_accepted_on"),
        ),
        migrations.AddIndex(
            model_name="order",
            index=models.Index(
                fields=["requested_on", "id", "owner"], name="order_by_requested_on"
            ),
        ),
        migrations.AddIndex(
            model_name="order",
            index=models.Index(fields=["payable", "id", "owner"], name="order_by_payable"),
        ),
        migrations.AddIndex(
            model_name="order",
            index=models.Index(
                fields=["customer_name", "id", "owner"], name="order_by_customer_name"
            ),
        ),
        migrations.AddIndex(
            model_name="order",
            index=models.Index(
                fields=["handover_state", "id", "owner"], name="order_by_handover_state"
            ),
        ),
        migrations.AddIndex(
            model_name="order",
            index=models.Index(
                fields=["backoffice_number", "id", "owner"], name="order_by_backoffice_number"
            ),
        ),
        migrations.AddIndex(
            model_name="order",
            index=models.Index(fields=["owner_name", "id", "owner"], name="order_by_owner_name"),
        ),
    ]
