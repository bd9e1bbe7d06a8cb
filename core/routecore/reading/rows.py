"""Rows pasted from a spreadsheet, a mail or a list: columns in any order, with or without headings.

A row is certain only where it can be read in one way. Which way is meant is told by headings, by
codes and names that the catalogue knows, and by the other numbers of a column; what is still open is
offered, each reading with its reason.
"""

from collections.abc import Callable, Collection, Iterator, Sequence
from dataclasses import dataclass
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.reading.numbers import NumberStyle, ReadNumber, read_number, style_of
from routecore.reading.splits import Parts, Way, ways_of

MOST_ROWS = 1000
#: No more readings of one row are offered.
MOST_READINGS = 8


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """One way to read a row; ``why``: ``columns``, ``headings``, ``code`` (a number is the item's
    code), ``swapped`` (the price stands before the quantity), ``position`` (a figure is neither),
    ``decimal_comma``, ``decimal_point``, ``thousands``, ``spaces``, ``words``."""

    words: str
    quantity: Decimal | None
    unit: str
    price: Decimal | None
    why: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadRow:
    """A row as it is likeliest read, and every other reading.

    ``doubts`` names what the readings do not agree on, or what could not be read: ``item``,
    ``quantity``, ``unit``, ``price``.
    """

    number: int
    words: str
    quantity: Decimal | None
    unit: str
    price: Decimal | None
    doubts: tuple[str, ...] = ()
    others: tuple[Reading, ...] = ()


def read_rows(
    text: str,
    unit_words: Collection[str] = (),
    known: Callable[[str], bool] = lambda _: False,
) -> list[ReadRow]:
    """The rows of a pasted text; raises ``InvalidInput`` for more than a thousand.

    ``unit_words`` are the words and codes that are units, in lower case; ``known`` tells whether the
    catalogue has an item of exactly this code or name.

    >>> [row] = read_rows("POST-25\\t20\\t41,50")
    >>> row.words, row.quantity, row.price, row.doubts
    ('POST-25', Decimal('20'), Decimal('41.50'), ())
    >>> [row] = read_rows("POST-25,20,41,50")
    >>> row.quantity, row.price, [(str(r.quantity), str(r.price)) for r in row.others][0]
    (Decimal('20'), Decimal('41.50'), ('20.41', '50'))
    """
    if text.count("\n") + 1 > 3 * MOST_ROWS:
        raise InvalidInput("too_many_rows", path="text", facts={"most": MOST_ROWS})
    ways = _likely(ways_of(text, unit_words, known), known)
    numbers = sorted({n for way in ways for n in way.rows})
    if len(numbers) > MOST_ROWS:
        raise InvalidInput("too_many_rows", path="text", facts={"most": MOST_ROWS})
    styles = [_styles(way) for way in ways]
    found = []
    for n in numbers:
        readings: list[Reading] = []
        unread: set[str] = set()
        for way, style in zip(ways, styles, strict=True):
            parts = way.rows.get(n)
            if way.why == "words" and readings:
                continue  # a row of nothing but words, only where nothing else is in it
            if parts is not None and any(map(str.isalnum, parts.item)):
                readings += _readings(parts, way.why, style, unread)
        if readings:
            found.append(_row(n, readings, unread))
    return found


def _likely(ways: Sequence[Way], known: Callable[[str], bool]) -> list[Way]:
    """The ways in which most rows name something that the catalogue has; all where none does."""
    hits = [sum(known(parts.item) for parts in way.rows.values()) for way in ways]
    most = max(hits, default=0)
    return [way for way, count in zip(ways, hits, strict=True) if count == most]


def _styles(way: Way) -> tuple[NumberStyle, NumberStyle]:
    rows = way.rows.values()
    return style_of(row.quantity for row in rows), style_of(row.price for row in rows)


def _readings(
    parts: Parts, why: str, styles: tuple[NumberStyle, NumberStyle], unread: set[str]
) -> Iterator[Reading]:
    """A row's parts with every reading of their numbers."""
    quantities = list(_values(read_number(parts.quantity, styles[0]), why))
    prices = list(_values(read_number(parts.price, styles[1]), why))
    if parts.quantity and quantities[0][0] is None:
        unread.add("quantity")
    if parts.price and prices[0][0] is None:
        unread.add("price")
    for quantity, of_quantity in quantities:
        for price, of_price in prices:
            reason = of_quantity if of_quantity != why else of_price
            yield Reading(
                words=parts.item, quantity=quantity, unit=parts.unit, price=price, why=reason
            )


def _values(number: ReadNumber | None, why: str) -> Iterator[tuple[Decimal | None, str]]:
    if number is None:
        yield None, why
        return
    yield number.value, why if number.certain else number.why
    for other in number.others:
        yield other.value, other.why


def _row(n: int, readings: Sequence[Reading], unread: set[str]) -> ReadRow:
    """The first reading, beside those that come to something else."""
    first = readings[0]
    others: dict[object, Reading] = {}
    for reading in readings[1:]:
        meant = reading.words, reading.quantity, reading.unit, reading.price
        if meant != (first.words, first.quantity, first.unit, first.price):
            others.setdefault(meant, reading)
    kept = tuple(others.values())[: MOST_READINGS - 1]
    doubts = [
        name
        for name, differs in (
            ("item", any(other.words != first.words for other in kept)),
            ("quantity", any(other.quantity != first.quantity for other in kept)),
            ("unit", any(other.unit != first.unit for other in kept)),
            ("price", any(other.price != first.price for other in kept)),
        )
        if differs or name in unread
    ]
    return ReadRow(
        number=n,
        words=first.words,
        quantity=first.quantity,
        unit=first.unit,
        price=first.price,
        doubts=tuple(doubts),
        others=kept,
    )
