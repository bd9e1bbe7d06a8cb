"""What all tests share. Playwright's loop runs in this process, so Django must be told so."""

from collections.abc import Iterator
import os

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

from hypothesis import settings
import pytest
from pytest_django.plugin import DjangoDbBlocker
from xdist.remote import Producer
from xdist.scheduler import LoadScopeScheduling
from xdist.scheduler.protocol import Scheduling

settings.register_profile("house", deadline=None, derandomize=True, max_examples=60)
settings.load_profile("house")


def turn_to(schema: str) -> None:
    """What is asked from now on, is asked of this schema."""
    from django.db import connection

    connection.close()
    connection.settings_dict["NAME"] = schema


@pytest.fixture(scope="session")
def django_db_setup(
    django_test_environment: None,
    django_db_modify_db_settings: None,
    django_db_blocker: DjangoDbBlocker,
) -> Iterator[None]:
    """The tests' tables: a copy, where Django would migrate anew in each process."""
    from django.db import connection

    from ops import prepared

    own, schema = connection.settings_dict["NAME"], connection.creation._get_test_db_name()
    prepared.tables_into(schema)
    with django_db_blocker.unblock():
        turn_to(schema)
        yield
        with connection.cursor() as cursor:
            cursor.execute(f"DROP DATABASE `{schema}`")
        turn_to(own)


class _BrowserInOne(LoadScopeScheduling):
    """Every test goes where there is room, but the browser's, which share one application."""

    def _split_scope(self, nodeid: str) -> str:
        return "browser" if nodeid.startswith("tests/browser/") else nodeid


def pytest_xdist_make_scheduler(config: pytest.Config, log: Producer) -> Scheduling:
    """Asked for with ``-n 3``."""
    return _BrowserInOne(config, log)


@pytest.fixture(autouse=True, scope="session")
def _flush_frozen_tables() -> None:
    """Tests that commit end by emptying the tables; issued revisions refuse a DELETE."""
    from django.db.backends.mysql.operations import DatabaseOperations

    plain = DatabaseOperations.sql_flush

    def truncate(self, style, tables, *, reset_sequences=False, allow_cascade=False):  # type: ignore[no-untyped-def]
        return plain(self, style, tables, reset_sequences=True, allow_cascade=allow_cascade)

    DatabaseOperations.sql_flush = truncate  # type: ignore[method-assign]
