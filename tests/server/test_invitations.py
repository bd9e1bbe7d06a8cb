"""Invitations to a visit go out by mail; what is said to them comes back (RFC 5546, 6047)."""

from datetime import timedelta
from email import message_from_bytes
from email.message import EmailMessage
from typing import Any

from icalendar import Calendar
import pytest

from apps.customers.models import Contact
from apps.diary.models import Activity, Invited
from apps.mail.composing import mime_of
from apps.mail.models import Message, Received
from tests.server.conftest import Caller, World
from tests.server.letters import came, mail


@pytest.fixture
def visit(world: World, as_ilse: Caller, maren: Contact) -> dict[str, Any]:
    """Planned for half past nine, three days ahead."""
    body = {
        "kind": "follow_up",
        "text": "Walk the north field",
        "customer_id": world.customer.pk,
        "contact_id": maren.pk,
        "due_on": f"{world.today + timedelta(days=3)}",
        "starts": "09:30",
        "minutes": 90,
        "visit": True,
    }
    made: dict[str, Any] = as_ilse("post", "activities", body)
    return made


def invite(caller: Caller, visit: dict[str, Any], maren: Contact) -> Message:
    draft = caller("get", "mail-draft", kind="visit", record=visit["id"])
    body = {
        "kind": "visit",
        "record": visit["id"],
        "to": [{"name": maren.name, "address": maren.email}],
        "contact_id": maren.pk,
        "subject": draft["subject"],
        "body": draft["body"],
        "papers": ["ics"],
    }
    return Message.objects.get(pk=caller("post", "mails", body)["id"])


def calendar_in(message: Message) -> tuple[str | None, Any]:
    """The method that the mail names, and the event."""
    sent = message_from_bytes(mime_of(message))
    (part,) = [each for each in sent.walk() if each.get_content_type() == "text/calendar"]
    found = Calendar.from_ical(part.get_payload(decode=True))
    assert found["method"] == part.get_param("method")
    return found["method"], next(iter(found.walk("VEVENT")))


def reply(message: Message, says: str, address: str, **fields: str) -> EmailMessage:
    """What a calendar sends where somebody answers."""
    _, event = calendar_in(message)
    lines = [
        "BEGIN:VCALENDAR",
        "METHOD:REPLY",
        "VERSION:2.0",
        "PRODID:-//another//EN",
        "BEGIN:VEVENT",
        f"UID:{fields.get('uid', event['uid'])}",
        f"SEQUENCE:{event['sequence']}",
        f"DTSTART:{event['dtstart'].dt:%Y%m%dT%H%M%SZ}",
        f"ATTENDEE;PARTSTAT={says};CN=Maren Holt:MAILTO:{fields.get('for_whom', address)}",
        "END:VEVENT",
        "END:VCALENDAR",
    ]
    answer = mail(
        From=f"Maren <{address}>", Subject=f"{says}: Visit", Message_ID=f"<{says}@grower.example>"
    )
    answer.add_attachment(
        "\r\n".join(lines), subtype="calendar", params={"method": "REPLY"}, disposition="inline"
    )
    return answer


def said(caller: Caller) -> list[tuple[str, str]]:
    (row,) = caller("get", "diary", kind="visit")["rows"]
    return [(each["name"], each["says"]) for each in row["invited"]]


def test_an_invitation_begins_with_when_where_and_what_and_carries_the_event(
    as_ilse: Caller, visit: dict[str, Any], maren: Contact
) -> None:
    sent = invite(as_ilse, visit, maren)
    assert "09:30" in sent.subject
    assert "Walk the north field" in sent.body
    method, event = calendar_in(sent)
    begins, ends = event["dtstart"].dt, event["dtend"].dt
    assert (method, event["summary"]) == ("REQUEST", "Walk the north field")
    assert ends - begins == timedelta(minutes=90)
    assert event["attendee"].lower() == "mailto:maren.holt@grower.example"
    assert event["attendee"].params["partstat"] == "NEEDS-ACTION"
    assert event["organizer"].startswith("mailto:")
    assert said(as_ilse) == [("Maren Holt", "")]


