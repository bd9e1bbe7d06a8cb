"""What an item costs a customer, and what they paid for it."""

from datetime import date
from decimal import Decimal
from typing import Annotated

from django.http import HttpRequest
from ninja import Query, Router
from pydantic import StringConstraints

from api.customers.scope import customers_of
from api.quotes.priced import NextBreakOut, PricedLineOut, ProblemOut
from api.quotes.view import shown as shown_answer
from api.schemas import Schema
from api.shapes import Day, Id, Quantity, today, who
from apps.catalogue.models import Item
from apps.catalogue.queries import unit_names
from apps.orders.past import past_prices
from apps.people.access import pick, sells
from apps.prices.queries import source_names
from apps.quotes.pricing.checking import check_price
from routecore.casefile.words import plain

router = Router(tags=["prices"])
Name = Annotated[str, StringConstraints(max_length=20)]


class CheckIn(Schema):
    """Which price: customer, item, quantity, unit, day."""

    customer: Id
    item: Id
    quantity: Quantity = Decimal(1)
    unit: Annotated[str, StringConstraints(max_length=3)] = ""
    on: Day | None = None


class CheckOut(Schema):
    """A price with its trail and the next breaks."""

    customer: str
    item: str
    currency: str
    on: date
    line: PricedLineOut
    next_breaks: list[NextBreakOut]
    problems: list[ProblemOut]
    names: dict[str, str]
    unit_names: dict[str, str]


@router.get("/prices/check", response=CheckOut, operation_id="check_price")
def check(request: HttpRequest, asked: Query[CheckIn]) -> CheckOut:
    """The price that a line would get, and why."""
    person = who(request)
    sells(person)
    rows = customers_of(person).select_related("price_list", "parent")
    customer = pick(rows, asked.customer, "customer")
    item = pick(Item.objects.all(), asked.item, "item")
    on = asked.on or today()
    answer = check_price(customer, item, asked.quantity, asked.unit or item.sales_unit_id, on)
    seen = shown_answer(answer, person)
    return CheckOut(
        customer=customer.name,
        item=f"{item.code} {item.name}",
        currency=customer.currency,
        on=on,
        line=seen["lines"][0],
        next_breaks=seen["next_breaks"],
        problems=[{**p, "words": p["code"]} for p in answer["problems"]],  # type: ignore[typeddict-item]
        names=source_names(customer),
        unit_names=unit_names(),
    )


class PastOut(Schema):
    """A price that was paid, per base unit, after all discounts."""

    on: date
    order: str
    order_id: int
    currency: str
    quantity: str
    price: str


@router.get("/prices/past", response=list[PastOut], operation_id="past_prices")
def past(request: HttpRequest, customer: Id, item: Id) -> list[PastOut]:
    """What this customer paid for this item, oldest first."""
    person = who(request)
    sells(person)
    pick(customers_of(person), customer, "customer")
    return [
        PastOut(
            on=row.on,
            order=row.order,
            order_id=row.order_id,
            currency=row.currency,
            quantity=plain(row.quantity) or "0",
            price=plain(row.price, 2) or "0",
        )
        for row in past_prices(customer, item)
    ]
