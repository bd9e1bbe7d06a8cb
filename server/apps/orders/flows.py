"""From an accepted revision to an order, with everything carried over."""

from collections.abc import Iterable, Sequence
from datetime import date, datetime
from decimal import Decimal

from django.conf import settings
from django.db import transaction

from apps.catalogue.models import Item
from apps.catalogue.queries import tax_table
from apps.customers.addresses import delivery_address
from apps.deals.flows import close_as_won
from apps.diary.flows import settle_follow_ups
from apps.errors import Invalid, Refused, check_version
from apps.journal.flows import record_changes
from apps.numbering.flows import next_number
from apps.orders.models import Order, OrderLine
from apps.orders.promises import store_promised
from apps.people.access import sells
from apps.people.models import User
from apps.prices.models import Agreement
from apps.quotes.drafts import digest
from apps.quotes.models import WORDS_ONLY, QuoteLine, Revision
from apps.quotes.pricing.excesses import excesses_when_taken
from apps.quotes.pricing.question import terms_of
from apps.quotes.queries import own_revision
from apps.quotes.seen import Seen, check_seen, refuse_unseen
from apps.quotes.state import lock_revision, require
from routecore.casefile.words import plain
from routecore.money import Money, minor_digits
from routecore.quantity import Units
from routecore.totals import TaxRow, Totals, total_nets


@transaction.atomic
def write_order(
    who: User,
    revision_id: int,
    version: int,
    *,
    today: date,
    now: datetime,
    close_deal: bool,
    buyer_reference: str = "",
    requested_on: date | None = None,
    delivery_address_id: int | None = None,
    take: Sequence[str] = (),
    seen: Seen | None = None,
) -> Order:
    """The buyer accepted: an order with the revision's lines, prices locked.

    ``take`` names the alternatives (each in the place of its line) and options that the buyer wants;
    each line keeps the net that was offered, the sums are made anew by the core. ``seen`` has the
    revision's mark, and the total with what was taken.

    Only the newest issued revision can be accepted, once; after its last day of validity it must
    be revised first.
    """
    revision = _acceptable(who, revision_id, version, seen, today)
    if requested_on is not None and requested_on < today:
        raise Invalid("date_gone_by", path="requested_on")
    chosen = _chosen(revision, take)
    totals, shares = _sums(revision, chosen)
    if take and excesses_when_taken(who, revision, chosen, shares, totals, today):
        raise Refused("beyond_limits", path="take")
    _check_total(seen, totals, revision.currency)
    order = order_of(revision, totals, number=next_number("O", today), today=today)
    order.buyer_reference = (buyer_reference or revision.buyer_reference).strip()
    order.requested_on = requested_on
    order.delivery_address = delivery_address(revision.quote.customer, delivery_address_id)
    order.save()
    store_promised(order, _carry_lines(order, revision, chosen, shares), today=today, now=now)
    _tell(who, revision, now, close_deal=close_deal)
    return order


def _acceptable(
    who: User, revision_id: int, version: int, seen: Seen | None, today: date
) -> Revision:
    """The revision, locked, where this person may accept it and it is what they saw."""
    sells(who)
    revision = lock_revision(who, revision_id)
    require("accept", revision, today)
    check_seen(revision, seen)
    check_version(revision.version, version, "quote")
    return revision


def _tell(who: User, revision: Revision, now: datetime, *, close_deal: bool) -> None:
    """The record, the follow-ups and the deal hear that the quote became an order."""
    quote = revision.quote
    record_changes(who, "quote", quote.pk, {f"revision {revision.letter}": ("issued", "ordered")})
    settle_follow_ups(quote.number, now=now)
    if quote.deal_id and close_deal:
        close_as_won(who, quote.deal_id, now)


def _check_total(seen: Seen | None, totals: Totals, currency: str) -> None:
    """Refuse an order of another total than the person saw, with what was taken."""
    payable = plain(totals.payable, minor_digits(currency)) or ""
    if seen is not None and seen.payable != payable:
        refuse_unseen(seen.payable, payable, currency)


