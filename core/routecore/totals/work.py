"""Lines in the making: price found, amount, the rules that touch them, what these take off.

Rules over several lines need every line's amount before any discount; so lines are first worked to
that point, then measured together, then discounted.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal

from routecore.money import HUNDRED, ZERO, round_amount
from routecore.pricing import (
    Asked,
    DiscountRule,
    FoundPrice,
    PassedOver,
    PriceBook,
    Step,
    find_price,
)
from routecore.pricing.goods import not_valid
from routecore.totals.lines import Line
from routecore.totals.terms import DocumentTerms

ONE = Decimal(1)
Touch = tuple[DiscountRule, Decimal]
Taking = tuple[DiscountRule, Decimal, Decimal | None]


@dataclass(slots=True)
class Worked:
    """A line with its price and its amount before any discount.

    ``touches`` are the rules that hold for it with the line's own measure; ``refused`` those that
    do not, and why. ``left`` is what its turn found of the agreements.
    """

    line: Line
    quantity: Decimal
    base: Decimal
    found: FoundPrice | None
    passed: tuple[PassedOver, ...]
    exact: Decimal
    touches: tuple[Touch, ...]
    refused: tuple[PassedOver, ...]
    left: Mapping[str, Decimal]


@dataclass(slots=True)
class Measured:
    """What the rules over several lines measure: the total by rule, over the counted lines."""

    rules: tuple[DiscountRule, ...]
    totals: dict[str, Decimal]

    def tiers(self) -> tuple[int, ...]:
        """The tier that each rule reaches."""
        return tuple(rule.reached(self.totals[rule.id]) for rule in self.rules)


def work_lines(lines: Sequence[Line], book: PriceBook, terms: DocumentTerms) -> list[Worked]:
    """Every line worked, in order; counted lines draw agreements down before the others look."""
    left: dict[str, Decimal] = {}
    worked: list[Worked | None] = [None] * len(lines)
    for wanted in (True, False):
        for n, line in enumerate(lines):
            if line.counted is wanted:
                worked[n] = work_line(line, book, terms, left)
                if wanted:
                    _draw(worked[n], book, left)
    return [row for row in worked if row is not None]


def _draw(row: Worked | None, book: PriceBook, left: dict[str, Decimal]) -> None:
    if row is None or row.found is None or not row.found.agreement:
        return
    for agreement in book.agreements(row.line.item.id):
        if agreement.id == row.found.agreement:
            unit = agreement.entry.unit
            drawn = row.line.item.units.convert(row.line.quantity, row.line.unit, unit)
            left[agreement.id] = left.get(agreement.id, agreement.remaining) - drawn


def work_line(
    line: Line,
    book: PriceBook,
    terms: DocumentTerms,
    left: Mapping[str, Decimal],
    instead: Decimal | None = None,
) -> Worked:
    """One line: typed price, else the search; its amount; the rules that touch it.

    With another quantity ``instead`` of its own, the price alone is found, without its trail.
    """
    item, brief = line.item, instead is not None
    quantity = line.quantity if instead is None else instead
    base = item.units.convert(quantity, line.unit, item.units.base)
    seen = dict(left) if book.agreements(item.id) else left
    asked = Asked(item, quantity, line.unit, terms.on, terms.currency, seen, brief)
    answer = find_price(book, asked)
    found = answer if isinstance(answer, FoundPrice) else None
    passed = () if found else answer
    if line.price is not None:
        found = _typed(line, line.price, found, passed)  # type: ignore[arg-type]
    if found is None:
        return Worked(line, quantity, base, None, passed, ZERO, (), (), seen)  # type: ignore[arg-type]
    exact = item.units.convert(quantity, line.unit, found.unit) * found.price / found.per
    touches, refused = _touching(line, base, exact, found, book, terms)
    return Worked(line, quantity, base, found, found.passed_over, exact, touches, refused, seen)


def _typed(
    line: Line, price: Decimal, rule: FoundPrice | None, passed: tuple[PassedOver, ...]
) -> FoundPrice:
    if rule is not None:
        replaced = PassedOver(
            source=rule.source, reason="replaced", price=rule.price, per=rule.per, unit=rule.unit
        )
        passed = (replaced, *rule.passed_over)
    step = Step(code="typed", source="typed", value=price, per=ONE, unit=line.unit)
    return FoundPrice(
        price=price,
        per=ONE,
        unit=line.unit,
        source="typed",
        steps=(step,),
        passed_over=passed,
        discountable=False,
    )


def _touching(
    line: Line,
    base: Decimal,
    exact: Decimal,
    found: FoundPrice,
    book: PriceBook,
    terms: DocumentTerms,
) -> tuple[tuple[Touch, ...], tuple[PassedOver, ...]]:
    touches: list[Touch] = []
    refused: list[PassedOver] = []
    for rule in book.rules(line.item):
        reason = not_valid(rule.valid_from, rule.valid_to, terms.on)
        day = rule.valid_from if reason == "not_yet_valid" else rule.valid_to
        if not reason and rule.currency not in (None, terms.currency):
            reason = "other_currency"
        if not reason and not found.discountable:
            reason = "net_price"
        own = None if reason else rule.measure_of(line.item, base, exact)
        if not reason and own is None:
            reason = "not_measurable"
        if own is not None:
            touches.append((rule, own))
        else:
            refused.append(
                PassedOver(
                    source=f"rule:{rule.id}",
                    reason=reason,
                    day=day if reason in ("not_yet_valid", "expired") else None,
                    currency=rule.currency or "" if reason == "other_currency" else "",
                )
            )
    return tuple(touches), tuple(refused)


def measure(worked: Sequence[Worked]) -> Measured:
    """The totals of every rule over several lines that touches any line."""
    rules: dict[str, DiscountRule] = {}
    totals: dict[str, Decimal] = {}
    for row in worked:
        for rule, own in row.touches:
            if rule.alone:
                continue
            rules.setdefault(rule.id, rule)
            if row.line.counted and rule.over == "group":
                totals[rule.id] = totals.get(rule.id, ZERO) + own
    for rule in rules.values():
        if rule.over == "document":
            totals[rule.id] = sum((part_of(rule, row) for row in worked), ZERO)
        totals.setdefault(rule.id, ZERO)
    return Measured(tuple(rules.values()), totals)


def part_of(rule: DiscountRule, row: Worked) -> Decimal:
    """What a line adds to a rule over several lines; nothing where it is not counted."""
    if not row.line.counted or row.found is None:
        return ZERO
    if rule.over == "document":
        return rule.measure_of(row.line.item, row.base, row.exact) or ZERO
    return next((own for touched, own in row.touches if touched.id == rule.id), ZERO)


def takings(
    row: Worked,
    totals: Mapping[str, Decimal],
    policy: str,
    forced: Mapping[str, int] | None = None,
) -> list[Taking]:
    """What each rule that applies takes off the line, unrounded, never more than is left.

    ``forced`` sets the tier of some rules instead of what is measured.
    """
    reached: list[tuple[DiscountRule, Decimal, Decimal, int]] = []
    for rule, own in row.touches:
        whole = own if rule.alone else totals[rule.id]
        if not rule.alone and not row.line.counted:
            whole += own
        tier = rule.reached(whole)
        if forced is not None:
            tier = forced.get(rule.id, tier)
        if tier >= 0:
            reached.append((rule, own, whole, tier))
    if not reached:
        return []
    exclusive = [entry for entry in reached if entry[0].exclusive]
    if exclusive or policy == "best":
        return [_greatest(row, exclusive or reached)]
    left = row.exact
    found: list[Taking] = []
    for rule, own, whole, tier in reached:
        amount = left if policy == "chain" else row.exact
        off, percent = rule.gives(
            row.line.item, row.base, amount, tier=tier, own=own, measured=whole
        )
        off = min(off, left)
        left -= off
        found.append((rule, off, percent))
    return found


def _greatest(row: Worked, entries: Iterable[tuple[DiscountRule, Decimal, Decimal, int]]) -> Taking:
    best: Taking | None = None
    for rule, own, whole, tier in entries:
        off, percent = rule.gives(
            row.line.item, row.base, row.exact, tier=tier, own=own, measured=whole
        )
        if best is None or off > best[1]:
            best = (rule, off, percent)
    assert best is not None
    return best


def own_discount(line: Line, left: Decimal) -> Decimal:
    """What the typed discount takes off what the rules left; never more than that."""
    if line.discount_percent is not None:
        return left * line.discount_percent / HUNDRED
    if line.discount_amount is not None:
        return min(line.discount_amount, left)
    return ZERO


def net_of(
    row: Worked,
    totals: Mapping[str, Decimal],
    policy: str,
    currency: str,
    forced: Mapping[str, int] | None = None,
) -> Decimal:
    """The line's net, rounded once: the amount less what rules and the typed discount take."""
    left = row.exact
    if row.touches:
        for _, off, _ in takings(row, totals, policy, forced):
            left -= off
    return round_amount(left - own_discount(row.line, left), currency)
