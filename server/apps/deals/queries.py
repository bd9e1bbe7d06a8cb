"""Deals by what people ask of them."""

from datetime import date
from decimal import Decimal

from django.conf import settings
from django.db.models import Count, DecimalField, F, QuerySet, Sum
from django.db.models.functions import Coalesce, Round

from apps.deals.models import LOST, OPEN, PARKED, WON, Deal, DealQuerySet, Stage
from apps.listing import in_order
from apps.people.access import owned
from apps.people.models import User
from apps.searching import find
from routecore.dates import month_end
from routecore.forecast import OVERDUE, Cell, DealGroup, month_of
from routecore.money import minor_digits


def deals_of(who: User) -> DealQuerySet:
    """The deals this person may see, with their probability."""
    return Deal.objects.filter(owned(who)).valued()


def shown() -> DealQuerySet:
    """Deals as a list shows them, with what is read beside them."""
    return Deal.objects.valued().select_related("stage", "owner")


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
        rows = rows.filter(outcome=OPEN)
    elif state == "closed":
        rows = rows.filter(outcome__in=(WON, LOST, PARKED))
    if stage:
        rows = rows.filter(stage_id__in=list(Stage.objects.filter(code=stage).values_list("pk")))
    if month == OVERDUE:
        rows = rows.filter(decision_on__lt=today, outcome=OPEN)
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
    return find(rows, words, index=WORDS, first="title")


#: The columns of the word index of deals.
WORDS = ("title", "customer_name")


def for_forecast(rows: QuerySet[Deal], today: date) -> list[DealGroup]:
    """Deals as the forecast's values, those that fall together in one. One query.

    The database weighs and rounds each deal as ``routecore.forecast.weigh`` does, and adds up.
    """
    probability = Coalesce("own_probability_percent", "stage__probability_percent")
    exact = DecimalField(max_digits=38, decimal_places=11)
    weighted = Round(F("amount") * probability / 100, minor_digits(settings.BASE_CURRENCY))
    found = (
        rows.order_by()
        .values_list("decision_on", "stage__code", "owner_id", "confidence")
        .annotate(Count("pk"), Sum("amount"), weight=Sum(weighted, output_field=exact))
    )
    groups: dict[tuple[str, str, int, str], Cell] = {}
    for day, stage, owner, confidence, count, amount, weight in found:
        key = month_of(day, today), stage, owner, confidence
        groups[key] = groups.get(key, Cell()).joined(Cell(count, amount, weight))
    return [
        DealGroup(month=month, stage=stage, rep=str(owner), confidence=confidence, cell=cell)
        for (month, stage, owner, confidence), cell in groups.items()
    ]


SORTS = {
    "decision": "decision_on",
    "amount": "amount",
    "customer": "customer_name",
    "title": "title",
    "stage": "stage__position",
    "owner": "owner__first_name",
    "probability": "probability",
}


def sort_deals(rows: DealQuerySet, sort: str) -> QuerySet[Deal]:
    """By a key of ``SORTS``, ``-`` before it for the reverse."""
    return in_order(rows, sort, SORTS, "decision")