def total_of_order(who: User, revision_id: int, take: Sequence[str]) -> tuple[Totals, str]:
    """What the order would come to with these alternatives and options, and its currency.

    Nothing is changed.
    """
    revision = own_revision(who, revision_id)
    totals, _ = _sums(revision, _chosen(revision, take))
    return totals, revision.currency


def order_mark(order: Order, lines: Iterable[OrderLine]) -> str:
    """A mark of what is handed over: the lines, the sums, where the goods go."""
    rows = [[line.position, line.item_id, line.quantity, line.price, line.net] for line in lines]
    sums = [order.net, order.tax_total, order.payable]
    return digest([rows, sums, order.delivery_address, order.requested_on])


def order_of(revision: Revision, totals: Totals, *, number: str, today: date) -> Order:
    """An order of the revision, not yet stored: what carries over, and the sums."""
    quote = revision.quote
    rate = revision.base_rate or Decimal(1)
    payable = Money(totals.payable, revision.currency)
    digits = minor_digits(revision.currency)
    return Order(
        number=number,
        revision=revision,
        customer=quote.customer,
        deal=quote.deal,
        contact=quote.contact,
        owner=quote.owner,
        accepted_on=today,
        buyer_reference=revision.buyer_reference,
        buyer=revision.buyer,
        currency=revision.currency,
        terms_days=revision.terms_days,
        terms_end_of_month=revision.terms_end_of_month,
        terms_more=revision.terms_more,
        lines_net=totals.lines_net,
        document_discount=totals.document_discount,
        charges=[
            {
                "name": row.name,
                "amount": plain(row.amount, digits),
                "tax_category": row.tax_category,
            }
            for row in totals.charge_rows
        ],
        net=totals.net,
        tax=[_tax(row, revision.currency) for row in totals.tax],
        tax_total=totals.tax_total,
        gross=totals.gross,
        payable_rounding=totals.payable_rounding,
        payable=totals.payable,
        base_payable=payable.converted(rate, settings.BASE_CURRENCY).amount,
    )


def _chosen(revision: Revision, take: Sequence[str]) -> list[QuoteLine]:
    """The lines that become real, in the quote's order."""
    rows = list(
        revision.lines.exclude(kind__in=WORDS_ONLY)
        .select_related("item__group")
        .prefetch_related("item__units")
    )
    extra = {row.key: row for row in rows if row.kind != "normal"}
    for key in take:
        if key not in extra:
            raise Invalid("unknown_choice", path="take")
    replaced = [extra[key].alternative_to for key in take if extra[key].alternative_to]
    if len(replaced) != len(set(replaced)):
        raise Invalid("two_for_one", path="take")
    chosen = [
        row for row in rows if (row.kind == "normal" and row.key not in replaced) or row.key in take
    ]
    if any(row.net is None for row in chosen):
        raise Invalid("needs_price", path="take")
    return chosen


def _sums(revision: Revision, chosen: list[QuoteLine]) -> tuple[Totals, tuple[Decimal, ...]]:
    nets = [(row.net or Decimal(0), row.tax_category) for row in chosen]
    return total_nets(terms_of(revision), nets, tax_table())


def _tax(row: TaxRow, currency: str) -> dict[str, str | None]:
    digits = minor_digits(currency)
    return {
        "category": row.category,
        "name": row.name,
        "percent": plain(row.percent),
        "base": plain(row.base, digits),
        "amount": plain(row.amount, digits),
    }


def _carry_lines(
    order: Order, revision: Revision, chosen: list[QuoteLine], shares: Sequence[Decimal]
) -> list[OrderLine]:
    """The chosen lines, not yet stored, with what they call off from framework agreements."""
    sources = {line["id"]: line["source"] or "" for line in revision.priced["lines"]}
    numbers = {key: s.partition(":")[2] for key, s in sources.items() if s.startswith("agreement:")}
    agreements = {row.number: row for row in Agreement.objects.filter(number__in=numbers.values())}
    return [
        carried(order, row, share, agreements.get(numbers.get(row.key, "")))
        for row, share in zip(chosen, shares, strict=True)
    ]


def carried(
    order: Order, row: QuoteLine, share: Decimal, agreement: Agreement | None = None
) -> OrderLine:
    """A line of goods carried over, not yet stored."""
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
