"""Views of a list that a person keeps: its filters, order and columns under a name."""

from collections.abc import Sequence

from django.db import transaction

from apps.errors import Invalid, Missing, Refused
from apps.people.models import SavedView, User

MOST_VIEWS = 30


@transaction.atomic
def keep_view(
    who: User, place: str, name: str, query: dict[str, str], columns: Sequence[str]
) -> SavedView:
    """Keep a view of one's own; one of the same name in the same place is replaced."""
    title = name.strip()
    if not title:
        raise Invalid("required", path="name", facts={"what": "view"})
    User.objects.select_for_update().get(pk=who.pk)
    mine = SavedView.objects.filter(owner=who, place=place)
    found = mine.filter(name=title).first()
    if found is None and mine.count() >= MOST_VIEWS:
        raise Refused("too_many", facts={"what": "views", "most": MOST_VIEWS})
    row = found or SavedView(owner=who, place=place, name=title)
    row.query, row.columns = query, list(columns)
    row.save()
    return row


def let_view_go(who: User, view_id: int) -> None:
    """Let one's own view go."""
    gone, _ = SavedView.objects.filter(owner=who, pk=view_id).delete()
    if not gone:
        raise Missing("not_found", facts={"what": "view"})
