"""Invitations to a visit, sent by mail, and the answers to them (RFC 5546 and 6047: REQUEST and REPLY)."""

from collections.abc import Sequence
from datetime import datetime
import re

from django.conf import settings
from icalendar import Calendar, vCalAddress, vText

from apps.diary.calendars_in import READER
from apps.diary.feeds import event_of, uid_of
from apps.diary.models import ACCEPTED, DECLINED, TENTATIVE, Activity, Invited
from apps.errors import FlowError
from apps.killable import told_by
from apps.people.models import User

#: An answer is short; what is longer is none.
MOST_BYTES = 64_000
SAYS = {"ACCEPTED": ACCEPTED, "DECLINED": DECLINED, "TENTATIVE": TENTATIVE}
_KEY = re.compile(r"follow-up-(\d{1,12})@")


def invitation(row: Activity, by: User, people: Sequence[tuple[str, str]]) -> bytes:
    """The invitation of (name, address) to a visit; answers go where the house's mails are answered."""
    event = event_of(row)
    event["sequence"] = row.version - 1
    event.add("organizer", _person(by.name, settings.MAIL_FROM))
    for name, address in people:
        guest = _person(name, address)
        guest.params["rsvp"] = vText("TRUE")
        guest.params["partstat"] = vText("NEEDS-ACTION")
        event.add("attendee", guest, encode=False)
    found = Calendar()
    found.add("prodid", "-//Vivid Route//Follow-ups//EN")
    found.add("version", "2.0")
    found.add("method", "REQUEST")
    found.add_component(event)
    return bytes(found.to_ical())


def _person(name: str, address: str) -> vCalAddress:
    found = vCalAddress(f"mailto:{address}")
    if name:
        # No quotation mark stands within a parameter (RFC 5545, 3.2).
        found.params["cn"] = vText(name.replace('"', "'"))
    return found


def note_invited(row: Activity, people: Sequence[tuple[str, str]], now: datetime) -> None:
    """Who was invited; whoever is again has not answered yet."""
    for name, address in people:
        values = {
            "name": name[:120],
            "at": now,
            "sequence": row.version - 1,
            "says": "",
            "said_at": None,
        }
        Invited.objects.update_or_create(activity=row, address=address.lower(), defaults=values)


def take_answer(body: bytes, sender: str, now: datetime) -> str:
    """Note what ``sender`` says to an invitation of ours; "" where a calendar is no answer of theirs to one."""
    if len(body) > MOST_BYTES:
        return ""
    try:
        told = told_by(READER, {"zone": settings.TIME_ZONE, "most": 5}, body)
    except FlowError:
        return ""
    if told["method"] != "REPLY":
        return ""
    for event in told["events"]:
        key = _KEY.match(event["uid"])
        says = SAYS.get(dict(event["says"]).get(sender, ""), "")
        if key is None or not says or event["uid"] != uid_of(int(key[1])):
            continue
        # An answer to how it stood before it moved says nothing of how it stands.
        rows = Invited.objects.filter(
            activity=int(key[1]), address=sender, sequence__lte=event["sequence"]
        )
        if rows.update(says=says, said_at=now):
            return says
    return ""
