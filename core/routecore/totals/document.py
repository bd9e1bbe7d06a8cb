"""The whole document: lines, document discount, charges, tax, payable, margin."""

from collections.abc import Iterable, Mapping, Sequence
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.exact import ZERO
from routecore.money import in_own_context, minor_unit, round_amount
from routecore.pricing import PriceBook
from routecore.quantity import check_quantity
from routecore.totals.breaks import find_breaks
from routecore.totals.draft import Draft, Lines, margin_percent
from routecore.totals.lines import Line, PricedLine
from routecore.totals.measure import Meters
from routecore.totals.result import PricedDocument, Problem, Totals
from routecore.totals.sums import Aim, Basis, Sums, aim_of, basis_of, payable_of, sums_with
from routecore.totals.tax import TaxTable
from routecore.totals.terms import DocumentTerms
from routecore.totals.work import Sheet


@in_own_context
def price_document(
    terms: DocumentTerms,
    book: PriceBook,
    lines: Sequence[Line],
    taxes: TaxTable,
    tax_reasons: Mapping[str, str] | None = None,
) -> PricedDocument:
    """Price every line and sum the counted ones.

    Rounds at each line's net, the document discount and each charge, each tax component, the
    payable, and a line's cost; the shares of the document discount add up to it exactly. Where
    ``tax_reasons`` are given, a category without tax that has none is a problem.

    Source: EN 16931 BR-CO-10 to BR-CO-17 for the order of the sums.
    """
    _ids_differ(lines)
    measured = measure_lines(lines, book, terms)
    drafts = [Draft(row, measured) for row in measured.sheet.rows]
    counted = [draft for draft in drafts if draft.counts]
    categories = [draft.row.line.item.tax_category for draft in counted]
    basis = basis_of([draft.net for draft in counted], categories, terms, taxes)
    aim = aim_of(basis)
    sums = sums_with(basis, aim.discount)
    shares = {draft.row.n: share for draft, share in zip(counted, sums.shares, strict=True)}
    zero = ZERO.quantize(minor_unit(terms.currency))
    priced = tuple(draft.priced(shares.get(draft.row.n, zero)) for draft in drafts)
    breaks, left_out = find_breaks(
        measured, [draft.net for draft in drafts], terms, taxes, sums.net
    )
    return PricedDocument(
        currency=terms.currency,
        lines=priced,
        totals=_totals(basis, sums, aim, [draft.cost for draft in counted]),
        next_breaks=breaks,
        problems=tuple(_problems(lines, priced, sums, aim, tax_reasons)),
        discount=terms.discount,
        discount_on=aim.on,
        breaks_left_out=left_out,
    )


@in_own_context
def price_alone(terms: DocumentTerms, book: PriceBook, line: Line) -> PricedLine:
    """One line as ``price_document`` prices it where it stands alone and nothing is taken off the whole.

    Without sums, taxes and the next breaks: what they need is not looked for.
    """
    measured = measure_lines([line], book, terms)
    (row,) = measured.sheet.rows
    return Draft(row, measured).priced(ZERO.quantize(minor_unit(terms.currency)))


def measure_lines(lines: Sequence[Line], book: PriceBook, terms: DocumentTerms) -> Lines:
    """The lines priced and measured together, ready to be discounted."""
    sheet = Sheet(lines, book, terms)
    return Lines(sheet, Meters(sheet.rows), book, terms.currency, minor_unit(terms.currency))


def _ids_differ(lines: Sequence[Line]) -> None:
    seen: set[str] = set()
    for n, line in enumerate(lines):
        if line.id in seen:
            raise InvalidInput("double_id", path=f"lines[{n}].id", facts={"id": line.id})
        seen.add(line.id)


def _totals(basis: Basis, sums: Sums, aim: Aim, costs: Sequence[Decimal | None]) -> Totals:
    currency = basis.terms.currency
    known = [cost for cost in costs if cost is not None]
    cost = round_amount(sum(known, ZERO), currency) if len(known) == len(costs) else None
    earned = basis.lines_net - sums.discount
    payable = payable_of(sums.gross if aim.target is None else aim.target, basis.terms)
    return Totals(
        lines_net=round_amount(basis.lines_net, currency),
        document_discount=round_amount(sums.discount, currency),
        charges=round_amount(basis.charged, currency),
        net=sums.net,
        tax=sums.tax,
        tax_total=sums.tax_total,
        gross=sums.gross,
        payable_rounding=round_amount(payable - sums.gross, currency),
        payable=payable,
        cost=cost,
        margin=None if cost is None else earned - cost,
        margin_percent=None if cost is None else margin_percent(earned, cost),
        charge_rows=basis.charges,
    )


def _problems(
    lines: Sequence[Line],
    priced: Sequence[PricedLine],
    sums: Sums,
    aim: Aim,
    tax_reasons: Mapping[str, str] | None,
) -> Iterable[Problem]:
    counted = {line.id for line in lines if line.counted}
    for line, result in zip(lines, priced, strict=True):
        yield from _of_line(line, result, counted)
    if not counted:
        yield Problem(code="nothing_counted")
    if aim.missed:
        facts = {"wanted": aim.wanted, "reached": aim.on - sums.gross}
        yield Problem(code="discount_not_reached", facts={**facts})
    if tax_reasons is not None:
        for row in sums.tax:
            if not row.name and not tax_reasons.get(row.category, "").strip():
                yield Problem(code="needs_tax_reason", facts={"category": row.category})


def _of_line(line: Line, result: PricedLine, counted: set[str]) -> Iterable[Problem]:
    if result.price is None:
        yield Problem(code="needs_price", line=line.id)
    if line.alternative_to is not None and line.alternative_to not in counted:
        yield Problem(code="unknown_original", line=line.id)
    item = line.item
    if item.minimum_quantity is None and item.pack_multiple is None:
        return
    fault = check_quantity(
        line.quantity,
        unit_factor=item.units.factor(line.unit),
        minimum=item.minimum_quantity,
        multiple=item.pack_multiple,
    )
    if fault:
        facts = {"below": fault.below, "above": fault.above}
        yield Problem(code=fault.code, line=line.id, facts={**facts})
