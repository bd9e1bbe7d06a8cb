"""Lines in the making: price found, amount, the rules that touch them.

Rules over several lines need every line's amount before any discount; so lines are first worked to
that point, then measured together (``measure``), then discounted (``take``).
"""

from bisect import bisect_right
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.exact import EXACT, ONE, ZERO
from routecore.pricing import Found, Item, ItemPrices, Offer, PassedOver, PriceBook, Step, Touch
from routecore.pricing.find import Deal
from routecore.totals.lines import Line
from routecore.totals.terms import DocumentTerms

#: An amount has at most fifteen digits before the point.
MOST_AMOUNT = Decimal(10**15)
#: What pricing a line anew costs, in lines that are only looked at.
REWORKED = 30
NO_LEFT: Mapping[str, Decimal] = {}


@dataclass(slots=True)
class Worked:
    """A line with its price and its amount before any discount: ``exact / over``, never divided.

    ``base`` is its quantity in base units, ``touches`` the rules that hold for it. ``left`` is what
    its turn found of the item's agreements, in base units; ``agreement`` gives its price. It
    ``counts`` in the document if it is a normal line with a price. ``found`` has the trail; a line at
    another quantity or price, of which only the net is asked, has none.
    """

    n: int
    line: Line
    base: Decimal
    prices: ItemPrices
    offer: Offer | None
    left: Mapping[str, Decimal]
    exact: Decimal = ZERO
    over: Decimal = ONE
    touches: tuple[Touch, ...] = ()
    found: Found | None = None
    counts: bool = False
    agreement: str = ""

    def __post_init__(self) -> None:
        offer = self.offer
        if offer is not None:
            self.exact = EXACT.multiply(self.base, offer.top)
            self.over = offer.over
            self.counts = self.line.kind == "normal"
            self.agreement = offer.agreement
            if offer.discountable:
                self.touches = self.prices.holding

    def at(self, base: Decimal, offer: Offer | None) -> "Worked":
        """The same line with another quantity or price."""
        return Worked(self.n, self.line, base, self.prices, offer, self.left)


class Sheet:
    """The worked lines of a document, and what they would be if one were another."""

    def __init__(self, lines: Sequence[Line], book: PriceBook, terms: DocumentTerms):
        self._book, self._terms = book, terms
        self._prices: dict[str, ItemPrices] = {}
        self._queues: dict[int, _Queue] = {}
        #: How many lines were looked at because another draws an agreement otherwise.
        self.scanned = 0
        self.rows = self._worked(lines)

    def _worked(self, lines: Sequence[Line]) -> list[Worked]:
        """Every line, in order; counted lines draw agreements down before the others look."""
        left: dict[str, Decimal] = {}
        worked: list[Worked | None] = [None] * len(lines)
        for wanted in (True, False):
            for n, line in enumerate(lines):
                if line.counted is wanted:
                    row = worked[n] = self._row(n, line, left)
                    if wanted and row.agreement:
                        left[row.agreement] = EXACT.subtract(row.left[row.agreement], row.base)
        return [row for row in worked if row is not None]

    def _row(self, n: int, line: Line, left: Mapping[str, Decimal]) -> Worked:
        prices = self._prices_of(line.item, n)
        base = line.item.units.in_base(line.quantity, line.unit)
        seen = NO_LEFT
        if prices.deals:
            seen = {
                deal.agreement.id: left.get(deal.agreement.id, deal.full)
                for deal in prices.deals
                if isinstance(deal, Deal)
            }
        found = prices.find(base, line.unit, seen)
        if line.price is not None:
            found = _typed(line, line.price, found)
        row = Worked(n, line, base, prices, found.offer, seen, found=found)
        if row.exact >= EXACT.multiply(MOST_AMOUNT, row.over):
            raise InvalidInput("too_large", path=f"lines[{n}]", facts={"most_digits": 15})
        return row

    def _prices_of(self, item: Item, n: int) -> ItemPrices:
        """What the book has for an item, laid out once; lines of one item share its agreements."""
        known = self._prices.get(item.id)
        if known is None:
            known = ItemPrices(self._book, item, self._terms.on, self._terms.currency)
            self._prices[item.id] = known
        elif known.item is not item and known.item != item:
            raise InvalidInput("item_differs", path=f"lines[{n}].item", facts={"id": item.id})
        return known

    def larger(self, row: Worked, base: Decimal) -> Worked:
        """A line at another quantity."""
        return row.at(base, row.prices.offer(base, row.line.unit, row.left))

    def untyped(self, row: Worked) -> Worked:
        """A line as the rules alone would price it."""
        return self.larger(row, row.base)

    def _queue(self, row: Worked) -> "_Queue":
        key = id(row.prices)
        if key not in self._queues:
            rows = [other for other in self.rows if other.prices is row.prices and _draws(other)]
            self._queues[key] = _Queue(rows, self)
        return self._queues[key]

    def next_drop(self, old: Worked, new: Worked) -> Decimal | None:
        """The base quantity of a line up to which every later line keeps its agreement, while the
        line is as ``new``; None where none can lose one to it."""
        if not new.agreement or not new.line.counted:
            return None
        spare = self._queue(old).spare(old, new)
        return None if spare is None else EXACT.add(new.base, spare)

    def redrawn(self, old: Worked, new: Worked) -> dict[int, Worked]:
        """The later lines that find more or less of an agreement, because one draws otherwise."""
        if not new.line.counted or not old.prices.deals:
            return {}
        if old.agreement == new.agreement and (not old.agreement or old.base == new.base):
            return {}
        changed = {
            row.n: row.at(row.base, row.prices.offer(row.base, row.line.unit, left))
            for row, left in self._queue(old).after(old, new)
        }
        self.scanned += REWORKED * len(changed)
        return changed


