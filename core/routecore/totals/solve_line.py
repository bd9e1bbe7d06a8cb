"""Backwards for one line: the typed discount that brings it to a price, a net or a margin."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.exact import EXACT, HUNDRED, ONE, PERCENT_STEP, ZERO, amount_of, nearest, units_of
from routecore.money import in_own_context, minor_digits, minor_unit
from routecore.pricing import PriceBook
from routecore.totals.document import measure_lines, price_document
from routecore.totals.draft import Draft
from routecore.totals.limits import Excess, Limits, exceeded
from routecore.totals.lines import Line
from routecore.totals.sums import aim_of, basis_of, sums_with
from routecore.totals.tax import TaxTable
from routecore.totals.terms import DocumentTerms

#: How far, in minor units of the line's net, the answer is looked for around the one by bisection:
#: a share of a discount is rounded, so a margin may step back by a unit on its way up.
AROUND = 40


@dataclass(frozen=True, slots=True, kw_only=True)
class LineSolution:
    """A typed discount of one line; ``net`` is what the line then comes to.

    ``margin_percent`` is the line's, after its share of the document discount. ``blocked`` lists the
    limits that stand in the way.
    """

    amount: Decimal
    percent: Decimal
    net: Decimal
    exact: bool
    margin_percent: Decimal | None = None
    blocked: tuple[Excess, ...] = ()


@in_own_context
def solve_line(
    terms: DocumentTerms,
    book: PriceBook,
    lines: Sequence[Line],
    taxes: TaxTable,
    line_id: str,
    *,
    price: Decimal | None = None,
    net: Decimal | None = None,
    margin: Decimal | None = None,
    limits: Limits | None = None,
) -> LineSolution:
    """The typed discount that brings one line to a unit price, a net or a margin percent.

    ``price`` is per the price's own unit and base quantity. A margin is the line's after its share of
    the document discount, met by the greatest discount that keeps it. Raises ``InvalidInput`` where
    the line has no price, its cost is unknown (for a margin), or the target lies above what it costs
    now.
    """
    given = _Given(terms, book, lines, taxes, line_id)
    if price is not None:
        goal = nearest(EXACT.multiply(given.draft.row.base, price), given.priced_for(), given.unit)
    elif margin is not None:
        goal = given.goal_for_margin(margin)
    elif net is not None:
        goal = nearest(net, ONE, given.unit)
    else:
        raise InvalidInput("no_target", path="line")
    return given.solution(goal, margin, limits)


class _Given:
    """The document without the line's typed discount."""

    def __init__(
        self,
        terms: DocumentTerms,
        book: PriceBook,
        lines: Sequence[Line],
        taxes: TaxTable,
        line_id: str,
    ):
        self._terms, self._book, self._taxes = terms, book, taxes
        self._lines = [
            replace(row, discount_percent=None, discount_amount=None) if row.id == line_id else row
            for row in lines
        ]
        self.unit = minor_unit(terms.currency)
        measured = measure_lines(self._lines, book, terms)
        self._drafts = [Draft(row, measured) for row in measured.sheet.rows]
        found = [draft for draft in self._drafts if draft.row.line.id == line_id]
        if not found or found[0].row.offer is None:
            raise InvalidInput("needs_price", path="line", facts={"line": line_id})
        self.draft = found[0]

    def priced_for(self) -> Decimal:
        """How many base units the line's price is for."""
        offer, item = self.draft.row.offer, self.draft.row.line.item
        assert offer is not None
        return EXACT.multiply(item.units.factor(offer.unit), offer.per)

    def goal_for_margin(self, margin: Decimal) -> Decimal:
        """The least net at which the line keeps a margin after its share of the document discount."""
        if self.draft.cost is None:
            raise InvalidInput(
                "unknown_cost", path="margin", facts={"line": self.draft.row.line.id}
            )
        if margin >= HUNDRED:
            raise InvalidInput("out_of_range", path="margin", facts={"value": margin})
        digits = minor_digits(self._terms.currency)
        low, high = -1, units_of(self.draft.net, digits)
        if not self._keeps(high, margin):
            raise self._out_of_reach()
        most = high
        while high - low > 1:
            middle = (low + high) // 2
            low, high = (low, middle) if self._keeps(middle, margin) else (middle, high)
        for units in range(max(high - AROUND, 0), min(high + AROUND, most) + 1):
            if self._keeps(units, margin):
                return amount_of(units, digits)
        return amount_of(high, digits)

    def _keeps(self, units: int, margin: Decimal) -> bool:
        """Whether the line at a net in minor units has at least the margin."""
        cost = self.draft.cost
        assert cost is not None
        after = self._after_share(amount_of(units, minor_digits(self._terms.currency)))
        if after <= 0:
            return not cost
        return EXACT.multiply(EXACT.subtract(after, cost), HUNDRED) >= EXACT.multiply(margin, after)

    def _after_share(self, net: Decimal) -> Decimal:
        if not self.draft.counts:
            return net
        counted = [draft for draft in self._drafts if draft.counts]
        basis = basis_of(
            [net if draft is self.draft else draft.net for draft in counted],
            [draft.row.line.item.tax_category for draft in counted],
            self._terms,
            self._taxes,
        )
        shares = sums_with(basis, aim_of(basis).discount).shares
        return EXACT.subtract(net, shares[counted.index(self.draft)])

    def solution(
        self, goal: Decimal, margin: Decimal | None, limits: Limits | None
    ) -> LineSolution:
        """The discount that brings the line to a net, and what the document says then."""
        amount = EXACT.subtract(self.draft.net, goal)
        if amount < 0 or goal < 0:
            raise self._out_of_reach()
        taken, line_id = self.draft.taken, self.draft.row.line.id
        typed = [
            replace(row, discount_amount=amount) if row.id == line_id else row
            for row in self._lines
        ]
        document = price_document(self._terms, self._book, typed, self._taxes)
        [reached] = [row for row in document.lines if row.id == line_id]
        share = (
            nearest(amount * HUNDRED * taken.over, taken.left, PERCENT_STEP) if taken.left else ZERO
        )
        blocked = exceeded(document, typed, limits) if limits else ()
        return LineSolution(
            amount=amount,
            percent=min(share, HUNDRED),
            net=reached.net or ZERO,
            exact=reached.net == goal if margin is None else reached.margin_percent == margin,
            margin_percent=reached.margin_percent,
            blocked=tuple(excess for excess in blocked if excess.line in ("", line_id)),
        )

    def _out_of_reach(self) -> InvalidInput:
        return InvalidInput("out_of_reach", path="line", facts={"without_discount": self.draft.net})
