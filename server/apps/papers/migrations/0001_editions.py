"""Templates come here from the quotes, with their table."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("quotes", "0015_papers_and_cases_move_out"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name="TemplateEdition",
                    fields=[
                        (
                            "id",
                            models.BigAutoField(
                                auto_created=True,
                                primary_key=True,
                                serialize=False,
                                verbose_name="ID",
                            ),
                        ),
                        ("paper", models.CharField(max_length=8)),
                        ("number", models.PositiveIntegerField()),
                        ("look", models.JSONField()),
                        ("wording", models.JSONField(default=dict)),
                        ("source", models.TextField(blank=True)),
                        ("remark", models.CharField(blank=True, max_length=200)),
                        ("saved_at", models.DateTimeField(auto_now_add=True)),
                        (
                            "saved_by",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.PROTECT,
                                related_name="+",
                                to=settings.AUTH_USER_MODEL,
                            ),
                        ),
                    ],
                    options={
                        "ordering": ["paper", "-number"],
                        "constraints": [
                            models.UniqueConstraint(
                                fields=("paper", "number"), name="template_edition_once"
                            ),
                            models.CheckConstraint(
                                condition=models.Q(("paper__in", ("short", "detailed"))),
                                name="template_paper_known",
                            ),
                        ],
                    },
                ),
            ]
        ),
    ]
