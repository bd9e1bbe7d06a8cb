"""What a customer buys most, this year against last to the same day; and their framework agreements."""

from datetime import date
from decimal import Decimal

from django.conf import settings
from django.http import HttpRequest
from ninja import Router

from api.agreement_rows import AgreementRow, agreement_row
from api.customers.scope import customers_of
from api.schemas import Schema
from api.shapes import PathId, sure_money, today, who
from apps.calloffs.facts import AgreementFacts, facts_of
from apps.catalogue.models import Item
from apps.customers.models import Customer
from apps.ledger.queries import Turnover, turnover_by_item
from apps.people.access import pick
from apps.prices.models import Agreement
from routecore.casefile.words import plain
from routecore.dates import months_back
from routecore.money import round_amount, sum_of
from routecore.regulars import changed_percent

router = Router(tags=["customers"])
#: How many items are named; the rest is one sum.
TOP = 12
#: So many agreements are shown.
MOST = 50


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


class AgreementOut(AgreementRow):
    """A framework agreement of a customer. ``of`` is the parent whose agreement it is; empty for one's own."""

    of: str


def agreements_of(customer: Customer, on: date) -> list[AgreementOut]:
    """A customer's agreements and the parent's, those that run first. Four queries."""
    family = [customer.pk, *([customer.parent_id] if customer.parent_id else ())]
    rows = list(Agreement.objects.filter(customer__in=family).order_by("-valid_to", "pk")[:MOST])
    known = facts_of(rows, on)
    found = [_agreement(known[row.pk], customer) for row in rows]
    return sorted(found, key=lambda row: row.valid_to < on)


def _agreement(facts: AgreementFacts, customer: Customer) -> AgreementOut:
    owner = facts.agreement.customer
    of = owner.name if owner.pk != customer.pk else ""
    return AgreementOut(**agreement_row(facts).dict(), of=of)
