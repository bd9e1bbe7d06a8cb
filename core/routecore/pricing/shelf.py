"""The prices of one source for one item, laid out by the quantity that they need.

Of the entries that hold on the day, the quantity decides: those in the line's own unit before
converted ones, then the greatest "from" that it reaches (inclusive, compared in base units), then
the latest valid-from, then the first in the list.
"""

from bisect import bisect_right
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Context, Decimal, Inexact, InvalidOperation

from routecore.errors import InvalidInput
from routecore.exact import EXACT, ONE, SIX_DECIMALS, ZERO, nearest
from routecore.money import round_to_step
from routecore.pricing.goods import Item, PriceEntry, PriceList, Rate, not_valid
from routecore.pricing.trail import PassedOver, Step

#: A price beyond this is a mistake in a factor or a rate, not a price.
MOST_PRICE = Decimal(10**15)


@dataclass(frozen=True, slots=True, kw_only=True)
class Offer:
    """A price per ``per`` of ``unit``, its source and the way to it.

    The price of so many base units is their number times ``top``, over ``over``: the price per base
    unit where that is a decimal (2.70 per 12 is 0.225), else the price and how many it is for.
    ``agreement`` is the one that gives the price.
    """

    price: Decimal
    per: Decimal
    unit: str
    source: str
    top: Decimal
    over: Decimal
    steps: tuple[Step, ...]
    discountable: bool = True
    agreement: str = ""


_WHOLE = Context(prec=60, traps=[Inexact, InvalidOperation])


def per_base_unit(price: Decimal, units: Decimal) -> tuple[Decimal, Decimal]:
    """A price for so many base units as an exact fraction, over one where it is a decimal.

    >>> per_base_unit(Decimal("2.70"), Decimal(12)), per_base_unit(Decimal(1), Decimal(3))
    ((Decimal('0.225'), Decimal('1')), (Decimal('1'), Decimal('3')))
    """
    try:
        return _WHOLE.divide(price, units), ONE
    except (Inexact, InvalidOperation):
        return price, units


@dataclass(frozen=True, slots=True)
class Way:
    """How an entry's price becomes the line's: through derived lists, then at a rate."""

    source: str
    through: tuple[PriceList, ...] = ()
    rate: Rate | None = None

    def offer(self, entry: PriceEntry, item: Item, agreement: str = "") -> Offer:
        """The entry as an offer for an item."""
        kind = self.source.partition(":")[0]
        price = entry.price
        steps = [_step("list_price" if kind == "price_list" else kind, self.source, entry, price)]
        for price_list in reversed(self.through):
            derived = derive(price, price_list)
            if derived != price:
                steps.append(_step("derived", f"price_list:{price_list.id}", entry, derived))
            price = derived
        if self.rate is not None:
            price = converted(price, self.rate)
            steps.append(_converted_step(self.source, entry, price, self.rate))
        top, over = per_base_unit(price, EXACT.multiply(item.units.factor(entry.unit), entry.per))
        return Offer(
            price=price,
            per=entry.per,
            unit=entry.unit,
            source=self.source,
            top=top,
            over=over,
            steps=tuple(steps),
            discountable=entry.discountable,
            agreement=agreement,
        )

    def price(self, entry: PriceEntry) -> Decimal:
        """The entry's price alone."""
        price = entry.price
        for price_list in reversed(self.through):
            price = derive(price, price_list)
        return price if self.rate is None else converted(price, self.rate)

    def passed(self, entry: PriceEntry, reason: str, start: Decimal | None = None) -> PassedOver:
        """The entry as one that did not serve, at the price that it would have given."""
        day = {"not_yet_valid": entry.valid_from, "expired": entry.valid_to}.get(reason)
        return PassedOver(
            source=self.source,
            reason=reason,
            price=self.price(entry),
            per=entry.per,
            unit=entry.unit,
            day=day,
            from_quantity=entry.from_quantity if start is None else start,
        )


