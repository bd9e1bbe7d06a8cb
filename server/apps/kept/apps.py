"""The kept figures as an application of Django: declarations are found, triggers installed."""

from typing import Any

from django.apps import AppConfig
from django.db.models.signals import post_migrate
from django.utils.module_loading import autodiscover_modules

from apps.kept.figures import install


class KeptConfig(AppConfig):
    """Stands last of the applications: every table is there when it installs its triggers."""

    name = "apps.kept"

    def ready(self) -> None:
        """Find the declarations; after each migration make the triggers."""
        autodiscover_modules("kept")
        post_migrate.connect(_install, sender=self)


def _install(**_: Any) -> None:
    install()
