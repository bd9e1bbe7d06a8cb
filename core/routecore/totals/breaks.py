"""The nearest better tier of each line."""

from collections.abc import Iterable
from decimal import Decimal

from routecore.money import CONTEXT, ZERO, round_amount
from routecore.pricing import FoundPrice, PriceEntry
from routecore.quantity import reach
from routecore.totals.lines import Line, PricedLine, exact_amount, line_discount
from routecore.totals.result import NextBreak
from routecore.totals.terms import DocumentTerms


def next_breaks(
    lines: Iterable[tuple[Line, PricedLine]], lines_net: Decimal, terms: DocumentTerms
) -> tuple[NextBreak, ...]:
    """One per counted line whose price list has a cheaper tier ahead, the greatest gain first."""
    found = [
        step
        for line, priced in lines
        if line.counted and (step := _next_break(line, priced, lines_net, terms))
    ]
    now = _net(lines_net, terms)
    return tuple(sorted(found, key=lambda b: (b.new_net - now - b.saves, b.line)))


def _next_break(
    line: Line, priced: PricedLine, lines_net: Decimal, terms: DocumentTerms
) -> NextBreak | None:
    if priced.found is None or priced.found.next_entry is None or priced.net is None:
        return None
    found, tier = priced.found, priced.found.next_entry
    if not _cheaper(line, tier, found):
        return None
    quantity = reach(
        line.item.units.convert(tier.from_quantity, tier.unit, line.item.units.base),
        unit_factor=line.item.units.factor(line.unit),
        minimum=line.item.minimum_quantity,
        multiple=line.item.pack_multiple,
    )
    new_net = _net(lines_net - priced.net + _line_net(line, quantity, tier, terms), terms)
    return NextBreak(
        line=line.id,
        rule=priced.source,
        add=CONTEXT.subtract(quantity, line.quantity),
        quantity=quantity,
        unit=line.unit,
        new_net=new_net,
        saves=priced.net - _line_net(line, line.quantity, tier, terms),
        cheaper_overall=new_net < _net(lines_net, terms),
    )


def _cheaper(line: Line, tier: PriceEntry, found: FoundPrice) -> bool:
    def one(price: Decimal, per: Decimal, unit: str) -> Decimal:
        return exact_amount(line.item, Decimal(1), line.unit, price, per, unit)

    return one(tier.price, tier.per, tier.unit) < one(found.price, found.per, found.unit)


def _line_net(line: Line, quantity: Decimal, tier: PriceEntry, terms: DocumentTerms) -> Decimal:
    exact = exact_amount(line.item, quantity, line.unit, tier.price, tier.per, tier.unit)
    return round_amount(CONTEXT.subtract(exact, line_discount(line, exact)), terms.currency)


def _net(lines_net: Decimal, terms: DocumentTerms) -> Decimal:
    off = terms.discount.on(lines_net, terms.currency) if terms.discount else ZERO
    return lines_net - off
