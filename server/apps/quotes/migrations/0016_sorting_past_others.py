"""Lists are read in the order of an index that knows whose a record is."""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("customers", "0007_kept_names"),
        ("deals", "0006_sorting_past_others"),
        ("quotes", "0015_papers_and_cases_move_out"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.RemoveIndex(
            model_name="quote",
            name="quote_by_on",
        ),
        migrations.RemoveIndex(
            model_name="quote",
            name="quote_by_valid_until",
        ),
        migrations.RemoveIndex(
            model_name="quote",
            name="quote_by_net",
        ),
        migrations.RemoveIndex(
            model_name="quote",
            name="quote_by_payable",
        ),
        migrations.RemoveIndex(
            model_name="quote",
            name="quote_by_issued_at",
        ),
        migrations.RemoveIndex(
            model_name="quote",
            name="quote_by_declined_at",
        ),
        migrations.RemoveIndex(
            model_name="quote",
            name="quote_by_customer_name",
        ),
        migrations.RemoveIndex(
            model_name="quote",
            name="quote_by_deal_title",
        ),
        migrations.RemoveIndex(
            model_name="quote",
            name="quote_by_owner_name",
        ),
        migrations.AddIndex(
            model_name="quote",
            index=models.Index(fields=["on", "id", "owner"], name="quote_by_on"),
        ),
        migrations.AddIndex(
            model_name="quote",
            index=models.Index(fields=["valid_until", "id", "owner"], name="quote_by_valid_until"),
        ),
        migrations.AddIndex(
            model_name="quote",
            index=models.Index(fields=["net", "id", "owner"], name="quote_by_net"),
        ),
        migrations.AddIndex(
            model_name="quote",
            index=models.Index(fields=["payable", "id", "owner"], name="quote_by_payable"),
        ),
        migrations.AddIndex(
            model_name="quote",
            index=models.Index(fields=["issued_at", "id", "owner"], name="quote_by_issued_at"),
        ),
        migrations.AddIndex(
            model_name="quote",
            index=models.Index(fields=["declined_at", "id", "owner"], name="quote_by_declined_at"),
        ),
        migrations.AddIndex(
            model_name="quote",
            index=models.Index(
                fields=["customer_name", "id", "owner"], name="quote_by_customer_name"
            ),
        ),
        migrations.AddIndex(
            model_name="quote",
            index=models.Index(fields=["deal_title", "id", "owner"], name="quote_by_deal_title"),
        ),
        migrations.AddIndex(
            model_name="quote",
            index=models.Index(fields=["owner_name", "id", "owner"], name="quote_by_owner_name"),
        ),
        migrations.AddIndex(
            model_name="quote",
            index=models.Index(
                fields=["owner", "order_number", "declined_at", "issued_at", "valid_until"],
                name="quote_by_owner_and_state",
            ),
        ),
    ]
