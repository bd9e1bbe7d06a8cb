"""Backwards: the discount that reaches a target, exact to the minor unit, and the nearest percent."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import ROUND_FLOOR, Decimal

from routecore.errors import InvalidInput
from routecore.money import HUNDRED, ZERO, in_own_context, minor_unit, round_amount, round_to_step
from routecore.pricing import PriceBook
from routecore.totals.document import margin_percent, price_document
from routecore.totals.limits import Excess, Limits, exceeded
from routecore.totals.lines import Line
from routecore.totals.result import PricedDocument
from routecore.totals.sums import basis_of, payable_of, reach_gross
from routecore.totals.tax import TaxTable
from routecore.totals.terms import DocumentDiscount, DocumentTerms
from routecore.totals.work import measure, net_of, takings, work_lines

PERCENT_STEP = Decimal("0.0001")
TARGETS = ("net", "payable", "margin_percent")


@dataclass(frozen=True, slots=True, kw_only=True)
class Solution:
    """A document discount on the net; ``percent`` is the nearest (four decimals).

    ``reached`` is what the target figure comes to; ``exact`` whether it is the target. ``blocked``
    lists the limits that stand in the way.
    """

    amount: Decimal
    percent: Decimal
    reached: Decimal
    exact: bool
    document: PricedDocument
    blocked: tuple[Excess, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class LineSolution:
    """A typed discount of one line; ``net`` is what the line then comes to."""

    amount: Decimal
    percent: Decimal
    net: Decimal
    exact: bool


@in_own_context
def solve_document(
    terms: DocumentTerms,
    book: PriceBook,
    lines: Sequence[Line],
    taxes: TaxTable,
    *,
    target: str,
    value: Decimal,
    limits: Limits | None = None,
) -> Solution:
    """The discount on the net that brings ``net``, ``payable`` or ``margin_percent`` to a value.

    Any discount that the document has is replaced. Raises ``InvalidInput`` (``out_of_reach``) where
    no discount between nothing and everything does it, with what can be reached as facts.
    """
    if target not in TARGETS:
        raise InvalidInput("unknown_choice", path="target", facts={"value": target})
    free = replace(terms, discount=None)
    plain = price_document(free, book, lines, taxes)
    off = _discount_for(free, plain, book, lines, taxes, target, value)
    whole = plain.totals.lines_net
    if not ZERO <= off <= whole:
        raise InvalidInput(
            "out_of_reach",
            path="value",
            facts={"target": target, "without_discount": _figure(plain, target)},
        )
    document = price_document(
        replace(terms, discount=DocumentDiscount(amount=off)), book, lines, taxes
    )
    reached = _figure(document, target)
    return Solution(
        amount=off,
        percent=round_to_step(off * HUNDRED / whole, PERCENT_STEP) if whole else ZERO,
        reached=reached,
        exact=reached == value,
        document=document,
        blocked=exceeded(document, lines, limits) if limits else (),
    )


def _figure(document: PricedDocument, target: str) -> Decimal:
    value = getattr(document.totals, target)
    if value is None:
        raise InvalidInput("unknown_cost", path="target", facts={"target": target})
    return Decimal(value)


def _discount_for(
    terms: DocumentTerms,
    plain: PricedDocument,
    book: PriceBook,
    lines: Sequence[Line],
    taxes: TaxTable,
    target: str,
    value: Decimal,
) -> Decimal:
    totals, unit = plain.totals, minor_unit(terms.currency)
    if target == "net":
        return totals.net - round_amount(value, terms.currency)
    if target == "margin_percent":
        if totals.cost is None:
            raise InvalidInput("unknown_cost", path="target", facts={"target": target})
        if value >= HUNDRED:
            raise InvalidInput("out_of_range", path="value", facts={"value": value})
        wanted = totals.cost * HUNDRED / (HUNDRED - value)
        off = ((totals.lines_net - wanted) / unit).to_integral_value(ROUND_FLOOR) * unit
        return max(off, ZERO) if margin_percent(totals.lines_net, totals.cost) == value else off
    counted = [
        (priced.net or ZERO, line.item.tax_category)
        for line, priced in zip(lines, plain.lines, strict=True)
        if line.counted and priced.net is not None
    ]
    basis = basis_of([net for net, _ in counted], [c for _, c in counted], terms, taxes)
    if value > payable_of(totals.gross, terms):
        return -unit
    sums = reach_gross(basis, value)
    if abs(sums.gross - value) > (terms.payable_step or unit) + unit:
        return -unit
    return sums.discount


@in_own_context
def solve_line(
    terms: DocumentTerms,
    book: PriceBook,
    lines: Sequence[Line],
    line_id: str,
    *,
    price: Decimal | None = None,
    net: Decimal | None = None,
    margin: Decimal | None = None,
) -> LineSolution:
    """The typed discount that brings one line to a unit price, a net or a margin percent.

    ``price`` is per the price's own unit and base quantity. Raises ``InvalidInput`` where the line
    has no price, its cost is unknown (for a margin), or the target lies above what it costs now.
    """
    bare = [
        replace(row, discount_percent=None, discount_amount=None) if row.id == line_id else row
        for row in lines
    ]
    worked = work_lines(bare, book, terms)
    row = next((row for row in worked if row.line.id == line_id), None)
    if row is None or row.found is None:
        raise InvalidInput("needs_price", path="line", facts={"line": line_id})
    totals = measure(worked).totals
    left = row.exact - sum((off for _, off, _ in takings(row, totals, book.policy)), ZERO)
    wanted = net
    if price is not None:
        units = row.line.item.units.convert(row.line.quantity, row.line.unit, row.found.unit)
        wanted = units * price / row.found.per
    if margin is not None:
        cost = row.line.item.cost
        if cost is None:
            raise InvalidInput("unknown_cost", path="margin", facts={"line": line_id})
        if margin >= HUNDRED:
            raise InvalidInput("out_of_range", path="margin", facts={"value": margin})
        wanted = round_amount(row.base * cost, terms.currency) * HUNDRED / (HUNDRED - margin)
    if wanted is None:
        raise InvalidInput("no_target", path="line")
    goal = round_amount(wanted, terms.currency)
    amount = round_amount(left, terms.currency) - goal
    if amount < 0 or goal < 0:
        raise InvalidInput("out_of_reach", path="line", facts={"without_discount": left})
    solved = replace(row, line=replace(row.line, discount_amount=amount))
    reached = net_of(solved, totals, book.policy, terms.currency)
    return LineSolution(
        amount=amount,
        percent=round_to_step(amount * HUNDRED / left, PERCENT_STEP) if left else ZERO,
        net=reached,
        exact=reached == goal,
    )