@pytest.mark.parametrize(
    ("says", "known", "waits"),
    [
        ("ACCEPTED", "accepted", False),
        ("DECLINED", "declined", True),
        ("TENTATIVE", "tentative", True),
        ("DELEGATED", "", True),
    ],
)
def test_what_is_said_to_it_stands_at_the_visit(
    as_ilse: Caller, visit: dict[str, Any], maren: Contact, says: str, known: str, waits: bool
) -> None:
    sent = invite(as_ilse, visit, maren)
    kept = came(reply(sent, says, "maren.holt@grower.example"))
    assert isinstance(kept, Received)
    kept.refresh_from_db()
    assert said(as_ilse) == [("Maren Holt", known)]
    # Nobody has to answer a yes.
    assert (kept.settled_at is None) == waits


def test_nobody_answers_for_somebody_else_or_to_what_they_were_not_invited_to(
    world: World, as_ilse: Caller, visit: dict[str, Any], maren: Contact
) -> None:
    sent = invite(as_ilse, visit, maren)
    other = Contact.objects.create(
        customer=world.customer, name="Other", email="other@grower.example"
    )
    mine = "maren.holt@grower.example"
    came(reply(sent, "ACCEPTED", other.email, for_whom=mine), uid=1)
    came(reply(sent, "DECLINED", other.email), uid=2)
    came(reply(sent, "TENTATIVE", mine, uid="follow-up-999999@elsewhere.example"), uid=3)
    assert said(as_ilse) == [("Maren Holt", "")]


def test_who_is_invited_again_after_it_moved_has_not_answered_yet(
    as_ilse: Caller, visit: dict[str, Any], maren: Contact, world: World
) -> None:
    first = invite(as_ilse, visit, maren)
    came(reply(first, "ACCEPTED", "maren.holt@grower.example"))
    day = f"{world.today + timedelta(days=5)}"
    as_ilse("patch", f"activities/{visit['id']}", {"version": visit["version"], "due_on": day})
    second = invite(as_ilse, visit, maren)
    (_, before), (_, after) = calendar_in(first), calendar_in(second)
    assert (after["uid"], after["sequence"] > before["sequence"]) == (before["uid"], True)
    assert said(as_ilse) == [("Maren Holt", "")]
    assert Invited.objects.count() == 1
    # What she said to how it stood before says nothing of how it stands.
    came(reply(first, "TENTATIVE", "maren.holt@grower.example"), uid=2)
    assert said(as_ilse) == [("Maren Holt", "")]
    came(reply(second, "DECLINED", "maren.holt@grower.example"), uid=3)
    assert said(as_ilse) == [("Maren Holt", "declined")]


def test_a_name_with_signs_of_the_format_in_it_is_a_name(
    as_ilse: Caller, visit: dict[str, Any], maren: Contact
) -> None:
    maren.name = 'Maren "Mo" Holt; X, Y: Z'
    maren.save()
    _, event = calendar_in(invite(as_ilse, visit, maren))
    assert event["attendee"].params["cn"] == "Maren 'Mo' Holt; X, Y: Z"
    assert event["attendee"].lower() == "mailto:maren.holt@grower.example"


def test_only_one_s_own_visit_that_lies_ahead_is_written_from(
    world: World, as_ilse: Caller, visit: dict[str, Any]
) -> None:
    query = {"kind": "visit", "record": visit["id"]}
    assert world.call(world.tomas).status("get", "mail-draft", **query) == 404
    assert world.call(world.petra).status("get", "mail-draft", **query) == 200
    Activity.objects.filter(pk=visit["id"]).update(visit=False)
    assert as_ilse.status("get", "mail-draft", **query) == 404


def test_a_calendar_that_is_broken_or_long_is_a_file_like_any_other(
    as_ilse: Caller, visit: dict[str, Any], maren: Contact
) -> None:
    for uid, content in enumerate(("BEGIN:VCALENDAR", "x" * 70_000), start=1):
        broken = mail(Message_ID=f"<{uid}@grower.example>")
        broken.add_attachment(content, subtype="calendar", filename="answer.ics")
        kept = came(broken, uid=uid)
        assert kept is not None
        assert kept.files.count() == 1


def test_a_visit_with_its_hour_stands_at_it_in_the_feed(
    as_ilse: Caller, visit: dict[str, Any]
) -> None:
    card = as_ilse.ask("get", f"activities/{visit['id']}/card").content
    (event,) = Calendar.from_ical(card).walk("VEVENT")
    assert (event["transp"], event["dtend"].dt - event["dtstart"].dt) == (
        "OPAQUE",
        timedelta(minutes=90),
    )
