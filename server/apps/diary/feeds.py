"""Calendars: the address of a person's feed, and follow-ups as RFC 5545 writes them."""

from collections.abc import Iterable
from datetime import UTC, date, datetime, timedelta
import hashlib
from secrets import token_urlsafe

from django.conf import settings
from django.db import transaction
from django.db.models import F, Q
from django.utils import timezone
from icalendar import Calendar, Event, vDuration

from apps.diary.models import FOLLOW_UP, Activity, Feed
from apps.errors import TooMany
from apps.journal.audit import note
from apps.journal.models import AuditLine
from apps.people.access import owned, pick, sells
from apps.people.models import User

#: Done ones stay in the calendar so long; so many are told at most.
KEPT_DAYS, MOST = 30, 500
#: Who misses more often than this within the time is put off.
WINDOW, MOST_MISSES = timedelta(minutes=10), 20
#: How often a calendar is asked to look.
REFRESH = timedelta(hours=1)
#: How long something lasts of which only the hour is known.
USUAL_MINUTES = 60


@transaction.atomic
def make_feed(who: User, now: datetime) -> str:
    """A new address, in place of the one before; it is told once."""
    sells(who)
    token = token_urlsafe(32)
    values = {"token_hash": _hash(token), "made_at": now, "read_at": None}
    Feed.objects.update_or_create(owner=who, defaults=values)
    return token


def end_feed(who: User) -> None:
    """The address holds no more."""
    Feed.objects.filter(owner=who).delete()


def owner_of(token: str, address: str, now: datetime) -> User | None:
    """Whose feed it is; None for one that was guessed or ended. Who misses too often is put off (``TooMany``)."""
    missed = AuditLine.objects.filter(what="link_missed", address=address, at__gt=now - WINDOW)
    if missed.count() >= MOST_MISSES:
        raise TooMany("wait", facts={"seconds": int(WINDOW.total_seconds())})
    feed = Feed.objects.select_related("owner").filter(token_hash=_hash(token)).first()
    if feed is None or not feed.owner.is_active:
        note("link_missed", address=address)
        return None
    Feed.objects.filter(pk=feed.pk).update(read_at=now)
    return feed.owner


def calendar_of(who: User, today: date) -> bytes:
    """A person's own follow-ups, open ones and those that were done lately. One query."""
    lately = Q(done_at=None) | Q(due_on__gte=today - timedelta(days=KEPT_DAYS))
    rows = (
        Activity.objects.filter(lately, owner=who, kind=FOLLOW_UP)
        .select_related("customer", "deal", "owner")
        .order_by(F("done_at").asc(nulls_first=True), "due_on", "pk")[:MOST]
    )
    return _calendar(rows)


def follow_up_card(who: User, activity_id: int) -> bytes:
    """One follow-up, to be sent or taken into a calendar."""
    rows = Activity.objects.filter(owned(who), kind=FOLLOW_UP)
    return _calendar(
        [pick(rows.select_related("customer", "deal", "owner"), activity_id, "follow-up")]
    )


def _calendar(rows: Iterable[Activity]) -> bytes:
    found = Calendar()
    found.add("prodid", "-//Vivid Route//Follow-ups//EN")
    found.add("version", "2.0")
    found.add("refresh-interval", vDuration(REFRESH), parameters={"value": "DURATION"})
    for row in rows:
        found.add_component(event_of(row))
    return bytes(found.to_ical())


def uid_of(activity: int) -> str:
    """What calendars call it, for ever."""
    return f"follow-up-{activity}@{settings.ALLOWED_HOSTS[0]}"


def event_of(row: Activity) -> Event:
    """A whole day, or where it has its hour, from then on."""
    assert row.due_on is not None
    event = Event()
    event.add("uid", uid_of(row.pk))
    event.add("dtstamp", row.created_at)
    event.add("sequence", row.version - 1)
    if row.starts:
        starts = timezone.make_aware(datetime.combine(row.due_on, row.starts)).astimezone(UTC)
        event.add("dtstart", starts)
        event.add("dtend", starts + timedelta(minutes=row.minutes or USUAL_MINUTES))
    else:
        event.add("dtstart", row.due_on)
        event.add("dtend", row.due_on + timedelta(days=1))
    event.add("summary", f"{'✓ ' if row.done_at else ''}{row.text}"[:200])
    about = row.deal.title if row.deal else ""
    if row.where or (row.visit and row.customer.town):
        event.add("location", row.where or f"{row.customer.name}, {row.customer.town}")
    event.add("description", "\n".join(part for part in (row.customer.name, about) if part))
    event.add("transp", "OPAQUE" if row.starts else "TRANSPARENT")
    event.add("status", "CONFIRMED")
    return event


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()
