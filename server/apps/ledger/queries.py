"""What customers owe: open invoices, and what is known of how they pay."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from django.db.models import (
    Case,
    DecimalField,
    F,
    Func,
    IntegerField,
    Q,
    QuerySet,
    Sum,
    Value,
    When,
)
from django.db.models.functions import Coalesce, TruncMonth

from apps.ledger.models import CREDIT, Allocation, Invoice, InvoiceLine, Payment
from routecore.dates import months_back

ZERO = Value(Decimal(0), output_field=DecimalField(max_digits=38, decimal_places=9))


def open_invoices(customers: Iterable[int]) -> QuerySet[Invoice]:
    """Invoices and credits that are not settled, oldest due first."""
    rows = Invoice.objects.filter(customer_id__among=customers)
    return rows.exclude(open_amount=0).order_by("due_on", "pk")


def unallocated(customers: Iterable[int]) -> list[tuple[int, str, Decimal]]:
    """(customer, currency, amount) of payments that settle no invoice yet."""
    rows = Payment.objects.filter(customer_id__among=customers, unused__gt=0)
    return list(rows.values_list("customer_id", "currency", "unused"))


@dataclass(frozen=True, slots=True)
class PaidAfter:
    """So much of the base currency was paid in a month, so many days after its invoices."""

    month: date
    recent: bool
    days: int
    amount: Decimal


def payment_days(customer: int, today: date) -> list[PaidAfter]:
    """What was paid in the 24 months to today, and how long after its invoices; ``recent`` is the later half.

    One query, and not more rows than there are different times.
    """
    exact = DecimalField(max_digits=38, decimal_places=9)
    took = Func(
        F("payment__on"), F("invoice__on"), function="DATEDIFF", output_field=IntegerField()
    )
    recent = Case(When(payment__on__gt=months_back(today, 12), then=True), default=False)
    rows = (
        Allocation.objects.filter(
            payment__customer_id=customer,
            payment__on__gt=months_back(today, 24),
            payment__on__lte=today,
        )
        .order_by()
        .annotate(month=TruncMonth("payment__on"), took=took, recent=recent)
        .values_list("month", "recent", "took")
        .annotate(worth=Sum(F("amount") * F("invoice__base_rate"), output_field=exact))
    )
    return [PaidAfter(*row) for row in rows]


@dataclass(frozen=True, slots=True)
class Turnover:
    """What was billed of an item, net in the base currency at each invoice's rate: now, and the year before.

    Both are exact sums of rounded lines; ``item`` is None for lines that bill no item of ours.
    """

    item: int | None
    now: Decimal
    before: Decimal


def turnover_by_item(customer: int, today: date) -> list[Turnover]:
    """From the first of January to today, and to the same day the year before. One query."""
    same_day = months_back(today, 12)
    this_year, last_year = date(today.year, 1, 1), date(today.year - 1, 1, 1)
    exact = DecimalField(max_digits=38, decimal_places=9)
    worth = Case(When(invoice__kind=CREDIT, then=-F("net")), default=F("net")) * F(
        "invoice__base_rate"
    )

    def within(first: date, last: date) -> Any:
        inside = Q(invoice__on__range=(first, last))
        total = Sum(Case(When(inside, then=worth), default=ZERO, output_field=exact))
        return Coalesce(total, ZERO, output_field=exact)

    rows = (
        InvoiceLine.objects.filter(
            Q(invoice__on__range=(this_year, today)) | Q(invoice__on__range=(last_year, same_day)),
            invoice__customer_id=customer,
        )
        .order_by()
        .values_list("order_line__item_id")
        .annotate(now=within(this_year, today), before=within(last_year, same_day))
    )
    return [Turnover(*row) for row in rows]
