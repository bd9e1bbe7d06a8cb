"""Customers as an application of Django: who tells what they owe, and who takes in what is told, is found at the start."""

from django.apps import AppConfig
from django.utils.module_loading import autodiscover_modules


class CustomersConfig(AppConfig):
    """Finds ``claims.py`` and ``told.py`` of the areas above."""

    name = "apps.customers"

    def ready(self) -> None:
        """Let them name themselves."""
        autodiscover_modules("claims", "told")
