"""Where customers stand: from what they owe and what is ahead, as the areas above tell it.

Invoices and orders refer to customers, not the other way round: the ledger and the orders name here who
tells what a customer owes (``OWED``) and what is still to be delivered or billed (``AHEAD``), in ``claims.py``
of each.
"""

from collections import defaultdict
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from django.conf import settings

from apps.catalogue.queries import rates_on
from apps.customers.models import Customer
from routecore.money import round_amount
from routecore.standing import OpenItem, Standing, age_open_items, judge_standing


@dataclass(frozen=True, slots=True, kw_only=True)
class Owed:
    """An open amount in its own currency; credits and money on account are negative.

    What is due on no day of its own counts as of today.
    """

    customer: int
    currency: str
    amount: Decimal
    due: date | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Ahead:
    """What an order still weighs in a customer's exposure, gross, in its own currency."""

    customer: int
    currency: str
    not_delivered: Decimal
    not_invoiced: Decimal


OWED: list[Callable[[Iterable[int]], Iterable[Owed]]] = []
AHEAD: list[Callable[[Iterable[int]], Iterable[Ahead]]] = []


def standings(
    customers: Iterable[Customer],
    today: date,
    *,
    this_document: Decimal = Decimal(0),
    age_hours: int = 0,
) -> dict[int, Standing]:
    """The standing of each customer in the base currency, at the day's rates.

    A constant number of queries, however many customers. ``this_document`` is the payable of the
    quote at hand, in the base currency; ``age_hours`` is how old the back office's figures are.
    """
    rows = {row.pk: row for row in customers}
    owed = [row for tell in OWED for row in tell(rows)]
    ahead = [row for tell in AHEAD for row in tell(rows)]
    rates = rates_on(today, {row.currency for row in owed} | {row.currency for row in ahead})
    items: dict[int, list[OpenItem]] = {pk: [] for pk in rows}
    for each in owed:
        amount = _base(each.amount, rates[each.currency])
        items[each.customer].append(OpenItem(due=each.due or today, open_amount=amount))
    not_invoiced, not_delivered = (
        defaultdict[int, Decimal](Decimal),
        defaultdict[int, Decimal](Decimal),
    )
    for order in ahead:
        not_invoiced[order.customer] += _base(order.not_invoiced, rates[order.currency])
        not_delivered[order.customer] += _base(order.not_delivered, rates[order.currency])
    return {
        pk: judge_standing(
            age_open_items(items[pk], today),
            limit=row.credit_limit,
            not_invoiced=not_invoiced[pk],
            not_delivered=not_delivered[pk],
            this_document=this_document,
            held=row.held,
            age_hours=age_hours,
            tolerance_days=settings.STANDING_TOLERANCE_DAYS,
        )
        for pk, row in rows.items()
    }


def over_credit(customer: Customer, today: date, this_document: Decimal) -> Decimal | None:
    """How far the exposure lies over the customer's limit with one more document, in the base
    currency; None without a limit."""
    after = standings([customer], today, this_document=this_document)[customer.pk].after
    return None if after is None else max(-after, Decimal(0))


def _base(amount: Decimal, rate: Decimal) -> Decimal:
    return round_amount(amount * rate, settings.BASE_CURRENCY)
