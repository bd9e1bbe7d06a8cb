"""From the lines' nets to the payable: discount, charges, tax, rounding."""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from routecore.money import ZERO, minor_unit, round_amount, round_to_step, split_amount
from routecore.totals.result import ChargeRow
from routecore.totals.tax import TaxRow, TaxTable, tax_rows
from routecore.totals.terms import DocumentTerms


@dataclass(slots=True)
class Basis:
    """The counted lines' nets with their tax categories, and the charges: all before discount."""

    nets: Sequence[Decimal]
    categories: Sequence[str]
    charges: tuple[ChargeRow, ...]
    terms: DocumentTerms
    taxes: TaxTable

    @property
    def lines_net(self) -> Decimal:
        """The sum of the lines."""
        return sum(self.nets, ZERO)

    @property
    def charged(self) -> Decimal:
        """The sum of the charges."""
        return sum((row.amount for row in self.charges), ZERO)


@dataclass(slots=True)
class Sums:
    """The sums under one document discount; ``shares`` are its parts by line."""

    discount: Decimal
    shares: list[Decimal]
    tax: tuple[TaxRow, ...]
    tax_total: Decimal
    net: Decimal
    gross: Decimal


def basis_of(
    nets: Sequence[Decimal], categories: Sequence[str], terms: DocumentTerms, taxes: TaxTable
) -> Basis:
    """The basis of the counted lines, with the charges on their sum."""
    lines_net = sum(nets, ZERO)
    charges = tuple(
        ChargeRow(
            name=charge.name,
            amount=charge.on(lines_net, terms.currency),
            tax_category=charge.tax_category,
        )
        for charge in terms.charges
    )
    return Basis(nets, categories, charges, terms, taxes)


def sums_with(basis: Basis, discount: Decimal) -> Sums:
    """The sums where so much comes off the net; the parts of the discount add up to it exactly."""
    terms = basis.terms
    shares = split_amount(discount, basis.nets, terms.currency) if discount else []
    if not shares:
        shares = [ZERO] * len(basis.nets)
    taxed = [
        (category, net - share)
        for category, net, share in zip(basis.categories, basis.nets, shares, strict=True)
    ]
    taxed += [(row.tax_category, row.amount) for row in basis.charges]
    rows = tax_rows(taxed, basis.taxes, currency=terms.currency, rounding=terms.tax_rounding)
    tax_total = round_amount(sum((row.amount for row in rows), ZERO), terms.currency)
    net = round_amount(basis.lines_net - discount + basis.charged, terms.currency)
    return Sums(discount, shares, rows, tax_total, net, net + tax_total)


def discounted(basis: Basis) -> tuple[Sums, Decimal]:
    """The sums under the document's own discount, and the gross that it aims at."""
    discount = basis.terms.discount
    if discount is None:
        sums = sums_with(basis, round_amount(ZERO, basis.terms.currency))
        return sums, sums.gross
    if discount.on == "net":
        sums = sums_with(basis, discount.off(basis.lines_net, basis.terms.currency))
        return sums, sums.gross
    gross = sums_with(basis, ZERO).gross
    target = gross - discount.off(gross, basis.terms.currency)
    return reach_gross(basis, target), target


def reach_gross(basis: Basis, target: Decimal) -> Sums:
    """The discount on the net whose gross comes nearest to a target; of equals, the smaller.

    The gross falls by about (1 + rate) for each unit of discount and is rounded by category, so the
    nearest is looked for around the proportional answer, a little further than rounding can move it.
    """
    unit, lines_net = minor_unit(basis.terms.currency), basis.lines_net
    start = sums_with(basis, ZERO)
    free = sums_with(basis, lines_net)
    span = start.gross - free.gross
    if not span or not lines_net:
        return start
    guess = round_amount((start.gross - target) * lines_net / span, basis.terms.currency)
    reach = len(start.tax) + 2
    best: Sums | None = None
    for step in range(-reach, reach + 1):
        discount = min(max(guess + step * unit, ZERO), lines_net)
        sums = sums_with(basis, discount)
        if best is None or abs(sums.gross - target) < abs(best.gross - target):
            best = sums
    return best or start


def payable_of(gross: Decimal, terms: DocumentTerms) -> Decimal:
    """The gross rounded to the payable's step."""
    step = terms.payable_step or minor_unit(terms.currency)
    return round_amount(round_to_step(gross, step), terms.currency)
