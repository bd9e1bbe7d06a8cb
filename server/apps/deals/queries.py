"""Deals by what people ask of them."""

from datetime import date
from decimal import Decimal

from django.db.models import Q, QuerySet

from apps.deals.models import OPEN, Deal, DealQuerySet
from apps.people.access import owned
from apps.people.models import User
from apps.sorting import in_order
from routecore.dates import month_end
from routecore.forecast import OVERDUE, ForecastDeal


def deals_of(who: User) -> DealQuerySet:
    """The deals this person may see, with amount and probability."""
    return Deal.objects.filter(owned(who)).valued().select_related("stage", "customer", "owner")


def filter_deals(
    rows: DealQuerySet,
    *,
    today: date,
    state: str = "",
    stage: str = "",
    month: str = "",
    owner: int | None = None,
    confidence: str = "",
    customer: int | None = None,
    words: str = "",
    least: Decimal | None = None,
) -> DealQuerySet:
    """Narrow by state (open, closed, overdue), stage code, ISO month or ``overdue``, owner …"""
    if state == "open":
        rows = rows.filter(stage__outcome=OPEN)
    elif state == "closed":
        rows = rows.exclude(stage__outcome=OPEN)
    if stage:
        rows = rows.filter(stage__code=stage)
    if month == OVERDUE:
        rows = rows.filter(decision_on__lt=today, stage__outcome=OPEN)
    elif month:
        first = date.fromisoformat(f"{month}-01")
        rows = rows.filter(decision_on__range=(max(first, today), month_end(first)))
    if owner:
        rows = rows.filter(owner_id=owner)
    if confidence:
        rows = rows.filter(confidence=confidence)
    if customer:
        rows = rows.filter(customer_id=customer)
    if least is not None:
        rows = rows.filter(amount__gte=least)
    for word in words.split()[:6]:
        rows = rows.filter(Q(title__icontains=word) | Q(customer__name__icontains=word))
    return rows


def for_forecast(rows: QuerySet[Deal]) -> list[ForecastDeal]:
    """Deals as the forecast's values. One query, no model instances."""
    found = rows.order_by().values_list(
        "amount", "probability", "decision_on", "stage__code", "owner_id", "confidence"
    )
    return [
        ForecastDeal(
            amount=amount,
            probability_percent=probability,
            decision=decision,
            stage=stage,
            rep=str(owner),
            confidence=confidence,
        )
        for amount, probability, decision, stage, owner, confidence in found
    ]


SORTS = {
    "decision": "decision_on",
    "amount": "amount",
    "customer": "customer__name",
    "title": "title",
    "stage": "stage__position",
    "owner": "owner__first_name",
    "probability": "probability",
}


def sort_deals(rows: DealQuerySet, sort: str) -> QuerySet[Deal]:
    """By a key of ``SORTS``, ``-`` before it for the reverse."""
    return in_order(rows, sort, SORTS, "decision")
