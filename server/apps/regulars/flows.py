"""What was typed on the sheet of regulars goes onto a quote, all of it or nothing."""

from collections.abc import Sequence
from datetime import date, datetime
from decimal import Decimal
import uuid

from django.db import transaction

from apps.errors import Invalid
from apps.orders.flows import order_now
from apps.orders.models import Order
from apps.people.models import User
from apps.quotes.flows.saving import add_lines, put_lines
from apps.quotes.flows.starting import start_quote
from apps.quotes.models import Revision
from apps.quotes.pricing.question import DraftLine
from apps.quotes.queries import own_revision
from apps.quotes.seen import refuse_unseen
from apps.regulars.sheet import Wanted
from routecore.casefile.words import plain
from routecore.money import minor_digits


@transaction.atomic
def onto_new_quote(who: User, customer_id: int, rows: Sequence[Wanted], *, today: date) -> Revision:
    """A new quote for the customer with these lines."""
    made = start_quote(who, today=today, customer_id=customer_id)
    put_lines(who, made, _lines(rows), today)
    return made


@transaction.atomic
def onto_quote(
    who: User,
    customer_id: int,
    rows: Sequence[Wanted],
    *,
    revision_id: int,
    version: int,
    today: date,
) -> Revision:
    """These lines after those of a draft for the same customer, or for one of its group."""
    lines = _lines(rows)
    made = add_lines(who, revision_id, version, lines, today=today)
    buyer = own_revision(who, revision_id).quote.customer
    if customer_id not in (buyer.pk, buyer.parent_id):
        raise Invalid("other_customer", path="revision_id", facts={"customer": buyer.name})
    return made


@transaction.atomic
def straight_to_order(
    who: User,
    customer_id: int,
    rows: Sequence[Wanted],
    *,
    payable: Decimal,
    today: date,
    now: datetime,
) -> Order:
    """A quote with these lines, issued and accepted in one act: an order at today's prices.

    Refused as a quote would be, where it has a problem or goes beyond a limit, and where it does not come to
    the ``payable`` that was seen; nothing of it stays then.
    """
    made = onto_new_quote(who, customer_id, rows, today=today)
    order = order_now(who, made.pk, made.version, today=today, now=now, close_deal=False)
    if order.payable != payable:
        digits = minor_digits(order.currency)
        told = (plain(payable, digits) or "", plain(order.payable, digits) or "")
        refuse_unseen(*told, order.currency)
    return order


def _lines(rows: Sequence[Wanted]) -> list[DraftLine]:
    if not rows:
        raise Invalid("required", path="lines", facts={"what": "line"})
    return [
        DraftLine(
            key=str(uuid.uuid4()),
            item_id=row.item,
            quantity=row.quantity,
            unit=row.unit,
            depot_id=row.depot,
        )
        for row in rows
    ]
