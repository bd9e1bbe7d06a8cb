"""``manage.py load_demo``: the demo data, once, relative to today."""

from pathlib import Path
from random import Random
from typing import Any

from django.core.management.base import BaseCommand, CommandParser
from django.db import connection, transaction
from django.utils import timezone

from apps.calloffs.days import renew as renew_agreements
from apps.numbering.models import Series
from apps.people.models import User
from apps.regulars.days import renew
from demo.ahead import make_ahead
from demo.answers import make_answers
from demo.books import write_books
from demo.catalogue import make_catalogue
from demo.customers import make_customers
from demo.deals import make_deals, make_stages
from demo.earlier import make_earlier
from demo.history import make_history
from demo.leads import make_leads
from demo.mails import make_mails
from demo.people import PASSWORD, PEOPLE, make_people
from demo.prices import make_agreements, make_prices
from demo.targets import make_targets

SEED = 20261


class Command(BaseCommand):
    """Loads the demo data into an empty database; with ``--reset`` empties it first."""

    help = "Load the demo data"

    def add_arguments(self, parser: CommandParser) -> None:
        """``--reset``, ``--if-empty``, ``--books``."""
        parser.add_argument("--reset", action="store_true", help="empty the database first")
        parser.add_argument("--if-empty", action="store_true", help="do nothing if there is data")
        parser.add_argument("--books", type=Path, help="a file for the books of the back office")

    def handle(self, *args: Any, **options: Any) -> None:
        """Load, and say who can sign in."""
        if options["reset"]:
            empty_database()
        if User.objects.exists():
            if not options["if_empty"]:
                self.stderr.write("The database has data already; use --reset to start again.")
            return
        with transaction.atomic():
            today, now = timezone.localdate(), timezone.now()
            people = make_people()
            make_catalogue(today)
            Series.objects.create(name="C", last=1100)
            customers = make_customers(people)
            make_prices(customers, today)
            make_stages()
            make_history(customers, today, Random(SEED))
            make_agreements(customers, today)
            make_ahead(customers, today)
            make_deals(customers, today, now)
            make_answers(today, now)
            make_leads(today, now)
            make_mails(now)
            make_targets(today)
            make_earlier(today, now, SEED)
            while renew(today) + renew_agreements(today):
                pass
        if options["books"]:
            write_books(options["books"])
        names = ", ".join(f"{row[0]} ({row[3]})" for row in PEOPLE)
        self.stdout.write(f"Demo data loaded. Sign in as {names}; password {PASSWORD}.")


def empty_database() -> None:
    """Empty every table of the application, frozen ones too; the tables stay."""
    with connection.cursor() as cursor:
        cursor.execute("SET FOREIGN_KEY_CHECKS = 0")
        for table in connection.introspection.table_names(cursor):
            if table not in ("django_migrations", "django_content_type", "auth_permission"):
                cursor.execute(f"TRUNCATE TABLE `{table}`")
        cursor.execute("SET FOREIGN_KEY_CHECKS = 1")
