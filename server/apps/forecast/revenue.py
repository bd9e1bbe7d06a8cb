"""What is billed, what is ordered and not billed yet, and what open deals add to it later."""

from collections.abc import Collection
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from django.conf import settings
from django.db.models import (
    Case,
    DateField,
    DecimalField,
    Exists,
    F,
    OuterRef,
    QuerySet,
    Subquery,
    Sum,
    Value,
    When,
)
from django.db.models.functions import Coalesce, Round

from apps.deals.models import OPEN, DealQuerySet
from apps.deals.queries import weighted
from apps.ledger.models import CREDIT, INVOICE, BilledDay, Invoice, InvoiceLine
from apps.orders.models import OrderLine, Outlook
from apps.people.access import read_for_fulfilment
from apps.people.models import User
from routecore.dates import month_end, months_back
from routecore.forecast import Revenue, revenue_by_month, usual_lead
from routecore.money import minor_digits

ZERO = Decimal(0)
#: Order lines with ``worth`` and ``leaves`` beside their own columns.
Backlog = QuerySet[Any]
_EXACT: "DecimalField[Any, Any]" = DecimalField(max_digits=38, decimal_places=11)
#: So many invoices, the newest of so many months, say how long it usually takes from the order to its invoice.
LEARNT_BY, LEARNT_FROM = 2_000, 24


def invoices_of(who: User) -> QuerySet[Invoice]:
    """The invoices and credit notes this person may see: of their orders, and of their customers where no order is."""
    return Invoice.objects.filter(read_for_fulfilment(who, "whose"))


def of_people(rows: QuerySet[Invoice], people: Collection[int]) -> QuerySet[Invoice]:
    """Those of some people, by their keys."""
    return rows.filter(whose_id__among=people)


def billed_net() -> Round:
    """An invoice's net in the base currency at the rate of its day; a credit note's is below zero."""
    signed = Case(When(kind=CREDIT, then=-F("net")), default=F("net"), output_field=_EXACT)
    return _rounded(signed * F("base_rate"))


def backlog_of(who: User) -> Backlog:
    """Lines that are ordered and not wholly billed, with ``worth`` (what is left of the net, base currency, without
    charges) and ``leaves`` (the day now known for it; None where none is)."""
    billed = (
        InvoiceLine.objects.filter(order_line=OuterRef("pk"), invoice__kind=INVOICE)
        .order_by()
        .values("order_line")
        .annotate(sum=Sum("net"))
        .values("sum")
    )
    left = F("net") - F("discount_share") - Coalesce(Subquery(billed), ZERO, output_field=_EXACT)
    rate = Coalesce(F("order__revision__base_rate"), Value(Decimal(1)), output_field=_EXACT)
    news = Outlook.objects.filter(order_line=OuterRef("pk"))
    day = Case(
        When(Exists(news), then=F("outlook__leaves_on")),
        When(missing__gt=0, then=F("promised_on")),
        default=Coalesce("promised_on", "wanted_on", "order__requested_on"),
        output_field=DateField(null=True),
    )
    rows = OrderLine.objects.filter(
        read_for_fulfilment(who, "order__owner"),
        order__billed=False,
        order__cancelled_at=None,
        quantity__gt=0,
    )
    return rows.annotate(worth=_rounded(left * rate), leaves=day).filter(worth__gt=0)


def in_backlog_month(rows: Backlog, month: str, today: date, last: date) -> Backlog:
    """Backlog of an ISO month, of those after ``last`` (``later``), or without a day (``undated``).

    What should have left is expected in the month of today.
    """
    if month == "undated":
        return rows.filter(leaves=None)
    if month == "later":
        return rows.filter(leaves__gt=last)
    first = date.fromisoformat(f"{month}-01")
    within = rows.filter(leaves__lte=month_end(first))
    return within if first <= today else within.filter(leaves__gte=first)


def _rounded(exact: Any) -> Round:
    places = minor_digits(settings.BASE_CURRENCY)
    return Round(exact, places, output_field=_EXACT)


@dataclass(frozen=True, slots=True, kw_only=True)
class Lead:
    """Days from the order to its invoice, by how many invoices; of one's own, or of the house where they are few."""

    days: int
    invoices: int
    own: bool


def lead_of(mine: QuerySet[Invoice], today: date) -> Lead:
    """How long it usually takes. One query, or two."""
    for own, rows in ((True, mine), (False, Invoice.objects.all())):
        since = months_back(today, LEARNT_FROM)
        found = rows.filter(kind=INVOICE, took__isnull=False, on__range=(since, today))
        newest = found.order_by("-on").values_list("took", flat=True)
        took = [days for days in newest[:LEARNT_BY] if days is not None]
        usual = usual_lead(took)
        if usual is not None:
            return Lead(days=usual, invoices=len(took), own=own)
    return Lead(days=0, invoices=0, own=False)


def billed_by_day(rows: QuerySet[Invoice], first: date, last: date) -> list[tuple[date, Decimal]]:
    """What was invoiced on each of these days, credit notes taken off. One query."""
    sums = rows.filter(on__range=(first, last)).order_by().annotate(worth=billed_net())
    return list(sums.values_list("on").annotate(sum=Sum("worth")))


def billed_days_of(who: User, people: Collection[int] | None) -> QuerySet[BilledDay]:
    """What was invoiced by day, of this person's invoices (``invoices_of``); of some people, where they are told."""
    rows = BilledDay.objects.filter(read_for_fulfilment(who, "whose"))
    return rows if people is None else rows.filter(whose_id__among=people)


def kept_by_day(rows: QuerySet[BilledDay], first: date, last: date) -> list[tuple[date, Decimal]]:
    """As ``billed_by_day``, from what is kept. One query."""
    sums = rows.filter(on__range=(first, last)).order_by().values_list("on")
    return list(sums.annotate(sum=Sum("net")))


def revenue_of(
    months: list[date],
    *,
    invoiced: list[tuple[date, Decimal]],
    backlog: Backlog,
    deals: DealQuerySet,
    lead_days: int,
    today: date,
) -> Revenue:
    """What is billed in each of these months, beside what was invoiced by day. Two queries, whatever their number."""
    hopes = deals.filter(outcome=OPEN, decision_on__gte=today).order_by().values_list("decision_on")
    return revenue_by_month(
        months,
        invoiced=invoiced,
        backlog=list(backlog.order_by().values_list("leaves", "worth")),
        deals=list(hopes.annotate(weight=Sum(weighted()))),
        today=today,
        lead_days=lead_days,
    )
