"""``manage.py make_ready``: from any state of the database to one that the application runs on.

One process for all its steps: to load the application takes longer than most of them.
"""

from pathlib import Path
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser


class Command(BaseCommand):
    """Run by the account that migrates, before the parts start; what is done already stays."""

    help = "Migrate, grant rights, load the demo where it is wanted, collect the browser's files"

    def add_arguments(self, parser: CommandParser) -> None:
        """``--demo-books``."""
        parser.add_argument("--demo-books", type=Path, help="load the demo; its books go here")

    def handle(self, *args: Any, **options: Any) -> None:
        """In this order: tables, rights, rows, files."""
        call_command("migrate", interactive=False, verbosity=0, skip_checks=True)
        call_command("grant_rights")
        call_command("clearsessions")
        if options["demo_books"]:
            call_command("load_demo", if_empty=True, books=options["demo_books"])
        call_command("collectstatic", interactive=False, verbosity=0)