class Shelf:
    """One source's prices for one item on a day. Laying it out costs one sort; a look, a bisection."""

    __slots__ = ("_item", "_ladders", "_offers", "_passed", "_rows", "_starts", "_way", "refused")

    def __init__(self, item: Item, way: Way, entries: Iterable[PriceEntry], on: date):
        self._item, self._way = item, way
        rows: list[tuple[Decimal, PriceEntry]] = []
        refused: list[tuple[PriceEntry, str]] = []
        for entry in entries:
            if not item.units.knows(entry.unit):
                continue
            reason = not_valid(entry.valid_from, entry.valid_to, on)
            if reason:
                refused.append((entry, reason))
            else:
                rows.append((item.units.in_base(entry.from_quantity, entry.unit), entry))
        rows.sort(key=_start)
        self._rows = rows
        self._starts = [start for start, _ in rows]
        self._ladders: dict[str, tuple[_Ladder, _Ladder]] = {}
        self._offers: dict[int, Offer] = {}
        self._passed: list[PassedOver] | None = None
        self.refused = tuple(way.passed(entry, reason) for entry, reason in refused)

    def offer(self, base: Decimal, unit: str) -> Offer | None:
        """The offer that holds for so many base units, asked in a unit; None where none does."""
        own, other = self._ladders.get(unit) or self._laid_out(unit)
        entry = own.entry(base) or other.entry(base)
        if entry is None:
            return None
        known = self._offers.get(id(entry))
        if known is None:
            known = self._offers[id(entry)] = self._way.offer(entry, self._item)
        return known

    def below(self, base: Decimal) -> Sequence[PassedOver]:
        """The entries that need more, the nearest first."""
        place = bisect_right(self._starts, base)
        if place == len(self._starts):
            return ()
        if self._passed is None:
            self._passed = [self._way.passed(entry, "below") for _, entry in self._rows]
        return self._passed[place:]

    def ahead(self, base: Decimal, unit: str) -> list[Decimal]:
        """The greater quantities, ascending, at which another entry takes over."""
        own, other = self._ladders.get(unit) or self._laid_out(unit)
        place = bisect_right(own.starts, base)
        starts = own.starts[place:]
        if place == 0 and other.starts:
            further = other.starts[bisect_right(other.starts, base) :]
            if further:
                starts = sorted({*starts, *further})
        return starts

    def _laid_out(self, unit: str) -> "tuple[_Ladder, _Ladder]":
        own: list[tuple[Decimal, PriceEntry]] = []
        other: list[tuple[Decimal, PriceEntry]] = []
        for row in self._rows:
            (own if row[1].unit == unit else other).append(row)
        made = _Ladder(own), _Ladder(other)
        self._ladders[unit] = made
        return made


class _Ladder:
    """Entries by ascending "from", one for each: the latest valid-from, then the first."""

    __slots__ = ("entries", "starts")

    def __init__(self, rows: list[tuple[Decimal, PriceEntry]]):
        self.starts: list[Decimal] = []
        self.entries: list[PriceEntry] = []
        for start, entry in rows:
            if not self.starts or start != self.starts[-1]:
                self.starts.append(start)
                self.entries.append(entry)
            elif (entry.valid_from or date.min) > (self.entries[-1].valid_from or date.min):
                self.entries[-1] = entry

    def entry(self, base: Decimal) -> PriceEntry | None:
        place = bisect_right(self.starts, base)
        return self.entries[place - 1] if place else None


def _start(row: tuple[Decimal, PriceEntry]) -> Decimal:
    return row[0]


def _step(code: str, source: str, entry: PriceEntry, value: Decimal) -> Step:
    return Step(
        code=code,
        source=source,
        value=value,
        per=entry.per,
        unit=entry.unit,
        from_quantity=entry.from_quantity,
    )


def _converted_step(source: str, entry: PriceEntry, price: Decimal, rate: Rate) -> Step:
    return Step(
        code="converted",
        source=source,
        value=price,
        per=entry.per,
        unit=entry.unit,
        rate=rate.rate,
        day=rate.on,
        currency=rate.currency,
    )


def derive(price: Decimal, price_list: PriceList) -> Decimal:
    """A price as a derived list has it, rounded to the list's own step."""
    step = price_list.round_to or SIX_DECIMALS
    derived = round_to_step(EXACT.multiply(price, price_list.factor), step)
    return _within(derived, "price_lists").normalize(EXACT)


def converted(price: Decimal, rate: Rate) -> Decimal:
    """A price in another currency, to six decimals."""
    exact = _within(EXACT.multiply(price, rate.rate), "exchange_rates")
    return nearest(exact, ONE, SIX_DECIMALS).normalize(EXACT)


def _within(price: Decimal, path: str) -> Decimal:
    if price >= MOST_PRICE:
        raise InvalidInput("too_large", path=path, facts={"most_digits": 15})
    return price if price else ZERO
