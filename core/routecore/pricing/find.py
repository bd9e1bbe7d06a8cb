"""The search for a line's price: agreement, customer price, the customer's list, the base list.

The first candidate that holds wins; each passed-over one stays with its reason. What an item has on
a day is laid out once (``ItemPrices``); a line then asks for its quantity.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from heapq import merge

from routecore.exact import EXACT, ZERO, Ratio
from routecore.money import in_own_context
from routecore.pricing.book import PriceBook
from routecore.pricing.goods import Agreement, Item, PriceEntry, not_valid
from routecore.pricing.shelf import Offer, Shelf, Way
from routecore.pricing.touch import Gauge, Key, Touch, gauge_of, net_price, touches_of
from routecore.pricing.trail import PassedOver
from routecore.quantity import typeable


@dataclass(frozen=True, slots=True, kw_only=True)
class Split:
    """An agreement covers a part of the line: so much of it, and so much not, in the line's unit."""

    agreement: str
    covered: Decimal
    rest: Decimal


@dataclass(frozen=True, slots=True)
class Found:
    """The offer that holds, None where none does; what was passed over on the way, and a split."""

    offer: Offer | None
    passed_over: tuple[PassedOver, ...]
    split: Split | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Deal:
    """An agreement for an item, ready: its offer holds from ``low`` to what is left of ``full``.

    ``full``, what remained before the document, and ``low`` count in base units.
    """

    agreement: Agreement
    offer: Offer
    low: Decimal
    full: Decimal
    way: Way


class ItemPrices:
    """All that can give one item a price or a discount on a day, in one currency."""

    __slots__ = (
        "_gauges",
        "_net_price",
        "_shelves",
        "any_exclusive",
        "any_graduated",
        "by_key",
        "deals",
        "group_keys",
        "holding",
        "item",
        "refused_rules",
    )

    def __init__(self, book: PriceBook, item: Item, on: date, currency: str):
        self.item = item
        self._shelves: list[Shelf | PassedOver] = []
        self.deals: list[Deal | PassedOver] = []
        for agreement in book.agreements(item.id):
            if item.units.knows(agreement.entry.unit):
                self.deals.append(_deal(book, item, agreement, on, currency))
        for source, priced_in, rows in book.customer_sources(item.id, currency):
            self._add(book, Way(source), priced_in, rows, on, currency)
        for price_list, through in book.chain:
            entries = book.entries(price_list.id, item.id)
            way = Way(f"price_list:{price_list.id}", through)
            if entries:
                self._add(book, way, price_list.currency, entries, on, currency)
            else:
                self._shelves.append(PassedOver(source=way.source, reason="no_entry"))
        self.holding: tuple[Touch, ...]
        self.holding, self.refused_rules = touches_of(book.rules(item), item, on, currency)
        self.by_key: dict[Key, Touch] = {}
        self.any_graduated = self.any_exclusive = False
        for touch in self.holding:
            self.any_graduated |= touch.rule.graduated
            self.any_exclusive |= touch.rule.exclusive
            if touch.rule.over == "group" and touch.key is not None:
                self.by_key[touch.key] = touch
        self.group_keys: tuple[Key, ...] = tuple(self.by_key)
        self._net_price: tuple[PassedOver, ...] | None = None
        self._gauges: dict[Key, Gauge | None] = {}

    def net_price(self) -> tuple[PassedOver, ...]:
        """The rules as passed over by a price that takes no discounts."""
        if self._net_price is None:
            self._net_price = net_price(self.holding) + self.refused_rules
        return self._net_price

    def gauge(self, key: Key) -> Gauge | None:
        """How the item adds to what a rule over several lines measures; None for nothing.

        Over a group, the items that the rule is on; over the document, every item that can be
        measured so.
        """
        if isinstance(key, str):
            touch = self.by_key.get(key)
            return touch.gauge if touch else None
        if key not in self._gauges:
            self._gauges[key] = gauge_of(*key, self.item)
        return self._gauges[key]

    def _add(
        self,
        book: PriceBook,
        way: Way,
        priced_in: str,
        entries: Sequence[PriceEntry],
        on: date,
        currency: str,
    ) -> None:
        found = _in_currency(book, way, priced_in, currency, on)
        if isinstance(found, Way):
            self._shelves.append(Shelf(self.item, found, entries, on))
        else:
            self._shelves.append(found)

    def offer(self, base: Decimal, unit: str, left: Mapping[str, Decimal]) -> Offer | None:
        """The offer for so many base units, asked in a unit, where so much of agreements is left."""
        for deal in self.deals:
            if isinstance(deal, Deal) and deal.low <= base <= left.get(
                deal.agreement.id, deal.full
            ):
                return deal.offer
        for shelf in self._shelves:
            if isinstance(shelf, Shelf):
                offer = shelf.offer(base, unit)
                if offer is not None:
                    return offer
        return None

    def find(self, base: Decimal, unit: str, left: Mapping[str, Decimal]) -> Found:
        """The same with all that was passed over, and a split where an agreement covers a part."""
        passed: list[PassedOver] = []
        split: Split | None = None
        for deal in self.deals:
            if isinstance(deal, PassedOver):
                passed.append(deal)
                continue
            remains = left.get(deal.agreement.id, deal.full)
            if deal.low <= base <= remains:
                return Found(deal.offer, tuple(passed), split)
            passed.append(_passed_deal(deal, base, remains, self.item))
            if base > remains:
                split = split or _split(self.item, base, unit, deal, remains)
        for shelf in self._shelves:
            if isinstance(shelf, PassedOver):
                passed.append(shelf)
                continue
            passed += shelf.below(base)
            passed += shelf.refused
            offer = shelf.offer(base, unit)
            if offer is not None:
                return Found(offer, tuple(passed), split)
        return Found(None, tuple(passed), split)

    def ahead(self, base: Decimal, unit: str, left: Mapping[str, Decimal]) -> Iterator[Ratio]:
        """The greater quantities, ascending, at which the offer may become another.

        Each is the least that no longer has the present offer's terms, in base units; where an
        agreement ends, the least that is more than what is left of it.
        """
        starts: list[list[Decimal]] = []
        ends: list[Decimal] = []
        settled = False
        for deal in self.deals:
            if isinstance(deal, PassedOver):
                continue
            remains = left.get(deal.agreement.id, deal.full)
            if base < deal.low <= remains:
                starts.append([deal.low])
            if base <= remains:
                ends.append(remains)
        for shelf in self._shelves:
            if isinstance(shelf, Shelf) and not settled:
                starts.append(shelf.ahead(base, unit))
                settled = shelf.offer(base, unit) is not None
        if not ends:
            return map(Ratio, starts[0] if len(starts) == 1 else merge(*starts))
        # The next quantity after an end: the grid of what can be typed is coarser than this.
        after = [EXACT.add(end, TINY) for end in sorted(ends)]
        return map(Ratio, merge(*starts, after))


