"""Leads by what people ask of them."""

from datetime import date

from django.db.models import QuerySet

from apps.leads.models import OPEN, Lead
from apps.people.access import owned
from apps.people.models import User, beside_name
from apps.searching import Index

WORDS = Index(columns=("company", "name", "topic"), first="company")
SORTS = {"newest": "id", "company": "company", "next": "next_on"}


def leads_of(who: User) -> QuerySet[Lead]:
    """The leads that this person may see."""
    return Lead.objects.filter(owned(who))


def shown() -> QuerySet[Lead]:
    """Leads as a list shows them."""
    return Lead.objects.select_related("owner").defer("need", *beside_name("owner"))


def filter_leads(
    rows: QuerySet[Lead],
    *,
    today: date,
    state: str = "",
    source: str = "",
    owner: int | None = None,
    due: bool = False,
    words: str = "",
) -> QuerySet[Lead]:
    """Narrow by state, where they came from, owner; ``due``: open, with a next step that is due by today."""
    if due:
        rows = rows.filter(state=OPEN, next_on__lte=today)
    elif state:
        rows = rows.filter(state=state)
    if source:
        rows = rows.filter(source=source)
    if owner:
        rows = rows.filter(owner_id=owner)
    return WORDS.find(rows, words)
