"""What a deal lacks, kept and found by."""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("customers", "0012_parts_and_priority"),
        ("deals", "0012_teams"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name="deal",
            name="lacks",
            field=models.CharField(default="", editable=False, max_length=8),
        ),
        migrations.AddIndex(
            model_name="deal",
            index=models.Index(
                fields=["lacks", "owner", "decision_on", "outcome", "closed_at"],
                name="deal_by_what_it_lacks",
            ),
        ),
    ]
