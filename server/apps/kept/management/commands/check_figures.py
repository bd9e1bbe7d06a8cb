"""``manage.py check_figures``: prove that kept figures equal what follows from the rows."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from apps.kept.figures import DECLARED, mend_figures, wrong_figures


class Command(BaseCommand):
    """Names what is wrong, and with ``--mend`` sets all figures anew."""

    help = "Prove that kept figures equal what follows from the rows"

    def add_arguments(self, parser: CommandParser) -> None:
        """``--mend``."""
        parser.add_argument("--mend", action="store_true", help="set all figures anew")

    def handle(self, *args: Any, **options: Any) -> None:
        """Check; ends with an error where a figure is wrong."""
        found = wrong_figures()
        for table, keys in found.items():
            self.stdout.write(f"{table}: wrong in {', '.join(map(str, keys))} …")
        if options["mend"]:
            mend_figures()
            self.stdout.write("All figures are set anew.")
        elif found:
            raise CommandError("Some figures are wrong; --mend sets them anew.")
        else:
            figures = sum(len(kept.figures) for kept in DECLARED)
            self.stdout.write(f"{figures} figures of {len(DECLARED)} tables equal their rows.")
