"""Lists are read in the order of an index that knows whose a record is."""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("customers", "0007_kept_names"),
        ("deals", "0005_kept_names"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.RemoveIndex(
            model_name="deal",
            name="deal_by_decision_on",
        ),
        migrations.RemoveIndex(
            model_name="deal",
            name="deal_by_amount",
        ),
        migrations.RemoveIndex(
            model_name="deal",
            name="deal_by_customer_name",
        ),
        migrations.RemoveIndex(
            model_name="deal",
            name="deal_by_title",
        ),
        migrations.RemoveIndex(
            model_name="deal",
            name="deal_by_owner_name",
        ),
        migrations.RemoveIndex(
            model_name="deal",
            name="deal_by_stage_position",
        ),
        migrations.RemoveIndex(
            model_name="deal",
            name="deal_by_probability",
        ),
        migrations.AddIndex(
            model_name="deal",
            index=models.Index(fields=["decision_on", "id", "owner"], name="deal_by_decision_on"),
        ),
        migrations.AddIndex(
            model_name="deal",
            index=models.Index(fields=["amount", "id", "owner"], name="deal_by_amount"),
        ),
        migrations.AddIndex(
            model_name="deal",
            index=models.Index(
                fields=["customer_name", "id", "owner"], name="deal_by_customer_name"
            ),
        ),
        migrations.AddIndex(
            model_name="deal",
            index=models.Index(fields=["title", "id", "owner"], name="deal_by_title"),
        ),
        migrations.AddIndex(
            model_name="deal",
            index=models.Index(fields=["owner_name", "id", "owner"], name="deal_by_owner_name"),
        ),
        migrations.AddIndex(
            model_name="deal",
            index=models.Index(
                fields=["stage_position", "id", "owner"], name="deal_by_stage_position"
            ),
        ),
        migrations.AddIndex(
            model_name="deal",
            index=models.Index(fields=["probability", "id", "owner"], name="deal_by_probability"),
        ),
    ]
