"""A line with its net and its cost, on the way from worked to priced."""

from collections.abc import Iterable
from dataclasses import dataclass, field
from decimal import Decimal

from routecore.exact import EXACT, HUNDRED, ONE, SIX_DECIMALS, ZERO, Ratio, nearest
from routecore.pricing import PassedOver, PriceBook, Step
from routecore.totals.lines import PricedLine
from routecore.totals.measure import Meters
from routecore.totals.take import Taken, after_own_discount, take
from routecore.totals.work import Sheet, Worked

TENTH = Decimal("0.1")


@dataclass(slots=True)
class Lines:
    """The worked lines of a document, measured: what a line is discounted by."""

    sheet: Sheet
    meters: Meters
    book: PriceBook
    currency: str
    unit: Decimal


@dataclass(slots=True)
class Draft:
    """A line before its share of the document discount is known."""

    row: Worked
    lines: Lines
    cost: Decimal | None = field(init=False)
    taken: Taken = field(init=False)
    left: Decimal = field(init=False)
    net: Decimal = field(init=False)

    def __post_init__(self) -> None:
        row, lines = self.row, self.lines
        cost = row.line.item.cost
        self.cost = (
            None if cost is None else nearest(EXACT.multiply(row.base, cost), ONE, lines.unit)
        )
        self.taken = (
            take(row, lines.meters, lines.book.policy)
            if row.touches
            else Taken((), row.exact, row.over)
        )
        self.left = after_own_discount(row.line, self.taken.left, self.taken.over)
        self.net = nearest(self.left, self.taken.over, lines.unit) if row.offer else ZERO

    @property
    def counts(self) -> bool:
        """Whether the line adds to the document: counted, and with a price."""
        return self.row.counts

    def priced(self, share: Decimal) -> PricedLine:
        """The finished line, with its share of the document discount."""
        row, line, offer, found = self.row, self.row.line, self.row.offer, self.row.found
        assert found is not None
        if offer is None:
            return PricedLine(
                id=line.id,
                unit=line.unit,
                counted=line.counted,
                document_discount_share=share,
                cost=self.cost,
                steps=(Step(code="needs_price"),),
                passed_over=found.passed_over,
                split=found.split,
            )
        amount = nearest(row.exact, row.over, self.lines.unit)
        after = self.net - share
        by_rules = self._by_rules()
        return PricedLine(
            id=line.id,
            unit=offer.unit,
            counted=line.counted,
            price=offer.price,
            per=offer.per,
            source=offer.source,
            amount=amount,
            discount=amount - self.net,
            net=self.net,
            by_rules=None if by_rules is None else by_rules.rounded(self.lines.unit),
            document_discount_share=share,
            cost=self.cost,
            margin=None if self.cost is None else after - self.cost,
            margin_percent=None if self.cost is None else margin_percent(after, self.cost),
            steps=self._steps(),
            passed_over=self._passed_over(found.passed_over),
            split=found.split,
            exact_net=Ratio(self.left, self.taken.over),
            exact_by_rules=by_rules,
        )

    def _passed_over(self, prices: tuple[PassedOver, ...]) -> tuple[PassedOver, ...]:
        """Prices, then rules; the same tuple where there is no rule: it may be a long one."""
        rules = (*self._refused(), *self._idle())
        return prices + rules if rules else prices

    def _by_rules(self) -> Ratio | None:
        """What the rules alone would give for this line in this document."""
        row, lines = self.row, self.lines
        if row.line.price is None:
            return Ratio(self.taken.left, self.taken.over)
        plain = lines.sheet.untyped(row)
        if plain.offer is None:
            return None
        others = lines.sheet.redrawn(row, plain)
        changes = [(row, plain), *((lines.sheet.rows[n], new) for n, new in others.items())]
        _, left, over = take(plain, lines.meters, lines.book.policy, lines.meters.moved(changes))
        return Ratio(left, over)

    def _steps(self) -> tuple[Step, ...]:
        offer, line = self.row.offer, self.row.line
        assert offer is not None
        if (
            not self.taken.takings
            and line.discount_percent is None
            and line.discount_amount is None
        ):
            return offer.steps
        steps = list(offer.steps)
        for rule, top, over, percent in self.taken.takings:
            off = top if over is ONE else Ratio(top, over).rounded(SIX_DECIMALS)
            steps.append(Step(code="rule", source=f"rule:{rule.id}", value=off, percent=percent))
        if self.left != self.taken.left:
            by_rules = nearest(self.taken.left, self.taken.over, self.lines.unit)
            off = by_rules - self.net
            steps.append(Step(code="line_discount", value=off, percent=line.discount_percent))
        return tuple(steps)

    def _refused(self) -> tuple[PassedOver, ...]:
        """Rules on the item that do not hold for this line."""
        prices, offer = self.row.prices, self.row.offer
        return prices.refused_rules if offer and offer.discountable else prices.net_price()

    def _idle(self) -> Iterable[PassedOver]:
        """Rules that hold and yet take nothing: not reached, or another stands alone."""
        if len(self.taken.takings) == len(self.row.touches):
            return
        applied = {taking.rule.id for taking in self.taken.takings}
        alone = any(taking.rule.exclusive for taking in self.taken.takings)
        for touch in self.row.touches:
            rule = touch.rule
            if rule.id in applied:
                continue
            if self.lines.meters.of(touch, self.row).tier >= 0:
                reason = "not_exclusive" if alone and not rule.exclusive else "not_greatest"
                yield PassedOver(source=f"rule:{rule.id}", reason=reason)
                continue
            units = {"quantity": rule.unit or self.row.line.item.units.base, "weight": "KGM"}
            yield PassedOver(
                source=f"rule:{rule.id}",
                reason="below",
                from_quantity=rule.tiers[0].start,
                unit=units.get(rule.measure, ""),
                currency=self.lines.currency if rule.measure == "amount" else "",
            )


def margin_percent(net: Decimal, cost: Decimal) -> Decimal | None:
    """Margin in percent of net, to a tenth; None where the net is zero.

    >>> margin_percent(Decimal("861.60"), Decimal("479.00"))
    Decimal('44.4')
    """
    if not net:
        return None
    if net < 0:
        return margin_percent(net.copy_negate(), cost.copy_negate())
    earned = EXACT.multiply(EXACT.subtract(net, cost), HUNDRED)
    return nearest(earned, net, TENTH)
