"""Backwards: the document discount that reaches a target, exact to the minor unit, and the nearest
percent. One line's: ``solve_line``."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.exact import (
    EXACT,
    HUNDRED,
    PERCENT_STEP,
    ZERO,
    amount_of,
    least_whole,
    nearest,
    units_of,
)
from routecore.money import in_own_context, minor_digits, round_amount
from routecore.pricing import PriceBook
from routecore.totals.document import price_document
from routecore.totals.limits import Excess, Limits, exceeded
from routecore.totals.lines import Line
from routecore.totals.result import PricedDocument
from routecore.totals.sums import basis_of, payable_of
from routecore.totals.tax import TaxTable
from routecore.totals.terms import DocumentDiscount, DocumentTerms

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

    Any discount that the document has is replaced. The net is met exactly, the payable as nearly as
    any discount can, the margin by the greatest discount that keeps it. Raises ``InvalidInput``
    (``out_of_reach``) where no discount between nothing and everything does it, with what can be
    reached as facts.
    """
    if target not in TARGETS:
        raise InvalidInput("unknown_choice", path="target", facts={"value": target})
    free = replace(terms, discount=None)
    plain = price_document(free, book, lines, taxes)
    off = _discount_for(target, value, free, plain, lines, taxes)
    whole = plain.totals.lines_net
    if off is None or not ZERO <= off <= whole:
        raise InvalidInput(
            "out_of_reach",
            path="value",
            facts={"target": target, "without_discount": _figure(plain, target)},
        )
    discounted = replace(terms, discount=DocumentDiscount(amount=off))
    document = price_document(discounted, book, lines, taxes)
    reached = _figure(document, target)
    return Solution(
        amount=off,
        percent=nearest(off * HUNDRED, whole, PERCENT_STEP) if whole else ZERO,
        reached=reached,
        exact=reached == value,
        document=document,
        blocked=exceeded(document, lines, limits) if limits else (),
    )


def _discount_for(
    target: str,
    value: Decimal,
    terms: DocumentTerms,
    plain: PricedDocument,
    lines: Sequence[Line],
    taxes: TaxTable,
) -> Decimal | None:
    """The discount for a target, which may be more than there is, or less than nothing."""
    if target == "payable":
        return _for_payable(terms, plain, lines, taxes, value)
    if target == "net":
        return EXACT.subtract(plain.totals.net, round_amount(value, terms.currency))
    return _for_margin(plain, value)


def _figure(document: PricedDocument, target: str) -> Decimal:
    value = getattr(document.totals, target)
    if value is None:
        raise InvalidInput("unknown_cost", path="target", facts={"target": target})
    return Decimal(value)


def _for_margin(plain: PricedDocument, percent: Decimal) -> Decimal | None:
    """The greatest discount whose margin, before it is rounded, is not below the target."""
    totals = plain.totals
    if totals.cost is None:
        raise InvalidInput("unknown_cost", path="target", facts={"target": "margin_percent"})
    net = least_net(totals.cost, percent, plain.currency)
    if net > totals.lines_net and totals.margin_percent == percent:
        return round_amount(ZERO, plain.currency)  # as good as it is: shown, it is the target
    return EXACT.subtract(totals.lines_net, net)


def least_net(cost: Decimal, margin: Decimal, currency: str) -> Decimal:
    """The least net whose margin on a cost, in percent of the net, is not below a target.

    >>> least_net(Decimal("75.00"), Decimal(35), "EUR")
    Decimal('115.39')
    """
    if margin >= HUNDRED:
        raise InvalidInput("out_of_range", path="value", facts={"value": margin})
    digits = minor_digits(currency)
    top = EXACT.multiply(cost.scaleb(digits, EXACT), HUNDRED)
    return amount_of(least_whole(top, EXACT.subtract(HUNDRED, margin)), digits)


def _for_payable(
    terms: DocumentTerms,
    plain: PricedDocument,
    lines: Sequence[Line],
    taxes: TaxTable,
    value: Decimal,
) -> Decimal | None:
    """The discount whose gross is nearest to a payable; None where that lies out of reach."""
    counted = [
        (priced.net or ZERO, line.item.tax_category)
        for line, priced in zip(lines, plain.lines, strict=True)
        if line.counted and priced.net is not None
    ]
    basis = basis_of([net for net, _ in counted], [c for _, c in counted], terms, taxes)
    digits, taxed = minor_digits(terms.currency), basis.taxed()
    least = payable_of(amount_of(taxed.gross(taxed.whole), digits), terms)
    if not least <= value <= payable_of(plain.totals.gross, terms):
        return None
    discount, _ = taxed.nearest(units_of(round_amount(value, terms.currency), digits))
    return amount_of(discount, digits)
