"""Go to…: any customer, contact, deal, quote, order or item by a few letters."""

from django.http import HttpRequest
from ninja import Router, Schema

from api.customers import customers_of
from api.orders import OrderFilters, filter_orders, orders_of
from api.shapes import Words, today, who
from apps.catalogue.queries import find_items
from apps.customers.queries import find_customers
from apps.deals.queries import deals_of, filter_deals
from apps.people.models import CLERK, User
from apps.quotes.queries import filter_quotes, quotes_of
from apps.searching import enough

router = Router(tags=["go"])
EACH = 5


class Hit(Schema):
    """Something to go to."""

    kind: str
    name: str
    detail: str
    to: str


@router.get("/go", response=list[Hit], operation_id="go_to")
def go(request: HttpRequest, words: Words = "") -> list[Hit]:
    """At most five of each kind; by a single letter, customers and items alone. Five queries."""
    person = who(request)
    if not words.strip():
        return []
    hits = [
        Hit(kind="customer", name=row.name, detail=row.number, to=f"/customers/{row.pk}")
        for row in find_customers(customers_of(person), words).order_by("name")[:EACH]
    ]
    if enough(words):
        hits += _documents(person, words)
    if person.role != CLERK:
        hits += [
            Hit(kind="item", name=row.name, detail=row.code, to=f"/prices?item={row.pk}")
            for row in find_items(words).only("name", "code")[:EACH]
        ]
    return hits


def _documents(person: User, words: str) -> list[Hit]:
    """The newest deals, quotes and orders."""
    on = today()
    hits = [
        Hit(kind="deal", name=row.title, detail=row.customer_name, to=f"/deals/{row.pk}")
        for row in filter_deals(deals_of(person), today=on, words=words).order_by("-pk")[:EACH]
    ]
    hits += [
        Hit(
            kind="quote",
            name=f"{row.number} {row.letter}",
            detail=row.customer_name,
            to=f"/quotes/{row.revision_id}",
        )
        for row in filter_quotes(quotes_of(person), today=on, words=words).order_by("-pk")[:EACH]
    ]
    orders = filter_orders(orders_of(person), OrderFilters(words=words)).order_by("-pk")
    return hits + [
        Hit(kind="order", name=row.number, detail=row.customer_name, to=f"/orders/{row.pk}")
        for row in orders[:EACH]
    ]
