"""What customers owe: open invoices, and what is known of how they pay."""

from collections.abc import Iterable
from datetime import date, timedelta
from decimal import Decimal

from django.db.models import QuerySet

from apps.ledger.models import Allocation, Invoice, Payment


def open_invoices(customers: Iterable[int]) -> QuerySet[Invoice]:
    """Invoices and credits that are not settled, oldest due first."""
    rows = Invoice.objects.filter(customer_id__in=list(customers))
    return rows.exclude(open_amount=0).order_by("due_on", "pk")


def unallocated(customers: Iterable[int]) -> list[tuple[int, str, Decimal]]:
    """(customer, currency, amount) of payments that settle no invoice yet."""
    rows = Payment.objects.filter(customer_id__in=list(customers), unused__gt=0)
    return list(rows.values_list("customer_id", "currency", "unused"))


def payment_days(customer: int, today: date) -> tuple[list[tuple[Decimal, int]], ...]:
    """(amount, days from invoice to payment) of the last 12 months and of the 12 before."""
    year_ago, two_ago = today - timedelta(days=365), today - timedelta(days=730)
    rows = Allocation.objects.filter(
        payment__customer_id=customer, payment__on__gt=two_ago, payment__on__lte=today
    ).values_list("amount", "payment__on", "invoice__on")
    recent: list[tuple[Decimal, int]] = []
    before: list[tuple[Decimal, int]] = []
    for amount, paid_on, invoiced_on in rows:
        (recent if paid_on > year_ago else before).append((amount, (paid_on - invoiced_on).days))
    return recent, before
