"""What a customer buys most, this year against last to the same day; and their framework agreements."""

from datetime import date
from decimal import Decimal

from django.conf import settings
from django.http import HttpRequest
from ninja import Router

from api.customers.scope import customers_of
from api.schemas import Schema
from api.shapes import PathId, sure_money, today, who
from apps.catalogue.models import Item
from apps.customers.models import Customer
from apps.ledger.queries import Turnover, turnover_by_item
from apps.people.access import pick
from apps.prices.models import Agreement
from apps.prices.queries import with_remaining
from routecore.agreement import pace_of
from routecore.casefile.words import plain
from routecore.dates import months_back
from routecore.errors import CoreError
from routecore.money import round_amount, sum_of
from routecore.regulars import changed_percent

router = Router(tags=["customers"])
#: How many items are named; the rest is one sum.
TOP = 12


class TopItem(Schema):
    """An item, or all others together (without a code); net in the base currency."""

    item_id: int | None
    code: str
    name: str
    now: str
    before: str
    change: str | None


class TopItems(Schema):
    """What was billed from the first of January to ``until``, and to ``until_before`` the year before."""

    currency: str
    until: date
    until_before: date
    rows: list[TopItem]
    others: TopItem | None
    total: TopItem


def _top(now: Decimal, before: Decimal, item: Item | None = None) -> TopItem:
    base = settings.BASE_CURRENCY
    now, before = round_amount(now, base), round_amount(before, base)
    return TopItem(
        item_id=item.pk if item else None,
        code=item.code if item else "",
        name=item.name if item else "",
        now=sure_money(now, base),
        before=sure_money(before, base),
        change=plain(changed_percent(before, now)),
    )


@router.get("/customers/{customer_id}/items", response=TopItems, operation_id="list_top_items")
def top_items(request: HttpRequest, customer_id: PathId) -> TopItems:
    """A customer's items by what was billed of them. Three queries after the person's."""
    customer = pick(customers_of(who(request)), customer_id, "customer")
    on = today()
    rows = sorted(turnover_by_item(customer.pk, on), key=lambda row: (-row.now, -row.before))
    named = [row for row in rows if row.item is not None][:TOP]
    items = Item.objects.in_bulk([row.item for row in named])
    rest = [row for row in rows if row not in named]
    return TopItems(
        currency=settings.BASE_CURRENCY,
        until=on,
        until_before=months_back(on, 12),
        rows=[_top(row.now, row.before, items[row.item]) for row in named if row.item in items],
        others=_sum(rest) if rest else None,
        total=_sum(rows),
    )


def _sum(rows: list[Turnover]) -> TopItem:
    return _top(sum_of(row.now for row in rows), sum_of(row.before for row in rows))


class AgreementOut(Schema):
    """A framework agreement, what is left of it and its pace: see ``routecore.agreement``.

    Quantities are in ``unit``. ``of`` is the parent whose agreement it is; empty for one's own.
    """

    number: str
    item_id: int
    item: str
    of: str
    price: str
    per: str
    currency: str
    unit: str
    unit_name: str
    quantity: str
    called_off: str
    left: str
    valid_from: date
    valid_to: date
    state: str
    percent: str
    time_percent: str
    by_end: str | None


def agreements_of(customer: Customer, on: date) -> list[AgreementOut]:
    """A customer's agreements and the parent's, those that run first. One query."""
    family = [customer.pk, *([customer.parent_id] if customer.parent_id else ())]
    rows = with_remaining(Agreement.objects.filter(customer__in=family))
    found = [
        out
        for row in rows.select_related("item", "unit", "customer").order_by("-valid_to", "pk")[:50]
        if (out := _agreement(row, customer, on)) is not None
    ]
    return sorted(found, key=lambda row: row.valid_to < on)


def _agreement(row: Agreement, customer: Customer, on: date) -> AgreementOut | None:
    called: Decimal = row.called_off  # type: ignore[attr-defined]
    try:
        pace = pace_of(row.quantity, called, row.valid_from, row.valid_to, on)
    except CoreError:
        return None
    return AgreementOut(
        number=row.number,
        item_id=row.item_id,
        item=row.item.name,
        of=row.customer.name if row.customer_id != customer.pk else "",
        price=plain(row.price) or "",
        per=plain(row.per) or "",
        currency=row.currency,
        unit=row.unit_id,
        unit_name=row.unit.name,
        quantity=plain(row.quantity) or "",
        called_off=plain(called) or "",
        left=plain(pace.left) or "",
        valid_from=row.valid_from,
        valid_to=row.valid_to,
        state=pace.state,
        percent=plain(pace.percent) or "",
        time_percent=plain(pace.time_percent) or "",
        by_end=plain(pace.by_end),
    )
