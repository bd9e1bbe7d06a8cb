"""Deals by what people ask of them."""

from collections.abc import Iterable
from datetime import date, datetime, time, timedelta
from decimal import Decimal
from functools import reduce

from django.conf import settings
from django.db.models import (
    Case,
    Count,
    DecimalField,
    F,
    IntegerField,
    Prefetch,
    Q,
    QuerySet,
    Sum,
    When,
)
from django.db.models.functions import ExtractMonth, ExtractYear, Round
from django.utils import timezone

from apps.customers.models import Customer
from apps.deals.models import LOST, OPEN, PARKED, WON, Deal, DealQuerySet, Helper, Stage
from apps.people.access import members_of, owned
from apps.people.models import ADMIN, User, beside_name
from apps.searching import Index
from routecore.dates import month_end
from routecore.forecast import OVERDUE, Cell, DealGroup
from routecore.money import minor_digits


def deals_of(who: User) -> DealQuerySet:
    """The deals this person may see."""
    return Deal.objects.filter(owned(who))


def helped_by(who: User) -> DealQuerySet:
    """The deals of others in whose team this person is."""
    helped = Helper.objects.filter(person=who).values_list("deal_id", flat=True)
    return Deal.objects.filter(pk__among=list(helped))


def seen_deals(who: User) -> DealQuerySet:
    """The deals this person may look at: also those in whose team they are."""
    if who.role == ADMIN:
        return deals_of(who)
    helped = Helper.objects.filter(person=who).values_list("deal_id", flat=True)
    return Deal.objects.filter(owned(who) | Q(pk__in=list(helped)))


def shown() -> DealQuerySet:
    """Deals as a list shows them, with what is read beside them."""
    return Deal.objects.select_related("stage", "owner").defer(*beside_name("owner"))


def of_many() -> DealQuerySet:
    """As ``shown``, with only what a row tells: thousands of them are read at once. Three queries."""
    told = Deal.objects.only(
        *("title", "customer", "customer_name", "stage", "owner", "quoted_amount", "amount"),
        *("probability", "decision_on", "confidence", "version", "created_at", "outcome"),
    )
    owners = User.objects.only("first_name", "last_name", "username")
    return told.prefetch_related("stage", Prefetch("owner", owners))


#: What became of the deals of a state.
STATES = {"open": (OPEN,), "closed": (WON, LOST, PARKED), "won": (WON,)}


def filter_deals(
    rows: DealQuerySet,
    *,
    today: date,
    state: str = "",
    stage: str = "",
    month: str = "",
    owner: int | None = None,
    team: int | None = None,
    confidence: str = "",
    customer: int | None = None,
    family: bool = False,
    words: str = "",
    least: Decimal | None = None,
    since: date | None = None,
    until: date | None = None,
) -> DealQuerySet:
    """Narrow by state (open, closed, won), stage code, ISO month or ``overdue``, owner …

    The month and the days from ``since`` to ``until`` are of the expected decision; of deals that were won, of the day
    on which they were. ``team``: of its people; ``family``: the customer's whole group counts.
    """
    if state in STATES:
        rows = rows.filter(outcome__in=STATES[state])
    if stage:
        rows = rows.filter(stage_id__in=list(Stage.objects.filter(code=stage).values_list("pk")))
    rows = _on_days(rows, today, month, since, until, won=state == "won")
    if owner:
        rows = rows.filter(owner_id=owner)
    if team:
        rows = rows.filter(owner_id__among=members_of(team))
    if confidence:
        rows = rows.filter(confidence=confidence)
    if customer:
        rows = rows.filter(customer_id__among=family_of(customer) if family else [customer])
    if least is not None:
        rows = rows.filter(amount__gte=least)
    return WORDS.find(rows, words)


def family_of(customer: int) -> list[int]:
    """The customer, and whoever belongs to one group with it. Two queries."""
    parent = Customer.objects.filter(pk=customer).values_list("parent_id", flat=True).first()
    head = parent or customer
    members = Customer.objects.filter(parent_id=head).values_list("pk", flat=True)
    return [head, *members]


