"""Visits: the open sessions of a person, seen by themselves and ended by themselves."""

from datetime import datetime, timedelta

from django.contrib.sessions.models import Session
from django.db import transaction
from django.db.models import QuerySet

from apps.door.entering import Caller
from apps.errors import Missing
from apps.journal.audit import note
from apps.people.models import User, Visit

IDLE = timedelta(hours=12)
STAYS = timedelta(days=30)
#: A visit is written down as seen at most this often.
SEEN_EVERY = timedelta(minutes=10)


def begin_visit(who: User, key: str, caller: Caller, *, stay: bool, now: datetime) -> None:
    """Note a new session of a person."""
    agent = caller.agent[:200]
    Visit.objects.create(
        user=who, key=key, address=caller.address, agent=agent, stays=stay, since=now, seen=now
    )


def see_visit(key: str, now: datetime) -> None:
    """Note that the session is in use."""
    Visit.objects.filter(key=key).update(seen=now)


def visits_of(who: User) -> QuerySet[Visit]:
    """The sessions that are open still, the last used first."""
    alive = Session.objects.values("session_key")
    return Visit.objects.filter(user=who, key__in=alive).order_by("-seen", "-pk")


@transaction.atomic
def end_visit(who: User, visit_id: int) -> None:
    """End one of one's sessions."""
    row = Visit.objects.filter(user=who, pk=visit_id).first()
    if row is None:
        raise Missing("not_found", facts={"what": "visit"})
    _end(who, [row])


@transaction.atomic
def end_other_visits(who: User, own: str) -> int:
    """End all of one's sessions but this one; how many."""
    return _end(who, list(Visit.objects.filter(user=who).exclude(key=own)))


def _end(who: User, rows: list[Visit]) -> int:
    Session.objects.filter(session_key__in=[row.key for row in rows]).delete()
    Visit.objects.filter(pk__in=[row.pk for row in rows]).delete()
    note("visits_ended", who=who, detail=str(len(rows)))
    return len(rows)
