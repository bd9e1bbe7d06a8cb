"""Long lists: in the order that a person chose, a page at a time, summed in the database.

What a list costs does not grow with what is behind it. Rows are counted and summed up to ``MOST``;
beyond it a list says "more than so many", has no sums, and ends there: whoever looks further narrows
it. A file goes on to ``LONGEST_FILE``. Of a page the keys are read first, then the rows of those keys
alone. Up to two thousand amounts are added here, so that what finds them is asked once.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Any, Generic, TypeVar

from django.db.models import F, Model, Q, QuerySet
from django.db.models.expressions import Combinable

from apps.people.models import REP, User
from apps.searching import walking

Row = TypeVar("Row", bound=Model)
MOST = 2_000
LONGEST_FILE = 10_000
PAGE_SIZE = 50
BATCH = 500


@dataclass(frozen=True, slots=True)
class Ordered(Generic[Row]):
    """Rows in an order: by columns, ``-`` before one for the reverse, the last of them unique.

    Empty values come last, in either direction. ``walked`` are the same rows, asked for so that the order's index
    is walked and each row looked at: how a page is found where there are more than are counted.
    """

    rows: QuerySet[Row]
    columns: tuple[str, ...]
    walked: QuerySet[Row] | None = None

    def keys(self, part: slice) -> list[Any]:
        """The keys of a part of them; an index is walked in its order where there is one."""
        first, rest = self.columns[0], self.columns[1:]
        if first.startswith("-") or not self._can_be_empty(first):
            return list(self.rows.order_by(*self.columns).values_list("pk", flat=True)[part])
        # Empty values are the least in the database: they are read after the others, if at all.
        known = self.rows.filter(**{f"{first}__isnull": False}).order_by(*self.columns)
        found = list(known.values_list("pk", flat=True)[: part.stop])
        if len(found) < part.stop:
            empty = self.rows.filter(**{f"{first}__isnull": True}).order_by(*rest)
            found += empty.values_list("pk", flat=True)[: part.stop - len(found)]
        return found[part]

    @property
    def last_empty(self) -> list[Any]:
        """The order as one query says it, for few rows."""
        return [
            column if column.startswith("-") else F(column).asc(nulls_last=True)
            for column in self.columns
        ]

    def _can_be_empty(self, name: str) -> bool:
        made = self.rows.query.annotations.get(name)
        if made is not None:
            return bool(made.output_field.null)
        fields = {field.name: field for field in self.rows.model._meta.fields}
        return name in fields and fields[name].null


def in_order(
    rows: "QuerySet[Row]", sort: str, keys: Mapping[str, str], default: str
) -> Ordered[Row]:
    """By one of ``keys`` (what people ask for, to the column), ``-`` before it for the reverse.

    A key that is none falls back to ``default``; empty values come last; the id settles ties.
    """
    chosen = sort if sort.removeprefix("-") in keys else default
    name = keys[chosen.removeprefix("-")]
    sign = "-" if chosen.startswith("-") else ""
    alone = name in _unique(rows)
    return Ordered(rows, (f"{sign}{name}",) if alone else (f"{sign}{name}", f"{sign}pk"))


def sorts_for(who: User, keys: Mapping[str, str]) -> Mapping[str, str]:
    """What this person can sort by: who sees one's own records alone does not sort them by owner."""
    return keys if who.role != REP else {key: keys[key] for key in keys if key != "owner"}


def _unique(rows: "QuerySet[Row]") -> set[str]:
    return {field.name for field in rows.model._meta.fields if field.unique}


@dataclass(frozen=True, slots=True)
class Found(Generic[Row]):
    """The rows of a list, how many there are, and what they add up to.

    Where there are ``more`` than ``MOST``, ``count`` is ``MOST``, and nothing is added up. Otherwise
    ``keys`` are all of them, and ``values`` what was asked for of each: then they are in their order.
    """

    ordered: Ordered[Row]
    count: int
    more: bool = False
    keys: Sequence[Any] = ()
    values: Sequence[tuple[Any, ...]] = ()

    def page(self, part: slice, shown: "QuerySet[Row]") -> list[Row]:
        """Some of them, as ``shown`` reads them. One query more than ``keys_at``."""
        return rows_of(self.keys_at(part), shown)

    def keys_at(self, part: slice) -> Sequence[Any]:
        """The keys of some of them, in their order. One query; none where they are in order already."""
        if self.values or not self.count:
            return self.keys[part]
        rows = self.ordered.rows if self.ordered.walked is None else self.ordered.walked
        rows = walking(rows) if self.more else _of(rows.model._default_manager.all(), self.keys)
        return Ordered(rows, self.ordered.columns).keys(part)

    @property
    def sums(self) -> dict[Any, Decimal]:
        """What the second value adds up to, by the first: by currency or the like."""
        found: dict[Any, Decimal] = {}
        for by, amount in self.values:
            found[by] = found.get(by, Decimal(0)) + amount
        return found


def count(ordered: Ordered[Row], *values: str | Combinable) -> Found[Row]:
    """Count the rows and read ``values`` of each, columns or expressions: what finds them is asked once.

    The database finds the keys of as many as are counted, by whatever index knows them; these are looked
    up and sorted, all of them for their values, or a page where there are none. It is never misled into
    walking a long index for few rows. One query, or two.
    """
    keys = list(ordered.rows.order_by().values_list("pk", flat=True)[: MOST + 1])
    if len(keys) > MOST:
        return Found(ordered, MOST, more=True)
    if not keys or not values:
        return Found(ordered, len(keys), keys=keys)
    rows = _of(ordered.rows.model._default_manager.all(), keys).order_by(*ordered.last_empty)
    found = list(rows.values_list("pk", *values))
    return Found(
        ordered, len(found), keys=[row[0] for row in found], values=[row[1:] for row in found]
    )


def pointing(path: str, rows: "QuerySet[Any]") -> Q:
    """What leads by ``path`` to one of the rows: asked for by their keys where they are few. One query."""
    keys = list(rows.order_by().values_list("pk", flat=True)[: MOST + 1])
    few = len(keys) <= MOST
    return Q(**{f"{path}__among": keys} if few else {f"{path}__in": rows.order_by().values("pk")})


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
    return rows_of(list(rows.values_list("pk", flat=True)[part]), shown)


def in_batches(
    ordered: Ordered[Row], shown: "QuerySet[Row]", most: int = LONGEST_FILE
) -> Iterator[list[Row]]:
    """The ordered rows, a few hundred at a time: what is held in memory does not grow with them."""
    keys = ordered.keys(slice(0, most))
    for start in range(0, len(keys), BATCH):
        yield rows_of(keys[start : start + BATCH], shown)


def rows_of(keys: Sequence[object], shown: "QuerySet[Row]") -> list[Row]:
    """The rows of these keys, in their order, as ``shown`` reads them. One query; none without keys."""
    found = {row.pk: row for row in _of(shown, keys)} if keys else {}
    return [found[key] for key in keys if key in found]


def _of(rows: "QuerySet[Row]", keys: Sequence[Any]) -> "QuerySet[Row]":
    """Those of some keys: numbers, or the codes of a table that is kept by code."""
    return rows.filter(**{"pk__in" if isinstance(keys[0], str) else "pk__among": keys})