#: Less than the least difference of two quantities that can be typed, in base units: both the
#: quantity and the factor have at most six decimals.
TINY = Decimal("1E-13")


@in_own_context
def find_price(
    book: PriceBook,
    item: Item,
    quantity: Decimal,
    unit: str,
    *,
    on: date,
    currency: str,
    left: Mapping[str, Decimal] | None = None,
) -> Found:
    """The price that holds for a quantity, with all that was passed over.

    ``left`` is what remains of agreements, in base units, where that is less than they say.
    """
    base = item.units.in_base(quantity, unit)
    return ItemPrices(book, item, on, currency).find(base, unit, left or {})


def _in_currency(
    book: PriceBook, way: Way, priced_in: str, currency: str, on: date
) -> Way | PassedOver:
    """The way to a price in the document's currency; passed over where no rate leads there."""
    if priced_in == currency:
        return way
    rate = book.rate(priced_in, currency, on)
    if rate is None:
        return PassedOver(source=way.source, reason="other_currency", currency=priced_in)
    return Way(way.source, way.through, rate)


def _deal(
    book: PriceBook, item: Item, agreement: Agreement, on: date, currency: str
) -> Deal | PassedOver:
    entry, source = agreement.entry, f"agreement:{agreement.id}"
    reason = not_valid(entry.valid_from, entry.valid_to, on)
    if reason:
        return Way(source).passed(entry, reason)
    way = _in_currency(book, Way(source), agreement.currency, currency, on)
    if isinstance(way, PassedOver):
        return way
    return Deal(
        agreement=agreement,
        offer=way.offer(entry, item, agreement.id),
        low=item.units.in_base(entry.from_quantity, entry.unit),
        full=EXACT.subtract(
            item.units.in_base(agreement.remaining, entry.unit), agreement.called_off
        ),
        way=way,
    )


def _passed_deal(deal: Deal, base: Decimal, remains: Decimal, item: Item) -> PassedOver:
    entry = deal.agreement.entry
    if base > remains:
        shown = item.units.convert(max(remains, ZERO), item.units.base, entry.unit)
        return deal.way.passed(entry, "not_enough", shown)
    return deal.way.passed(entry, "below")


def _split(item: Item, base: Decimal, unit: str, deal: Deal, remains: Decimal) -> Split | None:
    """The covered part in whole packs (or whole units) of the line's unit; None where it is none.

    Both parts can be typed; a covered part below the agreement's own "from" is none.
    """
    factor = item.units.factor(unit)
    covered = typeable(factor, None, item.pack_multiple or None).within(remains)
    if covered is None:
        return None
    held = EXACT.multiply(covered, factor)
    if not deal.low <= held < base:
        return None
    rest = item.units.convert(EXACT.subtract(base, held), item.units.base, unit)
    return Split(agreement=deal.agreement.id, covered=covered, rest=rest)
