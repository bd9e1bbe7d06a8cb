"""Where a larger quantity of a line meets other terms: another price, another tier of a rule.

The quantities that matter are walked upwards. Between two prices the price stands still, so each
rule's next tier has one least quantity there, found by multiplying and one rounding up to what can
be typed; an amount that falls at a lower price, or jumps at a higher one, is met where it is.
"""

from collections.abc import Iterator, Mapping
from decimal import Decimal
from typing import NamedTuple

from routecore.exact import EXACT, ZERO, Ratio
from routecore.pricing import DiscountRule, Offer, Touch
from routecore.pricing.find import TINY
from routecore.pricing.touch import Key
from routecore.quantity import Typeable, typeable
from routecore.totals.draft import Lines
from routecore.totals.measure import part_of
from routecore.totals.work import Worked


class Stop(NamedTuple):
    """A quantity in the line's unit at which something changes, and the line there.

    ``repriced`` where it is the price that changes.
    """

    quantity: Decimal
    row: Worked
    repriced: bool


#: How often a quantity may fail the tier that it was found for before the rule is given up.
PATIENCE = 50
#: How many later lines may lose their agreement, one after another, before the walk goes on without
#: looking at what that moves.
MOST_DROPS = 50
#: How many lines are looked at for that, over a whole document, before it is not looked at any more.
MOST_SCANNED = 300_000


