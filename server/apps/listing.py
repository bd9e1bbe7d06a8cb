"""Long lists: in the order that a person chose, a page at a time, summed in the database.

What a list costs does not grow with what is behind it. Rows are counted and summed up to ``MOST``;
beyond it a list says "more than so many", has no sums, and ends there: whoever looks further narrows
it. A file goes on to ``LONGEST_FILE``. Of a page the keys are read first, then the rows of those keys
alone.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal
from typing import TypeVar

from django.core.exceptions import EmptyResultSet
from django.db import connection
from django.db.models import F, Model, OrderBy, QuerySet

Row = TypeVar("Row", bound=Model)
MOST = 2_000
LONGEST_FILE = 10_000
PAGE_SIZE = 50
BATCH = 500


def in_order(
    rows: "QuerySet[Row]", sort: str, keys: Mapping[str, str], default: str
) -> "QuerySet[Row]":
    """By one of ``keys`` (what people ask for, to the column), ``-`` before it for the reverse.

    A key that is none falls back to ``default``; empty values come last; the id settles ties.
    """
    chosen = sort if sort.removeprefix("-") in keys else default
    name = keys[chosen.removeprefix("-")]
    if name in _unique(rows):
        return rows.order_by(f"-{name}" if chosen.startswith("-") else name)
    if chosen.startswith("-"):
        return rows.order_by(f"-{name}", "-pk")  # empty values are the least: last of all
    return rows.order_by(_rising(rows, name), "pk")


def _unique(rows: "QuerySet[Row]") -> set[str]:
    return {field.name for field in rows.model._meta.fields if field.unique}


def _rising(rows: "QuerySet[Row]", name: str) -> str | OrderBy:
    """The column itself where nothing can be empty: an index is in that order."""
    step, model = name.split("__"), rows.model
    if name in rows.query.annotations:
        return F(name).asc(nulls_last=True)
    if len(step) == 1 and not model._meta.get_field(name).null:
        return name
    return F(name).asc(nulls_last=True)


@dataclass(frozen=True, slots=True)
class Tally:
    """How many rows a list has, and what they add up to by currency.

    Where there are ``more`` than ``MOST``, ``count`` is ``MOST`` and nothing is summed.
    """

    count: int
    more: bool = False
    sums: dict[str, Decimal] = field(default_factory=dict)


def tally(rows: "QuerySet[Row]", by: str = "", summed: str = "") -> Tally:
    """Count the rows, and add up a column by another. One query."""
    columns = [name for name in (by, summed) if name] or ["pk"]
    inner = rows.order_by().values_list(*columns)[: MOST + 1]
    try:
        statement, values = inner.query.sql_with_params()
    except EmptyResultSet:
        return Tally(0)
    if not by:
        statement = f"SELECT '', COUNT(*), 0 FROM ({statement}) AS t"  # noqa: S608 - values are bound
    else:
        names = by, summed
        statement = (
            f"SELECT t.{names[0]}, COUNT(*), SUM(t.{names[1]}) FROM ({statement}) AS t "  # noqa: S608
            f"GROUP BY t.{names[0]}"
        )
    with connection.cursor() as cursor:
        cursor.execute(statement, values)
        found = cursor.fetchall()
    count = sum(int(many) for _, many, _ in found)
    if count > MOST:
        return Tally(MOST, more=True)
    return Tally(count, sums={name: total for name, _, total in found} if by else {})


@dataclass(frozen=True, slots=True)
class Span:
    """Which part of a list a page is; a page beyond the end is the last."""

    page: int
    pages: int
    size: int = PAGE_SIZE

    @classmethod
    def of(cls, count: int, page: int, size: int = PAGE_SIZE) -> "Span":
        """The asked page of so many rows."""
        pages = max(1, -(-count // size))
        return cls(min(max(page, 1), pages), pages, size)

    @property
    def slice(self) -> slice:
        """Its rows."""
        return slice((self.page - 1) * self.size, self.page * self.size)


def rows_at(rows: "QuerySet[Row]", part: slice, shown: "QuerySet[Row]") -> list[Row]:
    """Some of the ordered rows, as ``shown`` reads them. Two queries: their keys first, then these."""
    return _of_keys(list(rows.values_list("pk", flat=True)[part]), shown)


def in_batches(
    rows: "QuerySet[Row]", shown: "QuerySet[Row]", most: int = LONGEST_FILE
) -> Iterator[list[Row]]:
    """The ordered rows, a few hundred at a time: what is held in memory does not grow with them."""
    keys = list(rows.values_list("pk", flat=True)[:most])
    for start in range(0, len(keys), BATCH):
        yield _of_keys(keys[start : start + BATCH], shown)


def _of_keys(keys: Sequence[object], shown: "QuerySet[Row]") -> list[Row]:
    found = {row.pk: row for row in shown.filter(pk__in=keys)} if keys else {}
    return [found[key] for key in keys if key in found]
