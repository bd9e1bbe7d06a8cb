"""The sums of a document that joins parts of several offers, each with terms of its own."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.exact import ZERO, units_of
from routecore.money import in_own_context, minor_digits, round_amount
from routecore.totals.result import ChargeRow, Totals
from routecore.totals.sums import Aim, Basis, Sums, aim_of, basis_of, payable_of, sums_with
from routecore.totals.tax import TaxTable, tax_rows
from routecore.totals.terms import DocumentTerms


@dataclass(frozen=True, slots=True, kw_only=True)
class Part:
    """Lines of one offer whose nets are settled, each with its tax category, under the offer's terms."""

    terms: DocumentTerms
    nets: tuple[tuple[Decimal, str], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class PartSums:
    """What one part brings: its discount on the net, the shares of it by line, its charges.

    ``off`` is the discount as the terms name it: of one on the gross what came off the gross, nothing
    where that is a percent.
    """

    lines_net: Decimal
    discount: Decimal
    off: Decimal
    shares: tuple[Decimal, ...]
    charges: tuple[ChargeRow, ...]


@dataclass(slots=True)
class _Worked:
    basis: Basis
    aim: Aim
    sums: Sums


@in_own_context
def total_parts(parts: Sequence[Part], taxes: TaxTable) -> tuple[Totals, tuple[PartSums, ...]]:
    """The sums of the joined document, and what each part brings to it.

    Each part's discount is taken on its own lines, its charges on its own sum; the tax lies on all of
    them together. Costs and margins are not known here. Raises ``InvalidInput`` for no part, and
    where currency, payable step or tax rounding differ.

    Source: EN 16931 BR-CO-10 to BR-CO-17 for the order of the sums.
    """
    terms = _common(parts)
    worked = [_work(part, taxes) for part in parts]
    totals = _joined(worked, terms, taxes)
    return totals, tuple(_part_sums(each, terms.currency) for each in worked)


def _common(parts: Sequence[Part]) -> DocumentTerms:
    """The terms that all parts must share; those of the first."""
    if not parts:
        raise InvalidInput("required", path="parts")
    terms = parts[0].terms
    for n, part in enumerate(parts):
        for name in ("currency", "payable_step", "tax_rounding"):
            if getattr(part.terms, name) != getattr(terms, name):
                raise InvalidInput("terms_differ", path=f"parts[{n}]", facts={"what": name})
    return terms


def _joined(worked: Sequence[_Worked], terms: DocumentTerms, taxes: TaxTable) -> Totals:
    currency = terms.currency
    rows = tax_rows(
        _taxed(worked, minor_digits(currency)),
        taxes,
        digits=minor_digits(currency),
        rounding=terms.tax_rounding,
    )
    tax_total = round_amount(sum((row.amount for row in rows), ZERO), currency)
    net = sum((each.sums.net for each in worked), ZERO)
    gross = net + tax_total
    # What a discount on the gross cannot reach to the cent goes to the payable rounding.
    aimed = sum(
        (each.aim.target - each.sums.gross for each in worked if each.aim.target is not None), ZERO
    )
    payable = payable_of(gross + aimed, terms)
    return Totals(
        lines_net=_sum([each.basis.lines_net for each in worked], currency),
        document_discount=_sum([each.sums.discount for each in worked], currency),
        charges=_sum([each.basis.charged for each in worked], currency),
        net=round_amount(net, currency),
        tax=rows,
        tax_total=tax_total,
        gross=gross,
        payable_rounding=round_amount(payable - gross, currency),
        payable=payable,
        cost=None,
        margin=None,
        margin_percent=None,
        charge_rows=tuple(row for each in worked for row in each.basis.charges),
    )


def _work(part: Part, taxes: TaxTable) -> _Worked:
    nets, categories = [net for net, _ in part.nets], [category for _, category in part.nets]
    basis = basis_of(nets, categories, part.terms, taxes)
    aim = aim_of(basis)
    return _Worked(basis, aim, sums_with(basis, aim.discount))


def _taxed(worked: Sequence[_Worked], digits: int) -> Mapping[str, list[int]]:
    """What each tax category is taxed on, in minor units."""
    found: dict[str, list[int]] = {}
    for each in worked:
        basis = each.basis
        for category, net, share in zip(
            basis.categories, basis.nets, each.sums.shares, strict=True
        ):
            found.setdefault(category, []).append(units_of(net - share, digits))
        for row in basis.charges:
            found.setdefault(row.tax_category, []).append(units_of(row.amount, digits))
    return found


def _part_sums(each: _Worked, currency: str) -> PartSums:
    return PartSums(
        lines_net=round_amount(each.basis.lines_net, currency),
        discount=round_amount(each.sums.discount, currency),
        off=round_amount(_off(each), currency),
        shares=tuple(round_amount(share, currency) for share in each.sums.shares),
        charges=each.basis.charges,
    )


def _off(each: _Worked) -> Decimal:
    named = each.basis.terms.discount
    if named is None or named.on == "net":
        return each.sums.discount
    return each.aim.wanted if named.amount is not None else ZERO


def _sum(amounts: Sequence[Decimal], currency: str) -> Decimal:
    return round_amount(sum(amounts, ZERO), currency)
