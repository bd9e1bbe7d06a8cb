"""The diary by what people ask of it."""

from datetime import date

from django.db.models import Q, QuerySet

from apps.deals.queries import helped_by
from apps.diary.models import FOLLOW_UP, Activity
from apps.people.access import owned
from apps.people.models import User, beside_name
from apps.searching import Index

WORDS = Index(columns=("text",), first="text")
SORTS = {"day": "day"}


def seen_activities(who: User) -> QuerySet[Activity]:
    """What this person may read: their own and what they lead, and what is of their customers or of deals they help
    with."""
    helped = list(helped_by(who).values_list("pk", flat=True))
    mine = owned(who) | owned(who, "customer__owner")
    return Activity.objects.filter(mine | Q(deal_id__among=helped) if helped else mine)


def filter_activities(
    rows: QuerySet[Activity],
    *,
    owner: int | None = None,
    kind: str = "",
    customer: int | None = None,
    since: date | None = None,
    until: date | None = None,
    words: str = "",
) -> QuerySet[Activity]:
    """Narrow by whose, kind (``open``: follow-ups that are not done; ``visit`` also those that are planned), customer,
    days, words."""
    if owner:
        rows = rows.filter(owner_id=owner)
    if kind == "open":
        rows = rows.filter(kind=FOLLOW_UP, done_at=None)
    elif kind == "visit":
        rows = rows.filter(Q(kind=kind) | Q(visit=True))
    elif kind:
        rows = rows.filter(kind=kind)
    if customer:
        rows = rows.filter(customer_id=customer)
    if since:
        rows = rows.filter(day__gte=since)
    if until:
        rows = rows.filter(day__lte=until)
    return WORDS.find(rows, words)


def with_people(rows: QuerySet[Activity]) -> QuerySet[Activity]:
    """With the people that they name, what was told of them, who is invited and what lies with them. Five queries."""
    named = rows.select_related("owner", "asked_by", "contact")
    return named.defer(*beside_name("owner")).prefetch_related("told__who", "invited", "files")


def shown() -> QuerySet[Activity]:
    """As the diary reads them: with their customer and deal as well."""
    return with_people(Activity.objects.select_related("customer", "deal"))
