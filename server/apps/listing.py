"""Long lists: in the order that a person chose, a page at a time, summed in the database.

What a list costs does not grow with what is behind it. Rows are counted and summed up to ``MOST``;
beyond it a list says "more than so many", has no sums, and ends there: whoever looks further narrows
it. A file goes on to ``LONGEST_FILE``. Of a page the keys are read first, then the rows of those keys
alone.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Any, Generic, TypeVar

from django.db.models import F, Model, OrderBy, QuerySet, Sum

from apps.people.models import REP, User

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


def sorts_for(who: User, keys: Mapping[str, str]) -> Mapping[str, str]:
    """What this person can sort by: who sees one's own records alone does not sort them by owner."""
    return keys if who.role != REP else {key: keys[key] for key in keys if key != "owner"}


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
class Found(Generic[Row]):
    """The rows of a list, and how many there are.

    Where there are ``more`` than ``MOST``, ``count`` is ``MOST``, and nothing is summed. Otherwise
    ``rows`` are named by their keys: what is asked of them next searches nothing a second time, and
    is never misled into walking a long index for few rows.
    """

    rows: QuerySet[Row]
    count: int
    more: bool = False


def count(rows: "QuerySet[Row]") -> Found[Row]:
    """Count the rows. One query."""
    keys = list(rows.order_by().values_list("pk", flat=True)[: MOST + 1])
    if len(keys) > MOST:
        return Found(rows, MOST, more=True)
    named = rows.model._default_manager.filter(pk__in=keys)
    return Found(named, len(keys))


def keys_of(rows: "QuerySet[Any]") -> "list[Any] | QuerySet[Any]":
    """The keys of the rows, for another query: as numbers where they are few."""
    keys = list(rows.order_by().values_list("pk", flat=True)[: MOST + 1])
    return keys if len(keys) <= MOST else rows.order_by().values("pk")


def summed(found: Found[Row], by: str, column: str) -> dict[str, Decimal]:
    """What the rows add up to, by currency or the like; nothing where there are more."""
    if found.more or not found.count:
        return {}
    return dict(found.rows.order_by().values_list(by).annotate(Sum(column)))


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
