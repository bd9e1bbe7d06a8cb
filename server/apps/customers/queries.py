"""Customers and where they stand."""

from collections.abc import Iterable
from datetime import date
from decimal import Decimal

from django.conf import settings
from django.db.models import QuerySet

from apps.catalogue.queries import rates_on
from apps.customers.models import Customer
from apps.ledger.models import CREDIT
from apps.ledger.queries import open_invoices, unallocated
from apps.orders.queries import open_orders
from apps.searching import Index
from routecore.money import round_amount
from routecore.standing import OpenItem, Standing, age_open_items, judge_standing

WORDS = Index(columns=("name", "number", "people", "towns"), first="name", numbers=("number",))


def find_customers(rows: QuerySet[Customer], words: str) -> QuerySet[Customer]:
    """Customers whose name, number, people or towns hold every word."""
    return WORDS.find(rows, words)


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
    invoices, payments, orders = list(open_invoices(rows)), unallocated(rows), open_orders(rows)
    currencies = {row.currency for row in invoices} | {row.currency for row in orders}
    currencies |= {currency for _, currency, _ in payments}
    rates = rates_on(today, currencies)
    items: dict[int, list[OpenItem]] = {pk: [] for pk in rows}
    for invoice in invoices:
        sign = -1 if invoice.kind == CREDIT else 1
        open_amount = _base(invoice.open_amount * sign, rates[invoice.currency])
        items[invoice.customer_id].append(OpenItem(due=invoice.due_on, open_amount=open_amount))
    for customer, currency, amount in payments:
        items[customer].append(OpenItem(due=today, open_amount=-_base(amount, rates[currency])))
    pending: dict[int, tuple[Decimal, Decimal]] = {}
    for order in orders:
        delivered, ahead = pending.get(order.customer, (Decimal(0), Decimal(0)))
        rate = rates[order.currency]
        pending[order.customer] = (
            delivered + _base(order.not_invoiced, rate),
            ahead + _base(order.not_delivered, rate),
        )
    return {
        pk: judge_standing(
            age_open_items(items[pk], today),
            limit=row.credit_limit,
            not_invoiced=pending.get(pk, (Decimal(0),))[0],
            not_delivered=pending.get(pk, (Decimal(0), Decimal(0)))[1],
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
