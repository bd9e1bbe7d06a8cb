"""Rows that were pasted, matched with items; what is not certain is shown with its candidates."""

from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal
from heapq import nsmallest
from itertools import chain

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
    each with the item that it names. ``number`` is what stood for the item, in lower case.
    """

    row: ReadRow
    item: Item | None
    candidates: tuple[Item, ...]
    quantity: Decimal | None
    unit: str
    doubts: tuple[str, ...]
    others: tuple["OtherReading", ...] = ()
    number: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class OtherReading:
    """Another way to read a row, with its item and unit."""

    reading: Reading
    item: Item | None
    unit: str


@dataclass(frozen=True, slots=True)
class Meant:
    """What a number stands for that is no item's, as an agreement's: an item, and the unit it counts in."""

    item: int
    unit: str


class _Names:
    """What the items that are sold are called: found whole, or by parts of what was written.

    ``numbers`` stand for items as well, in lower case: alone, or beside the item's own name.
    """

    def __init__(
        self, items: Iterable[tuple[int, str, str]], numbers: Mapping[str, Meant] | None = None
    ):
        self.numbers = numbers or {}
        self.called: dict[int, tuple[str, str]] = {}
        self.by_word: dict[str, int] = {}
        self.by_part: dict[str, list[int]] = {}
        codes: dict[str, int] = {}
        for key, code, name in items:
            text = f"{code} {name}".lower()
            self.called[key] = code, text
            self.by_word[name.lower()] = key
            codes[code.lower()] = key
            for part in set(text.split()):
                self.by_part.setdefault(part, []).append(key)
        self.by_word |= codes  # a code goes before a name

    def named(self, words: str) -> int | None:
        """The key of the item with this code or whole name, or that a number in it stands for."""
        plain = words.lower().strip()
        found = self.by_word.get(plain)
        if found is not None or not self.numbers:
            return found
        number, rest = self.number_in(plain)
        meant = self.numbers.get(number)
        if meant is None or meant.item not in self.called:
            return None
        return meant.item if not rest or self.by_word.get(rest) == meant.item else None

    def number_in(self, words: str) -> tuple[str, str]:
        """The number that stands for an item, and the rest of the words; empty where there is none."""
        parts = words.lower().split()
        number = next((part for part in parts if part.strip(",;:()") in self.numbers), "")
        rest = " ".join(part for part in parts if part != number)
        return number.strip(",;:()"), rest if number else words

    def like(self, words: str) -> list[int]:
        """The keys of items that hold every word, else the most words; the best first."""
        hits: Counter[int] = Counter()
        for word in words.lower().split():
            held = (keys for part, keys in self.by_part.items() if word in part)
            hits.update(set(chain.from_iterable(held)))

        def rank(key: int) -> tuple[int, int, str]:
            code, text = self.called[key]
            return -hits[key], len(text), code

        return nsmallest(MOST_CANDIDATES, hits, key=rank)


@dataclass(frozen=True, slots=True)
class _Known:
    """The items that rows name or may mean, by key, and what units are called."""

    names: _Names
    items: Mapping[int, Item]
    units: Mapping[str, str]

    def named(self, words: str) -> Item | None:
        """The item with this code or whole name."""
        return self.items.get(self.names.named(words) or 0)

    def unit(self, reading: ReadRow | Reading, item: Item | None) -> str:
        """The unit of the item that the row names; else its number's, or the one it is sold in."""
        if item is None:
            return ""
        meant = self.names.numbers.get(self.number(reading.words))
        usual = meant.unit if meant else item.sales_unit_id
        return unit_named(reading.unit, item, self.units) or usual

    def number(self, words: str) -> str:
        """The number in a row that stands for its item; empty for none."""
        return self.names.number_in(words.lower().strip())[0] if self.names.numbers else ""

    def other(self, reading: Reading) -> OtherReading:
        """Another reading of a row, with its item."""
        item = self.named(reading.words)
        return OtherReading(reading=reading, item=item, unit=self.unit(reading, item))


def match_rows(text: str, numbers: Mapping[str, Meant] | None = None) -> list[Match]:
    """Every row of a pasted table, in order. Six queries at most, however many rows.

    ``numbers`` (in lower case) stand for items beside their own names.

    Raises ``Invalid`` for a row that is longer than ``MOST_SIGNS``.
    """
    if max(map(len, text.splitlines()), default=0) > MOST_SIGNS:
        raise Invalid("too_long", path="text", facts={"most": MOST_SIGNS})
    units = {code: name.lower() for code, name in Unit.objects.values_list("code", "name")}
    words = {*units.values(), *(f"{name}s" for name in units.values())}
    words |= {code.lower() for code in units} | {f"{name}es" for name in units.values()}
    names = _Names(Item.objects.filter(active=True).values_list("pk", "code", "name"), numbers)
    rows = read_rows(text, words, lambda written: names.named(written) is not None)
    like = [[] if names.named(row.words) else names.like(row.words) for row in rows]
    read = {*chain.from_iterable(like)}
    for row in rows:
        written = (row.words, *(other.words for other in row.others))
        read |= {names.named(words) or 0 for words in written}
    known = _Known(names, _items().in_bulk(read), units)
    return [_match(row, keys, known) for row, keys in zip(rows, like, strict=True)]


def _items() -> QuerySet[Item]:
    return Item.objects.select_related("group", "base_unit", "sales_unit").prefetch_related("units")


def _match(row: ReadRow, like: list[int], known: _Known) -> Match:
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
        candidates=tuple(known.items[key] for key in like),
        quantity=row.quantity,
        unit=known.unit(row, item),
        number=known.number(row.words) if item else "",
        doubts=tuple(dict.fromkeys(doubts)),
        others=tuple(known.other(other) for other in row.others),
    )


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
