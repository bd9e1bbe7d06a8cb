"""What an offer hands on to an order: its terms, its sums, its lines."""

from collections.abc import Mapping, Sequence
from datetime import date
from decimal import Decimal
from typing import Any

from django.conf import settings

from apps.catalogue.models import Item
from apps.orders.models import Acceptance, Order, OrderLine
from apps.orders.offers import Take, Taken, with_place
from apps.prices.models import Agreement
from apps.quotes.models import QuoteLine, Revision
from routecore.casefile.words import plain
from routecore.money import Money, minor_digits
from routecore.quantity import Units
from routecore.totals import PartSums, TaxRow, Totals


def order_of(revision: Revision, totals: Totals, *, number: str, today: date) -> Order:
    """An order of the revision, not yet stored: what carries over, and the sums."""
    quote = revision.quote
    return Order(
        number=number,
        revision=revision,
        customer=quote.customer,
        deal=quote.deal,
        contact=quote.contact,
        owner=quote.owner,
        accepted_on=today,
        partial_deliveries=quote.customer.partial_deliveries,
        buyer_reference=revision.buyer_reference,
        buyer=revision.buyer,
        currency=revision.currency,
        terms_days=revision.terms_days,
        terms_end_of_month=revision.terms_end_of_month,
        terms_more=revision.terms_more,
        **sums_of(totals, revision.currency, revision.base_rate),
    )


def sums_of(totals: Totals, currency: str, base_rate: Decimal | None) -> dict[str, Any]:
    """The sums of an order, by column; the payable also in the base currency, at the offer's rate."""
    digits = minor_digits(currency)
    payable = Money(totals.payable, currency)
    base = payable.converted(base_rate or Decimal(1), settings.BASE_CURRENCY)
    return {
        "lines_net": totals.lines_net,
        "document_discount": totals.document_discount,
        "charges": [
            {
                "name": row.name,
                "amount": plain(row.amount, digits),
                "tax_category": row.tax_category,
            }
            for row in totals.charge_rows
            if row.amount
        ],
        "net": totals.net,
        "tax": [tax_out(row, currency) for row in totals.tax],
        "tax_total": totals.tax_total,
        "gross": totals.gross,
        "payable_rounding": totals.payable_rounding,
        "payable": totals.payable,
        "base_payable": base.amount,
    }


def tax_out(row: TaxRow, currency: str) -> dict[str, str | None]:
    """A tax row as an order keeps it."""
    digits = minor_digits(currency)
    return {
        "category": row.category,
        "name": row.name,
        "percent": plain(row.percent),
        "base": plain(row.base, digits),
        "amount": plain(row.amount, digits),
    }


def acceptance_of(order: Order, revision: Revision, sums: PartSums) -> Acceptance:
    """What the order takes of one offer, not yet stored."""
    made = Acceptance(order=order, revision=revision)
    take_sums(made, sums)
    return made


def take_sums(acceptance: Acceptance, sums: PartSums) -> None:
    """Put down what the offer's lines, discount and charges come to in the order."""
    digits = minor_digits(acceptance.revision.currency)
    acceptance.lines_net, acceptance.discount = sums.lines_net, sums.off
    acceptance.charges = [plain(row.amount, digits) for row in sums.charges]


def lines_of(
    order: Order,
    takes: Sequence[Take],
    parts: Sequence[PartSums],
    places: Mapping[int, dict[str, str]],
) -> list[OrderLine]:
    """The lines of an order, numbered through, not yet stored; ``places`` are addresses by key."""
    agreements = _agreements(takes)
    rows = [
        (row, share, agreements.get(row.line.row.pk))
        for take, part in zip(takes, parts, strict=True)
        for row, share in zip(take.rows, part.shares, strict=True)
    ]
    made = []
    for n, (row, share, agreement) in enumerate(rows, start=1):
        line = _line(order, row, share, agreement, position=n)
        line.delivery_address = places.get(row.want.address_id or 0)
        made.append(line)
    return made


def _agreements(takes: Sequence[Take]) -> Mapping[int, Agreement]:
    """By quote line, the framework agreement that gave its price."""
    numbers: dict[int, str] = {}
    for take in takes:
        sources = {row["id"]: row["source"] or "" for row in take.offer.revision.priced["lines"]}
        for key, line in take.offer.lines.items():
            kind, _, number = sources.get(key, "").partition(":")
            if kind == "agreement":
                numbers[line.row.pk] = number
    known = {row.number: row for row in Agreement.objects.filter(number__in=numbers.values())}
    return {pk: known[number] for pk, number in numbers.items() if number in known}


def _line(
    order: Order, taken: Taken, share: Decimal, agreement: Agreement | None, *, position: int
) -> OrderLine:
    row, want = taken.line.row, with_place(taken.want, taken.line.row)
    made = carried(order, row, share, agreement)
    made.position, made.quantity, made.net = position, taken.quantity, taken.net
    made.called_off = _called_off(taken.item, taken.quantity, row.unit, agreement)
    made.depot_id, made.wanted_on = want.depot_id, want.wanted_on
    return made


def carried(
    order: Order, row: QuoteLine, share: Decimal, agreement: Agreement | None = None
) -> OrderLine:
    """A whole line of goods carried over, not yet stored."""
    assert row.item is not None and row.quantity is not None
    return OrderLine(
        order=order,
        quote_line=row,
        position=row.position,
        item_id=row.item.pk,
        agreement=agreement,
        called_off=_called_off(row.item, row.quantity, row.unit, agreement),
        depot_id=row.depot_id,
        wanted_on=row.wanted_on,
        text=row.text,
        quantity=row.quantity,
        unit=row.unit,
        price=row.price or Decimal(0),
        per=row.per or Decimal(1),
        price_unit=row.price_unit,
        discount_percent=row.discount_percent,
        net=row.net or Decimal(0),
        discount_share=share,
        tax_category=row.tax_category,
    )


def _called_off(
    item: Item, quantity: Decimal, unit: str, agreement: Agreement | None
) -> Decimal | None:
    if agreement is None:
        return None
    factors = {row.unit_id: row.factor for row in item.units.all()}
    return Units(base=item.base_unit_id, factors=factors).in_base(quantity, unit)
