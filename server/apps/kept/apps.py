"""The kept figures as an application of Django: declarations are found, triggers installed."""

from typing import Any

from django.apps import AppConfig
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.db.models.signals import post_migrate, pre_migrate
from django.utils.module_loading import autodiscover_modules

from apps.kept.figures import install, uninstall


class KeptConfig(AppConfig):
    """Stands last of the applications: every table is there when it installs its triggers."""

    name = "apps.kept"

    def ready(self) -> None:
        """Find the declarations; take the triggers away while tables change, and make them after it."""
        autodiscover_modules("kept")
        pre_migrate.connect(_uninstall, sender=self)
        post_migrate.connect(_install, sender=self)


def _uninstall(plan: list[Any], **_: Any) -> None:
    if plan:
        uninstall()


def _install(**_: Any) -> None:
    """Not where tables have yet to become what the declarations speak of: after a way back, or half of one."""
    graph = MigrationExecutor(connection)
    if not graph.migration_plan(graph.loader.graph.leaf_nodes()):
        install()
