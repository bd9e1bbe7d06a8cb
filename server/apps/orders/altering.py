"""Less of an order, later, or elsewhere: its lines and its sums after a change, prices untouched."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

from django.db import connection
from django.db.models import Sum

from apps.catalogue.queries import tax_table
from apps.orders.carrying import sums_of, take_sums
from apps.orders.models import Acceptance, DeliveryLine, Order, OrderLine, Outlook
from apps.orders.offers import given_before
from apps.quotes.pricing.question import terms_of
from apps.stock.models import Depot
from routecore.casefile.words import plain
from routecore.ordering import Offered, net_of_kept, terms_of_part
from routecore.totals import DocumentDiscount, DocumentTerms, Part, total_parts

Changes = dict[str, tuple[object, object]]


@dataclass(frozen=True, slots=True, kw_only=True)
class Altered:
    """What becomes of a line; None for what stays as it is. ``quantity`` nothing: it is not wanted any more; ``depot`` by its code.

    ``net`` is what the back office will bill for it, after the discounts of the whole, where it told it.
    """

    quantity: Decimal | None = None
    wanted_on: date | None = None
    delivery_address: dict[str, str] | None = None
    depot: str | None = None
    net: Decimal | None = None


def shipped_of(order: Order) -> dict[int, Decimal]:
    """By line, how much has left. One query."""
    rows = DeliveryLine.objects.filter(order_line__order=order).values_list("order_line")
    return dict(rows.annotate(Sum("quantity")))


@contextmanager
def by_answer() -> Iterator[None]:
    """What the back office has said of an order it has is done; nobody else changes one."""
    with connection.cursor() as cursor:
        cursor.execute("SET @order_changes = 1")
        try:
            yield
        finally:
            cursor.execute("SET @order_changes = NULL")


def alter(order: Order, wished: Mapping[int, Altered]) -> Changes:
    """Change the lines at these positions and the order's sums; what changed, as the record keeps it.

    A line that is kept in part comes to its share of its net (``routecore.ordering.net_of_kept``); discounts and
    charges of its offer follow; so that both sides come to the same, by what the back office told of its net. What is not wanted any more is left of its offer and its agreement again. The order
    and its offers are locked by the caller, who saves the order.
    """
    lines = list(order.lines.select_related("item", "quote_line", "depot"))
    codes = {wish.depot for wish in wished.values() if wish.depot}
    depots = {row.code: row for row in Depot.objects.filter(code__in=codes)} if codes else {}
    changes: Changes = {}
    for line in lines:
        wish = wished.get(line.position)
        if wish is not None:
            changes |= _alter_line(line, wish, order.currency, depots)
    columns = [
        "quantity",
        "first_quantity",
        "net",
        "called_off",
        "wanted_on",
        "delivery_address",
        "depot",
    ]
    OrderLine.objects.bulk_update(lines, [*columns, "promised_on", "reserve_by"])
    Outlook.objects.filter(order_line__order=order, order_line__position__in=wished).delete()
    if any(wish.quantity is not None for wish in wished.values()):
        before = order.payable
        told = {at: wish.net for at, wish in wished.items() if wish.net is not None}
        _sum_anew(order, lines, told)
        changes["payable"] = (plain(before), plain(order.payable))
    return changes


def _alter_line(
    line: OrderLine, wish: Altered, currency: str, depots: Mapping[str, Depot]
) -> Changes:
    name = f"line {line.position} {line.item.code}"
    changes: Changes = {}
    if wish.quantity is not None and wish.quantity != line.quantity:
        changes[f"{name}: quantity"] = (plain(line.quantity), plain(wish.quantity))
        _keep(line, wish.quantity, currency)
    if wish.wanted_on is not None and wish.wanted_on != line.wanted_on:
        changes[f"{name}: wanted day"] = (line.wanted_on, wish.wanted_on)
        line.wanted_on = line.promised_on = wish.wanted_on
        line.reserve_by = None
    if wish.delivery_address is not None and wish.delivery_address != line.delivery_address:
        before = line.delivery_address
        changes[f"{name}: delivery address"] = (_town(before), _town(wish.delivery_address))
        line.delivery_address = wish.delivery_address
    depot = depots.get(wish.depot or "")
    if depot is not None and depot.pk != line.depot_id:
        changes[f"{name}: depot"] = (line.depot.code if line.depot else "", depot.code)
        line.depot, line.reserve_by = depot, None
    return changes


def _town(address: Mapping[str, str] | None) -> str:
    return f"{address['street']}, {address['town']}" if address else ""


def _keep(line: OrderLine, kept: Decimal, currency: str) -> None:
    whole = Offered(quantity=line.quantity, net=line.net)
    line.net = net_of_kept(whole, kept, currency)
    if line.called_off is not None:
        line.called_off = line.called_off * kept / line.quantity if kept else None
    line.first_quantity = line.first_quantity or line.quantity
    line.quantity = kept


def _sum_anew(order: Order, lines: Iterable[OrderLine], told: Mapping[int, Decimal]) -> None:
    """The order's sums, each offer's share of them, and the shares of its discount by line."""
    acceptances = list(order.acceptances.select_related("revision__quote").order_by("pk"))
    own = [
        [line for line in lines if line.quote_line.revision_id == row.revision_id]
        for row in acceptances
    ]
    parts = [_part(order, row, of, told) for row, of in zip(acceptances, own, strict=True)]
    totals, sums = total_parts(parts, tax_table())
    for row, of, part in zip(acceptances, own, sums, strict=True):
        for line, share in zip(of, part.shares, strict=True):
            line.discount_share = share
        take_sums(row, part)
        row.save()
    OrderLine.objects.bulk_update([line for of in own for line in of], ["discount_share"])
    for name, value in sums_of(totals, order.currency, order.revision.base_rate).items():
        setattr(order, name, value)


def _part(
    order: Order, acceptance: Acceptance, lines: Sequence[OrderLine], told: Mapping[int, Decimal]
) -> Part:
    revision = acceptance.revision
    nets = tuple((line.net, line.tax_category) for line in lines)
    given, newest = given_before(revision, without=order.pk)
    revision.quote.refresh_from_db(fields=["lines_left"])
    terms = terms_of_part(
        terms_of(revision),
        revision.lines_net,
        sum((net for net, _ in nets), Decimal(0)),
        given,
        last=newest < acceptance.pk and revision.quote.lines_left == 0,
    )
    if any(line.position in told for line in lines):
        terms = _as_told(terms, lines, told)
    return Part(terms=terms, nets=nets)


def _as_told(
    terms: DocumentTerms, lines: Sequence[OrderLine], told: Mapping[int, Decimal]
) -> DocumentTerms:
    """The discount on the net that leaves what the back office told; of other lines what they came to before."""
    if terms.discount is not None and terms.discount.on != "net":
        return terms
    off = sum(
        (line.net - told.get(line.position, line.net - line.discount_share) for line in lines),
        Decimal(0),
    )
    if not 0 <= off <= sum(line.net for line in lines):
        return terms
    return replace(terms, discount=DocumentDiscount(amount=off, on="net") if off else None)
