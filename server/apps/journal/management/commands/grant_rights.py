"""``manage.py grant_rights``: what the running application may do with each table, and no more.

The account that it runs under changes rows; it makes, alters and drops nothing, so that the triggers
that guard what is issued, ordered, booked and audited stand. What only grows it can only add to.
"""

from typing import Any

from django.core.management.base import BaseCommand
from django.db import connection

ACCOUNT = "'vividroute_app'@'127.0.0.1'"
ONLY_GROW = ("journal_change", "journal_auditline")


class Command(BaseCommand):
    """Run by the account that migrates, after it has."""

    help = "Grant the application's account its rights, table by table"

    def handle(self, *args: Any, **options: Any) -> None:
        """Grant them; tables that are gone lose theirs with themselves."""
        schema = connection.settings_dict["NAME"]
        with connection.cursor() as cursor:
            for table in sorted(connection.introspection.table_names(cursor)):
                if table == "django_migrations":
                    rights = "SELECT"
                elif table in ONLY_GROW:
                    rights = "SELECT, INSERT"
                else:
                    rights = "SELECT, INSERT, UPDATE, DELETE"
                cursor.execute(f"GRANT {rights} ON `{schema}`.`{table}` TO {ACCOUNT}")