class Road:
    """A line's way upwards from its quantity.

    ``now`` is the tier of each rule on the item, -1 where it does not touch the line; ``open`` are the
    rules whose next tier was not answered yet.
    """

    def __init__(self, row: Worked, lines: Lines):
        item = row.line.item
        self._row, self._lines = row, lines
        self._factor = item.units.factor(row.line.unit)
        self._grid: Typeable = typeable(
            self._factor, item.minimum_quantity, item.pack_multiple or None
        )
        self.wants_price = True
        self.now: dict[str, int] = {}
        self.open: dict[str, DiscountRule] = {}
        self._wanted: dict[str, int] = {}
        self._touches: dict[str, Touch] = {}
        self._failed = 0
        self._pending = self._repriced = False
        self._known: dict[str, tuple[Offer, int, Decimal | None]] = {}
        self._totals: Mapping[Key, Ratio] = {}
        self._drop: Decimal | None = None
        self._drops = MOST_DROPS if lines.meters.rules and row.prices.deals else 0
        #: Rules over several lines that are not looked for: what moves them costs too much by now.
        self.left_out = 0
        for touch in row.prices.holding:
            rule = touch.rule
            tier = lines.meters.of(touch, row).tier if row.touches else -1
            self.now[rule.id] = tier
            if tier + 1 >= len(rule.tiers):
                continue
            if self._drops and touch.key is not None and lines.sheet.scanned > MOST_SCANNED:
                self.left_out += 1
            else:
                self.open[rule.id] = rule
                self._wanted[rule.id] = tier + 1
                self._touches[rule.id] = touch

    def answered(self, rule: str) -> None:
        """The rule needs no further look of its own."""
        del self.open[rule]

    def is_new(self, rule: str, tier: int, stop: Stop) -> bool:
        """Whether a stop is the first in a tier, or at a price, of a rule."""
        return stop.repriced or (rule in self._wanted and tier >= self._wanted[rule])

    def passed(self, tiers: Mapping[str, int]) -> None:
        """A stop is done: the tiers that rules stand in there are not looked for again.

        A rule that was reached and gives nothing yet may do so when another changes: then the
        further tiers of answered rules are stops too.
        """
        further = False
        for name, tier in tiers.items():
            if name in self._wanted and tier >= self._wanted[name]:
                further = True
                self._wanted[name] = tier + 1
                if tier + 1 >= len(self._touches[name].rule.tiers):
                    del self._wanted[name]
        self._failed = 0 if further else self._failed + 1
        self._pending = any(tiers.get(name, -1) > self.now[name] for name in self.open)

    def _looked_for(self) -> list[str]:
        """The rules whose next tier is a stop."""
        pending = self._pending or (self.wants_price and self._repriced)
        return [name for name in self._wanted if pending or name in self.open]

    def stops(self) -> Iterator[Stop]:
        """The quantities, ascending, at which the price changes or a wanted tier is reached."""
        row = self._row
        prices = map(self._grid.holding, row.prices.ahead(row.base, row.line.unit, row.left))
        quantity = self._grid.after(row.line.quantity)
        offer, end = row.offer, next(prices, None)
        self._look_around(row)
        while quantity is not None and self._goes_on(end):
            repriced = dropped = False
            if end is not None and end <= quantity:
                new = offer if end < quantity else self._offer(quantity)
                end = next(prices, None)
                if new is offer:
                    continue
                offer, repriced = new, True
                self._repriced = offer is not row.offer
            elif self._drop is not None and self._drop <= quantity:
                dropped = True
            else:
                bound = self._drop if end is None else min(end, self._drop or end)
                least = self._least(quantity, offer)
                if least is None and bound is None:
                    return
                if least is None or (bound is not None and bound <= least):
                    quantity = bound
                    continue
                quantity = least
            there = row.at(EXACT.multiply(quantity, self._factor), offer)
            if repriced or dropped:
                self._look_around(there)
            if not dropped or self._reached(there):
                yield Stop(quantity, there, repriced)
            quantity = self._grid.after(quantity)

    def _reached(self, there: Worked) -> bool:
        """Whether a rule stands in a wanted tier, once later lines have lost their agreement."""
        if self._pending or (self.wants_price and self._repriced):
            return True
        if there.offer is None or not there.offer.discountable:
            return False
        for name in self._looked_for():
            touch = self._touches[name]
            base = self._reaching(touch, touch.rule.tiers[self._wanted[name]].start, there.offer)
            if base is not None and not base.exceeds(Ratio(there.base)):
                return True
        return False

    def _goes_on(self, end: Decimal | None) -> bool:
        """Whether a tier is looked for, or another price lies ahead that could matter."""
        if self._failed < PATIENCE and self._looked_for():
            return True
        return end is not None and (self.wants_price or bool(self.open))

    def _look_around(self, there: Worked) -> None:
        """What later lines lose of an agreement here, and the quantity at which they lose more: it
        moves what rules over several lines measure."""
        self._drop = None
        if not self._drops or self._lines.sheet.scanned > MOST_SCANNED:
            return
        self._drops -= 1
        sheet, row = self._lines.sheet, self._row
        others = sheet.redrawn(row, there)
        pairs = [(sheet.rows[n], other) for n, other in others.items()]
        self._totals = self._lines.meters.totals_with(pairs)
        self._known.clear()
        drop = sheet.next_drop(row, there)
        if drop is not None:
            self._drop = self._grid.holding(Ratio(EXACT.add(drop, TINY)))

    def _offer(self, quantity: Decimal) -> Offer | None:
        row = self._row
        return row.prices.offer(EXACT.multiply(quantity, self._factor), row.line.unit, row.left)

    def _least(self, start: Decimal, offer: Offer | None) -> Decimal | None:
        """The least quantity from ``start`` on that reaches a wanted tier, at the price of an offer."""
        if offer is None or not offer.discountable or self._failed >= PATIENCE:
            return None
        found: Decimal | None = None
        for name in self._looked_for():
            touch, tier = self._touches[name], self._wanted[name]
            known = self._known.get(name)
            if known is not None and known[0] is offer and known[1] == tier:
                quantity = known[2]
            else:
                base = self._reaching(touch, touch.rule.tiers[tier].start, offer)
                quantity = None if base is None else self._grid.holding(base)
                self._known[name] = offer, tier, quantity
            if quantity is not None:
                quantity = max(quantity, start)
                found = quantity if found is None else min(found, quantity)
        return found

    def _reaching(self, touch: Touch, threshold: Decimal, offer: Offer) -> Ratio | None:
        """The base quantity that brings a rule's measure to a threshold; None where none does."""
        needed = Ratio(threshold)
        if touch.key is not None:
            top, under = part_of(touch.key, self._row)
            total = self._totals.get(touch.key) or self._lines.meters.totals[touch.key]
            rest = total.plus(top.copy_negate(), under)
            needed = needed.plus(rest.top.copy_negate(), rest.under)
        gauge = touch.gauge
        times, under = (
            (offer.top, offer.over) if gauge.weight is None else (gauge.weight, gauge.under)
        )
        if not times:
            return None if needed.top > 0 else Ratio(ZERO)
        return Ratio(EXACT.multiply(needed.top, under), EXACT.multiply(needed.under, times))
