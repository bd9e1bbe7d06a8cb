"""The whole document: lines, document discount, tax, payable, margin."""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.money import (
    CONTEXT,
    HUNDRED,
    ZERO,
    in_own_context,
    minor_unit,
    round_amount,
    round_to_step,
    split_amount,
    sum_of,
)
from routecore.pricing import PriceBook
from routecore.quantity import check_quantity
from routecore.totals.breaks import next_breaks
from routecore.totals.lines import Line, PricedLine, price_line
from routecore.totals.result import PricedDocument, Problem, Totals
from routecore.totals.tax import TaxTable, tax_rows
from routecore.totals.terms import DocumentTerms

TENTH = Decimal("0.1")


@in_own_context
def price_document(
    terms: DocumentTerms, book: PriceBook, lines: Sequence[Line], taxes: TaxTable
) -> PricedDocument:
    """Price every line and sum the counted ones.

    Rounds at each line's net, the document discount, each tax component, the payable; the shares
    of the document discount add up to it exactly.

    Source: EN 16931 BR-CO-10 to BR-CO-17 for the order of the sums.
    """
    _ids_differ(lines)
    priced = [price_line(line, book, terms) for line in lines]
    lines_net = _minor(sum_of(p.net for p in priced if p.counted and p.net is not None), terms)
    discount = terms.discount.on(lines_net, terms.currency) if terms.discount else ZERO
    priced = _with_shares(priced, _minor(discount, terms), terms.currency)
    totals = _totals(terms, lines, priced, lines_net, taxes)
    return PricedDocument(
        currency=terms.currency,
        lines=tuple(priced),
        totals=totals,
        next_breaks=next_breaks(zip(lines, priced, strict=True), lines_net, terms),
        problems=tuple(_problems(lines, priced)),
    )


def _minor(value: Decimal, terms: DocumentTerms) -> Decimal:
    return round_amount(value, terms.currency)


def _ids_differ(lines: Sequence[Line]) -> None:
    seen: set[str] = set()
    for n, line in enumerate(lines):
        if line.id in seen:
            raise InvalidInput("double_id", path=f"lines[{n}].id", facts={"id": line.id})
        seen.add(line.id)


def _with_shares(priced: list[PricedLine], discount: Decimal, currency: str) -> list[PricedLine]:
    counted = [n for n, line in enumerate(priced) if line.counted and line.net is not None]
    shares = dict(
        zip(
            counted,
            split_amount(discount, [priced[n].net or ZERO for n in counted], currency),
            strict=True,
        )
    )
    zero = ZERO.quantize(minor_unit(currency))
    return [_with_margin(line, shares.get(n, zero)) for n, line in enumerate(priced)]


def _with_margin(line: PricedLine, share: Decimal) -> PricedLine:
    if line.net is None or line.cost is None:
        return replace(line, document_discount_share=share)
    net = line.net - share
    return replace(
        line,
        document_discount_share=share,
        margin=net - line.cost,
        margin_percent=margin_percent(net, line.cost),
    )


def margin_percent(net: Decimal, cost: Decimal) -> Decimal | None:
    """Margin in percent of net, to a tenth; None where the net is zero.

    >>> margin_percent(Decimal("861.60"), Decimal("479.00"))
    Decimal('44.4')
    """
    if not net:
        return None
    share = CONTEXT.divide(CONTEXT.multiply(net - cost, HUNDRED), net)
    return round_to_step(share, TENTH)


def _totals(
    terms: DocumentTerms,
    lines: Sequence[Line],
    priced: Sequence[PricedLine],
    lines_net: Decimal,
    taxes: TaxTable,
) -> Totals:
    counted = [
        (line, p, p.net)
        for line, p in zip(lines, priced, strict=True)
        if p.counted and p.net is not None
    ]
    discount = _minor(sum_of(p.document_discount_share for _, p, _ in counted), terms)
    net = lines_net - discount
    rows = tax_rows(
        (
            (line.item.tax_category, amount - p.document_discount_share)
            for line, p, amount in counted
        ),
        taxes,
        currency=terms.currency,
        rounding=terms.tax_rounding,
    )
    tax_total = _minor(sum_of(row.amount for row in rows), terms)
    gross = net + tax_total
    payable = round_to_step(gross, terms.payable_step or minor_unit(terms.currency))
    costs = [p.cost for _, p, _ in counted]
    cost = None if None in costs else _minor(sum_of(c for c in costs if c is not None), terms)
    return Totals(
        lines_net=lines_net,
        document_discount=discount,
        charges=_minor(ZERO, terms),
        net=net,
        tax=rows,
        tax_total=tax_total,
        gross=gross,
        payable_rounding=_minor(payable - gross, terms),
        payable=_minor(payable, terms),
        cost=cost,
        margin=None if cost is None else net - cost,
        margin_percent=None if cost is None else margin_percent(net, cost),
    )


def _problems(lines: Sequence[Line], priced: Sequence[PricedLine]) -> Iterable[Problem]:
    for line, result in zip(lines, priced, strict=True):
        if result.price is None:
            yield Problem(code="needs_price", line=line.id)
        fault = check_quantity(
            line.quantity,
            unit_factor=line.item.units.factor(line.unit),
            minimum=line.item.minimum_quantity,
            multiple=line.item.pack_multiple,
        )
        if fault:
            yield Problem(
                code=fault.code, line=line.id, facts={"below": fault.below, "above": fault.above}
            )
    if not any(line.counted for line in lines):
        yield Problem(code="nothing_counted")
