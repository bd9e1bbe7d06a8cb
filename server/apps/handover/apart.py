"""News set apart: seen by the back office and the lead, tried again or let go."""

from datetime import datetime, timedelta
import json

from django.db import transaction
from django.db.models import QuerySet

from apps.errors import Invalid, Refused, check_version
from apps.handover.intake import apply_waiting
from apps.handover.models import APART, EXPECTANT, LET_GO, BackOfficeEvent, Handover
from apps.handover.reading import read_news
from apps.journal.flows import record_changes
from apps.people.access import fulfils, pick_locked, read_for_fulfilment
from apps.people.models import LEAD, User
from apps.told import Unfit

#: An event that waits longer than this for another one is shown as well.
PATIENCE = timedelta(hours=1)


def apart(who: User, now: datetime) -> QuerySet[BackOfficeEvent]:
    """What is set apart, and what has waited long: of the orders that this person sees.

    News of no order of ours is for the back office and the administrator alone.
    """
    fulfils(who)
    late = BackOfficeEvent.objects.filter(state=EXPECTANT, received_at__lt=now - PATIENCE)
    rows = BackOfficeEvent.objects.filter(state=APART) | late
    if who.role == LEAD:
        own = Handover.objects.filter(read_for_fulfilment(who, "order__owner"))
        rows = rows.filter(key__in=own.values("key"))
    return rows.order_by("-pk")


@transaction.atomic
def try_again(who: User, event_id: int, version: int, *, now: datetime) -> BackOfficeEvent:
    """Read and apply an event once more, now that something else has changed."""
    row = _locked(who, event_id, version, now)
    if row.event_id is None:
        _read(row)
    if row.event_id is not None:
        row.state = EXPECTANT
    row.version += 1
    row.save()
    if row.key is not None and row.state == EXPECTANT:
        apply_waiting(row.key)
        row.refresh_from_db()
    _record(who, row, "tried again")
    return row


def _read(row: BackOfficeEvent) -> None:
    """Read an event that had no readable id; it stays apart where it still has none."""
    try:
        news = read_news(json.loads(row.raw))
    except (ValueError, Unfit):
        return
    if BackOfficeEvent.objects.filter(event_id=news.event_id).exists():
        raise Refused("known_event")
    row.event_id, row.key, row.kind = news.event_id, news.key, news.kind
    row.occurred_at = news.occurred_at


@transaction.atomic
def let_go(who: User, event_id: int, version: int, reason: str, *, now: datetime) -> None:
    """Let an event go for good, and say why."""
    if not reason.strip():
        raise Invalid("required", path="reason", facts={"what": "let_go"})
    row = _locked(who, event_id, version, now)
    row.state, row.settled_by, row.settled_at = LET_GO, who, now
    row.version += 1
    row.save()
    _record(who, row, reason.strip())


def _locked(who: User, event_id: int, version: int, now: datetime) -> BackOfficeEvent:
    row = pick_locked(apart(who, now), event_id, "news")
    check_version(row.version, version, "news")
    return row


def _record(who: User, row: BackOfficeEvent, reason: str) -> None:
    record_changes(who, "news", row.pk, {row.kind or "news": (APART, row.state)}, reason)
