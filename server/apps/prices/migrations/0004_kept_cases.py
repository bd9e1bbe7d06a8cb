"""Kept cases come here from the quotes, with their table."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("quotes", "0015_papers_and_cases_move_out"),
        ("prices", "0003_versions_and_uniqueness"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name="KeptCase",
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
                        ("name", models.CharField(max_length=120)),
                        ("customer", models.CharField(max_length=120)),
                        ("on", models.DateField()),
                        ("currency", models.CharField(max_length=3)),
                        ("case", models.JSONField()),
                        ("kept_at", models.DateTimeField(auto_now_add=True)),
                        ("version", models.PositiveIntegerField(default=1)),
                        (
                            "kept_by",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.PROTECT,
                                related_name="+",
                                to=settings.AUTH_USER_MODEL,
                            ),
                        ),
                    ],
                    options={
                        "ordering": ["name", "pk"],
                    },
                ),
            ]
        ),
    ]
