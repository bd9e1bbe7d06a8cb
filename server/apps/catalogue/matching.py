"""Rows that were pasted, matched with items; what is not certain is shown with its candidates."""

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal

from django.db.models import QuerySet

from apps.catalogue.models import Item, Unit
from apps.errors import Invalid
from routecore.reading import Reading, ReadRow, read_rows

MOST_CANDIDATES = 5
#: A row is no longer than this; a longer one is no row of a table.
MOST_SIGNS = 2_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Match:
    """A row and its item. ``item`` is None where no single item is certain.

    ``doubts``: ``item``, ``quantity``, ``unit``, ``price``. ``others`` are the row's other readings,
    each with the item that it names.
    """

    row: ReadRow
    item: Item | None
    candidates: tuple[Item, ...]
    quantity: Decimal | None
    unit: str
    doubts: tuple[str, ...]
    others: tuple["OtherReading", ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class OtherReading:
    """Another way to read a row, with its item and unit."""

    reading: Reading
    item: Item | None
    unit: str


@dataclass(frozen=True, slots=True)
class _Known:
    """The items that rows can name, and what units are called."""

    items: list[Item]
    units: dict[str, str]
    by_word: dict[str, Item]

    def named(self, words: str) -> Item | None:
        """The item with this code or whole name."""
        return self.by_word.get(words.lower().strip())

    def unit(self, word: str, item: Item | None) -> str:
        """The unit of the item that a word names; else the one it is sold in."""
        return (unit_named(word, item, self.units) or item.sales_unit_id) if item else ""

    def other(self, reading: Reading) -> OtherReading:
        """Another reading of a row, with its item."""
        item = self.named(reading.words)
        return OtherReading(reading=reading, item=item, unit=self.unit(reading.unit, item))


def match_rows(text: str) -> list[Match]:
    """Every row of a pasted table, in order. Three queries, however many rows.

    Raises ``Invalid`` for a row that is longer than ``MOST_SIGNS``.
    """
    if max(map(len, text.splitlines()), default=0) > MOST_SIGNS:
        raise Invalid("too_long", path="text", facts={"most": MOST_SIGNS})
    names = {code: name.lower() for code, name in Unit.objects.values_list("code", "name")}
    words = {*names.values(), *(f"{name}s" for name in names.values())}
    words |= {code.lower() for code in names} | {f"{name}es" for name in names.values()}
    items = list(_items())
    by_word = {item.name.lower(): item for item in items}
    by_word |= {item.code.lower(): item for item in items}
    known = _Known(items, names, by_word)
    rows = read_rows(text, words, lambda written: known.named(written) is not None)
    return [_match(row, known) for row in rows]


def _items() -> QuerySet[Item]:
    return (
        Item.objects.filter(active=True)
        .select_related("group", "base_unit", "sales_unit")
        .prefetch_related("units__unit")
        .order_by("code")
    )


def _match(row: ReadRow, known: _Known) -> Match:
    item = known.named(row.words)
    doubts = list(row.doubts)
    if item is None:
        doubts.append("item")
    if row.quantity is None and "quantity" not in doubts:
        doubts.append("quantity")
    if item and row.unit and not unit_named(row.unit, item, known.units):
        doubts.append("unit")
    return Match(
        row=row,
        item=item,
        candidates=() if item else _candidates(row.words.lower().strip(), known.items),
        quantity=row.quantity,
        unit=known.unit(row.unit, item),
        doubts=tuple(dict.fromkeys(doubts)),
        others=tuple(known.other(other) for other in row.others),
    )


def _candidates(wanted: str, items: list[Item]) -> tuple[Item, ...]:
    """Items that hold every word, else the most words; the best first."""
    words = wanted.split()
    scored = []
    for item in items:
        text = f"{item.code} {item.name}".lower()
        hits = sum(word in text for word in words)
        if hits:
            scored.append((-hits, len(text), item))
    scored.sort(key=lambda entry: (entry[0], entry[1], entry[2].code))
    return tuple(item for _, _, item in scored[:MOST_CANDIDATES])


def unit_named(word: str, item: Item, names: Mapping[str, str]) -> str:
    """The item's unit that a word names; nothing where it names none of them.

    ``names`` are the units' names by code, in lower case.
    """
    plain = word.lower().strip(". ")
    known = [item.base_unit_id, *(row.unit_id for row in item.units.all())]
    for code in known:
        name = names[code]
        if plain in (code.lower(), name, f"{name}s", f"{name}es"):
            return code
    return ""
