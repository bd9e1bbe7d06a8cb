"""What all tests share. Playwright's loop runs in this process, so Django must be told so."""

import os

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

from hypothesis import settings
import pytest

settings.register_profile("house", deadline=None, derandomize=True, max_examples=60)
settings.load_profile("house")


@pytest.fixture(autouse=True, scope="session")
def _flush_frozen_tables() -> None:
    """Tests that commit end by emptying the tables; issued revisions refuse a DELETE."""
    from django.db.backends.mysql.operations import DatabaseOperations

    plain = DatabaseOperations.sql_flush

    def truncate(self, style, tables, *, reset_sequences=False, allow_cascade=False):  # type: ignore[no-untyped-def]
        return plain(self, style, tables, reset_sequences=True, allow_cascade=allow_cascade)

    DatabaseOperations.sql_flush = truncate  # type: ignore[method-assign]