def _on_days(
    rows: DealQuerySet,
    today: date,
    month: str,
    since: date | None,
    until: date | None,
    *,
    won: bool,
) -> DealQuerySet:
    if month:
        rows = _in_month(rows, month, today, won=won)
    if won and (since or until):
        return won_within(rows, since or date(2000, 1, 1), until or date(2099, 12, 31))
    if since:
        rows = rows.filter(decision_on__gte=since)
    return rows.filter(decision_on__lte=until) if until else rows


def _in_month(rows: DealQuerySet, month: str, today: date, *, won: bool) -> DealQuerySet:
    if month == OVERDUE:
        return rows.filter(decision_on__lt=today, outcome=OPEN)
    first = date.fromisoformat(f"{month}-01")
    last = month_end(first)
    if won:
        return won_within(rows, first, last)
    return rows.filter(decision_on__range=(max(first, today), last))


def won_within(rows: DealQuerySet, first: date, last: date) -> DealQuerySet:
    """Deals that were won on these days, both included, by the house's clock."""
    return rows.filter(won_on(first, last))


def won_on(first: date, last: date) -> Q:
    """Which deals were won on these days."""
    since, until = (
        timezone.make_aware(datetime.combine(day, time()))
        for day in (first, last + timedelta(days=1))
    )
    return Q(outcome=WON, closed_at__gte=since, closed_at__lt=until)


WORDS = Index(columns=("title", "customer_name"), first="title")


def weighted() -> Round:
    """A deal's amount times its probability, rounded as ``routecore.forecast.weigh`` does."""
    places = minor_digits(settings.BASE_CURRENCY)
    exact = DecimalField(max_digits=38, decimal_places=11)
    return Round(F("amount") * F("probability") / 100, places, output_field=exact)


def by_month(rows: QuerySet[Deal], today: date) -> dict[str, Cell]:
    """What deals come to by ISO month or ``overdue``. One query."""
    found = (
        rows.order_by()
        .annotate(month=_month(today))
        .values_list("month")
        .annotate(Count("pk"), Sum("amount"), weight=Sum(weighted()))
    )
    return {_month_name(when): Cell(*figures) for when, *figures in found}


def by_confidence(values: Iterable[tuple[str, Decimal, Decimal]]) -> dict[str, Cell]:
    """What deals come to by confidence, of each one's confidence, amount and weighted amount."""
    found: dict[str, Cell] = {}
    for confidence, amount, weight in values:
        found[confidence] = found.get(confidence, Cell()).joined(Cell(1, amount, weight))
    return found


def joined(cells: Iterable[Cell]) -> Cell:
    """All of them together."""
    return reduce(Cell.joined, cells, Cell())


def _month_name(when: int | None) -> str:
    return f"{when // 100}-{when % 100:02}" if when else OVERDUE


def _month(today: date) -> Case:
    """Year and month of the decision, as a number; none where its day is gone by."""
    return Case(
        When(decision_on__lt=today, then=None),
        default=ExtractYear("decision_on") * 100 + ExtractMonth("decision_on"),
        output_field=IntegerField(null=True),
    )


def for_forecast(rows: QuerySet[Deal], today: date) -> list[DealGroup]:
    """Deals as the forecast's values, those that fall together in one. One query.

    The database weighs and rounds each deal as ``routecore.forecast.weigh`` does, and adds up.
    """
    found = (
        rows.order_by()
        .annotate(month=_month(today))
        .values_list("month", "stage__code", "owner_id", "confidence")
        .annotate(Count("pk"), Sum("amount"), weight=Sum(weighted()))
    )
    return [
        DealGroup(
            month=_month_name(when),
            stage=stage,
            rep=str(owner),
            confidence=confidence,
            cell=Cell(count, amount, weight),
        )
        for when, stage, owner, confidence, count, amount, weight in found
    ]


SORTS = {
    "decision": "decision_on",
    "amount": "amount",
    "customer": "customer_name",
    "title": "title",
    "stage": "stage_position",
    "owner": "owner_name",
    "probability": "probability",
}
