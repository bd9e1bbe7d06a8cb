"""The rules once more, the slow way: fractions, full loops, nothing remembered.

Written from the rules' text, to be compared with the core. It uses the core's records as data and
none of its computations. Prices in one currency, lists that do not derive.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from fractions import Fraction
from math import floor

from routecore.pricing import Agreement, CustomerPrice, DiscountRule, Item, PriceEntry
from routecore.totals import Line

F = Fraction
CENT = F(1, 100)


def half_up(value: Fraction) -> Fraction:
    """To the cent, half away from zero (values are not negative here)."""
    return F(floor(value / CENT + F(1, 2))) * CENT


def factor(item: Item, unit: str) -> Fraction | None:
    """How many base units one unit holds."""
    if unit == item.units.base:
        return F(1)
    return F(item.units.factors[unit]) if unit in item.units.factors else None


@dataclass(frozen=True)
class Offered:
    """A price per base unit and where it came from; two are the same if they are the same row."""

    row: object
    source: str
    per_base_unit: Fraction
    discountable: bool
    agreement: str = ""


@dataclass
class World:
    """What gives prices and discounts, for one customer."""

    on: date
    lists: Sequence[tuple[str, Sequence[PriceEntry]]]
    customer_prices: Sequence[CustomerPrice] = ()
    agreements: Sequence[Agreement] = ()
    rules: Sequence[DiscountRule] = ()
    policy: str = "chain"

    def offer(self, line: Line, left: dict[str, Fraction]) -> Offered | None:
        """The first candidate that holds."""
        item, base = line.item, base_of(line)
        if line.price is not None:
            each = F(line.price) / (factor(item, line.unit) or 1)
            return Offered(line, "typed", each, False)
        for row in self.agreements:
            entry, unit = row.entry, factor(item, row.entry.unit)
            if entry.item != item.id or unit is None or not self.holds(entry):
                continue
            if F(entry.from_quantity) * unit <= base <= left.get(row.id, F(row.remaining) * unit):
                source = f"agreement:{row.id}"
                return Offered(row, source, each_of(entry, item), entry.discountable, row.id)
        own = [row.entry for row in self.customer_prices]
        for source, entries in (("customer_price:FARM", own), *self.lists):
            found = self.best(line, entries)
            if found is not None:
                return Offered(found, source, each_of(found, item), found.discountable)
        return None

    def holds(self, entry: PriceEntry) -> bool:
        first, last = entry.valid_from or date.min, entry.valid_to or date.max
        return first <= self.on <= last

    def best(self, line: Line, entries: Sequence[PriceEntry]) -> PriceEntry | None:
        """Own unit first, then the greatest from, then the latest first day, then the first row."""
        best: PriceEntry | None = None
        for entry in entries:
            unit = factor(line.item, entry.unit)
            if entry.item != line.item.id or unit is None or not self.holds(entry):
                continue
            if F(entry.from_quantity) * unit > base_of(line):
                continue
            if best is None or self.rank(entry, line) > self.rank(best, line):
                best = entry
        return best

    def rank(self, entry: PriceEntry, line: Line) -> tuple[bool, Fraction, date]:
        start = F(entry.from_quantity) * (factor(line.item, entry.unit) or 1)
        return entry.unit == line.unit, start, entry.valid_from or date.min


def each_of(entry: PriceEntry, item: Item) -> Fraction:
    """The price of one base unit."""
    return F(entry.price) / F(entry.per) / (factor(item, entry.unit) or 1)


def base_of(line: Line) -> Fraction:
    return F(line.quantity) * (factor(line.item, line.unit) or 1)


class Document:
    """The lines of a document, priced."""

    def __init__(self, world: World, lines: Sequence[Line]):
        self.world, self.lines = world, list(lines)
        left: dict[str, Fraction] = {}
        self.offers: list[Offered | None] = [None] * len(lines)
        for wanted in (True, False):
            for n, line in enumerate(lines):
                if line.counted is not wanted:
                    continue
                offer = self.offers[n] = world.offer(line, left)
                if wanted and offer and offer.agreement:
                    row = next(r for r in world.agreements if r.id == offer.agreement)
                    full = F(row.remaining) * (factor(line.item, row.entry.unit) or 1)
                    left[row.id] = left.get(row.id, full) - base_of(line)

    def amount(self, n: int) -> Fraction:
        offer = self.offers[n]
        return base_of(self.lines[n]) * offer.per_base_unit if offer else F(0)

    def touches(self, n: int, rule: DiscountRule) -> bool:
        offer, item = self.offers[n], self.lines[n].item
        named = rule.item in (None, item.id) and rule.group in (None, item.group)
        days = (rule.valid_from or date.min) <= self.world.on <= (rule.valid_to or date.max)
        if not (offer and offer.discountable and named and days):
            return False
        return self.own(n, rule) is not None

    def own(self, n: int, rule: DiscountRule) -> Fraction | None:
        """A line's own measure."""
        line = self.lines[n]
        if rule.measure == "amount":
            return self.amount(n)
        if rule.measure == "weight":
            return None if line.item.weight_kg is None else base_of(line) * F(line.item.weight_kg)
        unit = factor(line.item, rule.unit or line.item.units.base)
        return None if unit is None else base_of(line) / unit

    def measured(self, n: int, rule: DiscountRule) -> Fraction:
        """What decides a rule's tier for a line."""
        own = self.own(n, rule)
        assert own is not None
        if rule.over == "line":
            return own
        total = F(0)
        for other, line in enumerate(self.lines):
            if not line.counted or self.offers[other] is None:
                continue
            if rule.over == "group" and not self.touches(other, rule):
                continue
            total += self.own(other, rule) or 0
        return total if self.lines[n].counted else total + own

    def tier(self, n: int, rule: DiscountRule) -> int:
        if not self.touches(n, rule):
            return -1
        whole = self.measured(n, rule)
        return sum(1 for tier in rule.tiers if F(tier.start) <= whole) - 1

    def off(self, n: int, rule: DiscountRule, tier: int, on: Fraction) -> Fraction:
        """What a rule takes off an amount at a tier."""
        line = self.lines[n]
        unit = factor(line.item, rule.unit or line.item.units.base)
        units = base_of(line) / unit if unit else F(0)
        if not rule.graduated:
            step = rule.tiers[tier]
            if step.percent is not None:
                return on * F(step.percent) / 100
            if step.per_line is not None:
                return min(F(step.per_line), on)
            return min(units * F(step.per_unit or 0), on)
        whole, taken = self.measured(n, rule), F(0)
        for k in range(tier + 1):
            step = rule.tiers[k]
            end = F(rule.tiers[k + 1].start) if k < tier else whole
            part = (end - F(step.start)) / whole if whole else F(0)
            if step.percent is not None:
                taken += on * part * F(step.percent) / 100
            else:
                taken += units * part * F(step.per_unit or 0)
        return min(taken, on)

    def rules(
        self, n: int, forced: dict[str, int] | None = None
    ) -> Iterator[tuple[DiscountRule, int]]:
        for rule in self.world.rules:
            if self.touches(n, rule):
                tier = self.tier(n, rule)
                tier = forced.get(rule.id, tier) if forced else tier
                if tier >= 0:
                    yield rule, tier

    def takings(
        self, n: int, forced: dict[str, int] | None = None
    ) -> list[tuple[DiscountRule, Fraction]]:
        reached = list(self.rules(n, forced))
        exclusive = [pair for pair in reached if pair[0].exclusive]
        amount = left = self.amount(n)
        if exclusive or (self.world.policy == "best" and reached):
            offs = [(rule, self.off(n, rule, tier, amount)) for rule, tier in exclusive or reached]
            return [max(offs, key=lambda pair: pair[1])]
        found = []
        for rule, tier in reached:
            off = min(
                self.off(n, rule, tier, left if self.world.policy == "chain" else amount), left
            )
            left -= off
            found.append((rule, off))
        return found

    def exact_net(self, n: int, forced: dict[str, int] | None = None) -> Fraction:
        line = self.lines[n]
        left = self.amount(n) - sum((off for _, off in self.takings(n, forced)), F(0))
        if line.discount_percent is not None:
            left -= left * F(line.discount_percent) / 100
        if line.discount_amount is not None:
            left = max(left - F(line.discount_amount), F(0))
        return left

    def net(self, n: int, forced: dict[str, int] | None = None) -> Fraction:
        return half_up(self.exact_net(n, forced))

    def lines_net(self) -> Fraction:
        counted = (n for n, line in enumerate(self.lines) if line.counted and self.offers[n])
        return sum((self.net(n) for n in counted), F(0))

    def with_line(self, n: int, **changes: object) -> "Document":
        """The same document with one line otherwise."""
        lines = list(self.lines)
        lines[n] = replace(lines[n], **changes)  # type: ignore[arg-type]
        return Document(self.world, lines)

    def wanted_at(self, n: int, quantity: Decimal) -> "Document":
        """The line as it is, at the price that it would have at another quantity."""
        there = self.with_line(n, quantity=quantity)
        made = Document(self.world, self.lines)
        made.offers[n] = there.offers[n]
        return made
