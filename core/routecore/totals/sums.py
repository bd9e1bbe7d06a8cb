"""From the lines' nets to the payable: discount, charges, tax, rounding.

Whole minor units inside: a cent cannot get lost. A document discount is split first over the tax
categories, then over the lines of each, both in proportion (decision 0011).
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal

from routecore.exact import ZERO, amount_of, units_of
from routecore.money import minor_digits, minor_unit, round_amount, round_to_step, split_units
from routecore.totals.gross import Category, Taxed
from routecore.totals.result import ChargeRow
from routecore.totals.tax import TaxRow, TaxTable, rates_of, tax_rows
from routecore.totals.terms import DocumentTerms


@dataclass(slots=True)
class Basis:
    """The counted lines' nets with their tax categories, and the charges: all before discount.

    ``by_category`` are the nets' sums; where only sums are asked, ``nets`` may be left empty.
    """

    terms: DocumentTerms
    taxes: TaxTable
    by_category: Mapping[str, Decimal]
    nets: Sequence[Decimal] = ()
    categories: Sequence[str] = ()
    lines_net: Decimal = field(init=False)
    charges: tuple[ChargeRow, ...] = field(init=False)

    def __post_init__(self) -> None:
        self.lines_net = sum(self.by_category.values(), ZERO)
        self.charges = tuple(
            ChargeRow(
                name=charge.name,
                amount=charge.on(self.lines_net, self.terms.currency),
                tax_category=charge.tax_category,
            )
            for charge in self.terms.charges
        )

    @property
    def charged(self) -> Decimal:
        """The sum of the charges."""
        return sum((row.amount for row in self.charges), ZERO)

    def taxed(self) -> Taxed:
        """The gross as a function of the discount."""
        digits = minor_digits(self.terms.currency)
        names = [*self.by_category, *(c.tax_category for c in self.charges)]
        nets: dict[str, list[int]] = {name: [] for name in names}
        if self.terms.tax_rounding == "line":
            for net, name in zip(self.nets, self.categories, strict=True):
                nets[name].append(units_of(net, digits))
        charges: dict[str, list[int]] = {name: [] for name in names}
        for row in self.charges:
            charges[row.tax_category].append(units_of(row.amount, digits))
        return Taxed(
            [
                Category(
                    rates=rates_of(self.taxes, name),
                    whole=units_of(self.by_category.get(name, ZERO), digits),
                    nets=nets[name],
                    charges=charges[name],
                )
                for name in nets
            ],
            self.terms.tax_rounding,
        )


@dataclass(slots=True)
class Sums:
    """The sums under one document discount; ``shares`` are its parts by line."""

    discount: Decimal
    shares: list[Decimal]
    tax: tuple[TaxRow, ...]
    tax_total: Decimal
    net: Decimal
    gross: Decimal


@dataclass(slots=True)
class Aim:
    """What a document's discount comes to on its net, and what it brings the gross to.

    It is taken ``on`` a net or a gross. ``target``, of a discount on the gross, is what is rounded to
    the payable: the gross less what is ``wanted`` off it; or, where no discount on the lines comes
    within what payable rounding may bridge (``missed``), the nearest that they can bear.
    """

    discount: Decimal
    on: Decimal
    target: Decimal | None = None
    wanted: Decimal = ZERO
    missed: bool = False


def basis_of(
    nets: Sequence[Decimal], categories: Sequence[str], terms: DocumentTerms, taxes: TaxTable
) -> Basis:
    """The basis of the counted lines, with the charges on their sum."""
    by_category: dict[str, Decimal] = {}
    for net, category in zip(nets, categories, strict=True):
        by_category[category] = by_category.get(category, ZERO) + net
    return Basis(terms, taxes, by_category, nets, categories)


def sums_with(basis: Basis, discount: Decimal) -> Sums:
    """The sums where so much comes off the net; the parts of the discount add up to it exactly."""
    terms = basis.terms
    digits = minor_digits(terms.currency)
    nets = [units_of(net, digits) for net in basis.nets]
    shares = _shares(nets, basis.categories, units_of(discount, digits))
    taxed: dict[str, list[int]] = {}
    for category, net, share in zip(basis.categories, nets, shares, strict=True):
        taxed.setdefault(category, []).append(net - share)
    for row in basis.charges:
        taxed.setdefault(row.tax_category, []).append(units_of(row.amount, digits))
    rows = tax_rows(taxed, basis.taxes, digits=digits, rounding=terms.tax_rounding)
    tax_total = round_amount(sum((row.amount for row in rows), ZERO), terms.currency)
    whole = round_amount(basis.lines_net - discount + basis.charged, terms.currency)
    parts = [amount_of(share, digits) for share in shares]
    return Sums(discount, parts, rows, tax_total, whole, whole + tax_total)


def _shares(nets: Sequence[int], categories: Sequence[str], discount: int) -> list[int]:
    """The discount by line: over the categories first, then over the lines of each."""
    if not discount:
        return [0] * len(nets)
    places: dict[str, list[int]] = {}
    for n, category in enumerate(categories):
        places.setdefault(category, []).append(n)
    of_categories = split_units(discount, [sum(nets[n] for n in ns) for ns in places.values()])
    shares = [0] * len(nets)
    for lines, share in zip(places.values(), of_categories, strict=True):
        parts = split_units(share, [nets[n] for n in lines])
        for n, part in zip(lines, parts, strict=True):
            shares[n] = part
    return shares


def aim_of(basis: Basis) -> Aim:
    """The discount on the net that the document's own discount comes to, and the gross it aims at."""
    terms = basis.terms
    discount, zero = terms.discount, round_amount(ZERO, terms.currency)
    if discount is None:
        return Aim(zero, basis.lines_net)
    if discount.on == "net":
        return Aim(discount.off(basis.lines_net, terms.currency), basis.lines_net)
    digits, taxed = minor_digits(terms.currency), basis.taxed()
    gross = amount_of(taxed.gross(0), digits)
    off = discount.off(gross, terms.currency)
    solved, reached = taxed.nearest(units_of(gross - off, digits))
    found = amount_of(reached, digits)
    missed = abs(gross - off - found) > bridge(basis)
    return Aim(amount_of(solved, digits), gross, found if missed else gross - off, off, missed)


def net_after(lines_net: Decimal, terms: DocumentTerms) -> Decimal:
    """The document's net where its discount, if any, is on the net: no tax is asked."""
    off = ZERO if terms.discount is None else terms.discount.off(lines_net, terms.currency)
    return lines_net - off + sum((c.on(lines_net, terms.currency) for c in terms.charges), ZERO)


def bridge(basis: Basis) -> Decimal:
    """The most that payable rounding makes up for where no discount on the net hits the gross.

    Half a minor unit for each tax component of the document, in whole units.
    """
    names = {*basis.by_category, *(row.tax_category for row in basis.charges)}
    components = sum(len(basis.taxes[name]) for name in names)
    return minor_unit(basis.terms.currency) * ((components + 1) // 2)


def payable_of(gross: Decimal, terms: DocumentTerms) -> Decimal:
    """The gross rounded to the payable's step."""
    step = terms.payable_step or minor_unit(terms.currency)
    return round_amount(round_to_step(gross, step), terms.currency)
