"""Calendars from elsewhere: the events of a file, with whom each seems to be, and taking them into the diary."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, time
import hashlib
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import transaction

from apps.cleaning import clean
from apps.customers.models import Contact, Customer
from apps.diary.flows import MOST_MINUTES, Noted, add_activity
from apps.diary.models import FOLLOW_UP, VISIT, Activity
from apps.errors import FlowError, Invalid
from apps.killable import told_by
from apps.people.access import owned, sells
from apps.people.models import User

READER = Path(__file__).with_name("calendar_reader.py")
MOST_BYTES, MOST = 1_000_000, 500
#: The names of so many customers are looked for; a shorter one is in too many words.
MOST_NAMES, SHORTEST = 5_000, 5


@dataclass(frozen=True, slots=True, kw_only=True)
class Event:
    """An event of another calendar; ``customer``: whom it seems to be with; ``known``: this person took it before."""

    uid: str
    text: str
    day: date
    starts: time | None
    minutes: int | None
    where: str
    repeats: bool
    customer: Customer | None
    known: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Taken:
    """An event as it is taken into the diary, with a customer."""

    uid: str
    customer_id: int
    text: str
    day: date
    starts: time | None = None
    minutes: int | None = None
    where: str = ""


def events_in(who: User, file: str, body: bytes) -> list[Event]:
    """The events of a calendar file, as this person may take them. Three queries."""
    sells(who)
    if len(body) > MOST_BYTES:
        raise Invalid("too_big", path="file")
    if not file.lower().endswith((".ics", ".ical")):
        raise Invalid("unknown_format", path="file", facts={"what": "calendar"})
    told = told_by(READER, {"zone": settings.TIME_ZONE, "most": MOST}, body)["events"]
    known = _known(who, [each["uid"] for each in told])
    with_whom = _With(who, {address for each in told for address in each["people"]})
    return [
        Event(
            uid=each["uid"],
            text=clean(each["text"]),
            day=date.fromisoformat(each["day"]),
            starts=time.fromisoformat(each["starts"]) if each["starts"] else None,
            minutes=min(each["minutes"], MOST_MINUTES) or None,
            where=clean(each["where"])[:160],
            repeats=each["repeats"],
            customer=with_whom.of(each),
            known=_mark(each["uid"]) in known,
        )
        for each in told
    ]


class _With:
    """With whom an event seems to be: whose people come; else who is named in it. Two queries."""

    def __init__(self, who: User, addresses: Iterable[str]):
        mine = Customer.objects.filter(owned(who), retired_at=None)
        people = Contact.objects.filter(customer__in=mine, email__in=list(addresses))
        self._by_address = {
            row.email.lower(): row.customer for row in people.select_related("customer")
        }
        names = mine.filter(owner=who).only("name").order_by("-pk")[:MOST_NAMES]
        self._by_name = {row.name.casefold(): row for row in names if len(row.name) >= SHORTEST}

    def of(self, event: dict[str, Any]) -> Customer | None:
        """Nobody where it names none, or two."""
        coming = {self._by_address[each] for each in event["people"] if each in self._by_address}
        if coming:
            return coming.pop() if len(coming) == 1 else None
        words = f"{event['text']} {event['where']}".casefold()
        named = [row for name, row in self._by_name.items() if name in words]
        return named[0] if len(named) == 1 else None


@transaction.atomic
def take_events(who: User, rows: Sequence[Taken], today: date) -> int:
    """Take events into one's diary, all or none: what lies ahead to be visited, what lies behind as a visit; how many.

    What was taken before is left as it is. A refusal names its row.
    """
    sells(who)
    known = _known(who, [row.uid for row in rows])
    taken = 0
    for n, row in enumerate(rows):
        mark = _mark(row.uid)
        if mark in known:
            continue
        try:
            made = add_activity(who, _noted(row, today))
        except FlowError as error:
            error.path = f"rows[{n}].{error.path}"
            raise
        if mark:
            known.add(mark)
            made.mark = mark
            made.save(update_fields=["mark"])
        taken += 1
    return taken


def _known(who: User, uids: Sequence[str]) -> set[str | None]:
    """The marks of those that this person took before. One query."""
    marks = [_mark(uid) for uid in uids if uid]
    rows = Activity.objects.filter(owner=who, mark__in=marks)
    return set(rows.values_list("mark", flat=True))


def _mark(uid: str) -> str | None:
    """None for one without a name: nobody knows whether it was taken before."""
    return hashlib.sha256(uid.encode()).hexdigest() if uid else None


def _noted(row: Taken, today: date) -> Noted:
    ahead = row.day >= today
    return Noted(
        kind=FOLLOW_UP if ahead else VISIT,
        visit=ahead,
        text=row.text,
        customer_id=row.customer_id,
        day=None if ahead else row.day,
        due_on=row.day if ahead else None,
        starts=row.starts,
        minutes=row.minutes,
        where=row.where,
    )
