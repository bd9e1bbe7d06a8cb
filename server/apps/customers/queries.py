"""Customers and where they stand."""

from collections.abc import Iterable
from datetime import date
from decimal import Decimal

from django.conf import settings
from django.db.models import Q, QuerySet

from apps.catalogue.queries import rates_on
from apps.customers.models import Address, Contact, Customer
from apps.ledger.models import CREDIT, Invoice
from apps.ledger.queries import open_invoices, unallocated
from apps.orders.queries import open_orders
from routecore.money import round_amount
from routecore.standing import OpenItem, Standing, age_open_items, judge_standing


def find_customers(rows: QuerySet[Customer], words: str) -> QuerySet[Customer]:
    """Customers whose name, number, contact or town holds every word."""
    for word in words.split()[:6]:
        rows = rows.filter(
            Q(name__icontains=word)
            | Q(number__icontains=word)
            | Q(pk__in=Contact.objects.filter(name__icontains=word).values("customer"))
            | Q(pk__in=Address.objects.filter(town__icontains=word).values("customer"))
        )
    return rows


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
    rates = rates_on(today, {row.currency for row in rows.values()} | _currencies(rows))
    items: dict[int, list[OpenItem]] = {pk: [] for pk in rows}
    for invoice in open_invoices(rows):
        sign = -1 if invoice.kind == CREDIT else 1
        open_amount = _base(getattr(invoice, "open_amount") * sign, rates[invoice.currency])
        items[invoice.customer_id].append(OpenItem(due=invoice.due_on, open_amount=open_amount))
    for customer, currency, amount in unallocated(rows):
        items[customer].append(OpenItem(due=today, open_amount=-_base(amount, rates[currency])))
    pending: dict[int, tuple[Decimal, Decimal]] = {}
    for order in open_orders(rows):
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


def _currencies(rows: dict[int, Customer]) -> set[str]:
    """Invoices are written in the customer's currency; a change of it leaves old ones behind."""
    return set(
        Invoice.objects.filter(customer_id__in=list(rows))
        .values_list("currency", flat=True)
        .distinct()
    )


def _base(amount: Decimal, rate: Decimal) -> Decimal:
    return round_amount(amount * rate, settings.BASE_CURRENCY)
