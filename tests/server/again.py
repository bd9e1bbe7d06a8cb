"""What fixtures make, made once in a process and put back as rows for each test that asks for it.

To make the small world takes some eighty statements and all that the application does for them; to
put its rows back, one for each table. A test that begins with it meets the same rows, keys and all.
"""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import date
import pickle
from typing import Any

from django.db import connection, transaction
from django.utils import timezone

from apps.kept.figures import LATER

Row = tuple[Any, ...]


@dataclass
class Kept:
    """What one step made: its answer, pickled, and the rows that it wrote."""

    answer: bytes
    statements: list[tuple[str, list[Any]]]


class Again:
    """Steps that build on each other, each given what the ones before it made; the first begins with nothing.

    All are made at the first question of a day, and undone; then each is put back where it is asked
    for. What is answered is a copy: a test may change it.
    """

    def __init__(self, **steps: Callable[..., Any]):
        self._steps = steps
        self._kept: dict[str, Kept] = {}
        self._day: date | None = None

    def ready(self) -> None:
        """Make what is not made today, before a test has put anything else in the place of ours."""
        if self._day != timezone.localdate():
            self._make()

    def __call__(self, name: str) -> Any:
        """What a step makes, on the rows of the steps before it."""
        self.ready()
        with transaction.atomic(), _as_they_are(), connection.cursor() as cursor:
            for statement, values in self._kept[name].statements:
                cursor.execute(statement, values)
        return pickle.loads(self._kept[name].answer)

    def _make(self) -> None:
        answers: list[Any] = []
        with transaction.atomic():
            before = _all_rows()
            for name, make in self._steps.items():
                answers.append(make(*answers))
                after = _all_rows()
                statements = [
                    _put(table, [row for row in rows if row not in before[table]])
                    for table, rows in after.items()
                    if rows - before[table]
                ]
                self._kept[name] = Kept(pickle.dumps(answers[-1]), statements)
                before = after
            transaction.set_rollback(True)
        self._day = timezone.localdate()


def _all_rows() -> dict[str, set[Row]]:
    """Every table's: triggers write too."""
    with connection.cursor() as cursor:
        return {table: _rows(table) for table in connection.introspection.table_names(cursor)}


def _columns(table: str) -> list[str]:
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT column_name FROM information_schema.columns WHERE table_schema = DATABASE() "
            "AND table_name = %s AND is_generated = 'NEVER' ORDER BY ordinal_position",
            [table],
        )
        return [f"`{row[0]}`" for row in cursor.fetchall()]


def _rows(table: str) -> set[Row]:
    with connection.cursor() as cursor:
        cursor.execute(f"SELECT {', '.join(_columns(table))} FROM `{table}`")
        return set(cursor.fetchall())


def _put(table: str, rows: list[Row]) -> tuple[str, list[Any]]:
    """One statement that puts rows into a table, or in the place of those of their keys."""
    columns = _columns(table)
    places = f"({', '.join(['%s'] * len(columns))})"
    same = ", ".join(f"{column} = VALUES({column})" for column in columns)
    return (
        f"INSERT INTO `{table}` ({', '.join(columns)}) "
        f"VALUES {', '.join([places] * len(rows))} ON DUPLICATE KEY UPDATE {same}",
        [value for row in rows for value in row],
    )


@contextmanager
def _as_they_are() -> Iterator[None]:
    """Rows may name others that come after them, and hold their kept figures already."""
    with connection.cursor() as cursor:
        cursor.execute(f"SET foreign_key_checks = 0, {LATER} = 1")
        try:
            yield
        finally:
            cursor.execute(f"SET foreign_key_checks = 1, {LATER} = NULL")