def _draws(row: Worked) -> bool:
    """Whether a line takes its turn at agreements: counted, and its price not typed."""
    return row.line.counted and row.line.price is None


class _Queue:
    """The lines of one item in their turn at its agreements."""

    __slots__ = ("_after", "_deals", "_last", "_numbers", "_rows", "_sheet")

    def __init__(self, rows: Sequence[Worked], sheet: Sheet):
        self._rows, self._sheet = rows, sheet
        self._numbers = [row.n for row in rows]
        self._deals = (
            [deal for deal in rows[0].prices.deals if isinstance(deal, Deal)] if rows else []
        )
        #: With one agreement: what each line leaves of it, as a growing number (negative), and the
        #: place of the last line that has it.
        self._after: list[Decimal] = []
        self._last = -1
        if len(self._deals) == 1:
            name = self._deals[0].agreement.id
            for place, row in enumerate(rows):
                taken = row.base if row.agreement else ZERO
                self._after.append(EXACT.subtract(taken, row.left[name]))
                if row.agreement:
                    self._last = place

    def after(self, old: Worked, new: Worked) -> Iterator[tuple[Worked, Mapping[str, Decimal]]]:
        """The lines behind ``old`` that change their agreement, with what they then find of it."""
        left = dict(old.left)
        if new.agreement:
            left[new.agreement] = EXACT.subtract(left[new.agreement], new.base)
        start = bisect_right(self._numbers, old.n)
        if len(self._deals) == 1:
            more = EXACT.subtract(
                new.base if new.agreement else ZERO, old.base if old.agreement else ZERO
            )
            if more > 0:
                # Until what a line leaves is less than the difference, nothing changes.
                start = max(start, bisect_right(self._after, more.copy_negate()))
                if start < len(self._rows):
                    name = self._deals[0].agreement.id
                    left[name] = EXACT.subtract(self._rows[start].left[name], more)
        self._sheet.scanned += len(self._rows) - start
        for row in self._rows[start:]:
            deal = self._first(row.base, left)
            if deal != row.agreement:
                yield row, dict(left)
            if deal:
                left[deal] = EXACT.subtract(left[deal], row.base)

    def spare(self, old: Worked, new: Worked) -> Decimal | None:
        """The least that a line behind ``old``, as ``new``, leaves of the agreement they share."""
        start = bisect_right(self._numbers, old.n)
        if len(self._deals) == 1 and old.agreement:
            if self._last < start:
                return None  # nobody behind has it
            more = EXACT.subtract(new.base, old.base)
            spare = EXACT.subtract(self._after[self._last].copy_negate(), more)
            if spare >= 0:
                return spare  # nobody lost it yet, and the last leaves least
        left = dict(old.left)
        left[new.agreement] = EXACT.subtract(left[new.agreement], new.base)
        least: Decimal | None = None
        self._sheet.scanned += len(self._rows) - start
        for row in self._rows[start:]:
            deal = self._first(row.base, left)
            if deal:
                left[deal] = EXACT.subtract(left[deal], row.base)
            if deal == new.agreement:
                least = left[deal] if least is None else min(least, left[deal])
        return least

    def _first(self, base: Decimal, left: Mapping[str, Decimal]) -> str:
        for deal in self._deals:
            if deal.low <= base <= left[deal.agreement.id]:
                return deal.agreement.id
        return ""


def _typed(line: Line, price: Decimal, by_rules: Found) -> Found:
    """The price typed on a line, with what the rules would have given."""
    passed = by_rules.passed_over
    if by_rules.offer is not None:
        rule = by_rules.offer
        replaced = PassedOver(
            source=rule.source, reason="replaced", price=rule.price, per=rule.per, unit=rule.unit
        )
        passed = (replaced, *passed)
    offer = Offer(
        price=price,
        per=ONE,
        unit=line.unit,
        source="typed",
        top=price,
        over=line.item.units.factor(line.unit),
        steps=(Step(code="typed", source="typed", value=price, per=ONE, unit=line.unit),),
        discountable=False,
    )
    return replace(by_rules, offer=offer, passed_over=passed, split=None)
