"""Go to…: any customer, contact, deal, quote, order or item by a few letters."""

from django.http import HttpRequest
from ninja import Router

from api.customers.scope import customers_of
from api.orders import WORDS as ORDER_WORDS
from api.orders import orders_of
from api.schemas import Schema
from api.shapes import Words, who
from apps.catalogue.queries import find_items
from apps.customers.queries import find_customers
from apps.deals.models import Deal
from apps.deals.queries import WORDS as DEAL_WORDS
from apps.deals.queries import deals_of
from apps.orders.models import Order
from apps.people.models import CLERK, User
from apps.quotes.models import Quote
from apps.quotes.queries import WORDS as QUOTE_WORDS
from apps.quotes.queries import quotes_of
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
    """At most five of each kind; by a single letter, customers and items alone. Twelve queries."""
    person = who(request)
    if not words.strip():
        return []
    hits = [
        Hit(kind="customer", name=row.name, detail=row.number, to=f"/customers/{row.pk}")
        for row in find_customers(
            customers_of(person).filter(retired_at__isnull=True), words
        ).order_by("name")[:EACH]
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
    deals = Deal.objects.in_bulk(DEAL_WORDS.newest(deals_of(person), words, EACH))
    quotes = Quote.objects.in_bulk(QUOTE_WORDS.newest(quotes_of(person), words, EACH))
    orders = Order.objects.in_bulk(ORDER_WORDS.newest(orders_of(person), words, EACH))
    return [
        *(
            Hit(kind="deal", name=row.title, detail=row.customer_name, to=f"/deals/{key}")
            for key, row in sorted(deals.items(), reverse=True)
        ),
        *(
            Hit(
                kind="quote",
                name=f"{row.number} {row.letter}",
                detail=row.customer_name,
                to=f"/quotes/{row.revision_id}",
            )
            for _, row in sorted(quotes.items(), reverse=True)
        ),
        *(
            Hit(kind="order", name=row.number, detail=row.customer_name, to=f"/orders/{key}")
            for key, row in sorted(orders.items(), reverse=True)
        ),
    ]
