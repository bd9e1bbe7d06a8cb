"""Calendars from elsewhere (RFC 5545): what is read of them, and what is taken into the diary."""

from datetime import timedelta
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile

from apps.customers.models import Contact
from apps.diary.models import Activity
from demo.factories import CustomerFactory
from tests.server.conftest import Caller, World

#: The event of RFC 5545, 3.6.1 that has a summary and a category, word for word, and one like it.
PUBLISHED = """BEGIN:VCALENDAR
VERSION:2.0
PRODID:-//hacksw/handcal//NONSGML v1.0//EN
BEGIN:VEVENT
UID:19970901T130000Z-123401@example.com
DTSTAMP:19970901T130000Z
DTSTART:19970903T163000Z
DTEND:19970903T190000Z
SUMMARY:Annual Employee Review
CLASS:PRIVATE
CATEGORIES:BUSINESS,HUMAN RESOURCES
END:VEVENT
END:VCALENDAR
"""


def calendar(*events: str) -> str:
    body = "".join(f"BEGIN:VEVENT\n{each}\nEND:VEVENT\n" for each in events)
    return f"BEGIN:VCALENDAR\nVERSION:2.0\nPRODID:-//x//EN\n{body}END:VCALENDAR\n"


def read(caller: Caller, text: str | bytes, name: str = "mine.ics") -> Any:
    body = text if isinstance(text, bytes) else text.replace("\n", "\r\n").encode()
    return caller.client.post("/api/diary/calendar", {"file": SimpleUploadedFile(name, body)})


def test_a_published_event_is_read_by_the_house_s_clock(as_ilse: Caller) -> None:
    # The house's clock is two hours ahead of the world's in September.
    (event,) = read(as_ilse, PUBLISHED).json()
    assert (event["text"], event["day"], event["starts"], event["minutes"]) == (
        "Annual Employee Review",
        "1997-09-03",
        "18:30",
        150,
    )


def test_whole_days_floating_times_and_durations_are_read(as_ilse: Caller) -> None:
    whole = "UID:1\nDTSTART;VALUE=DATE:20270105\nSUMMARY:Fair"
    floating = "UID:2\nDTSTART:20270105T091500\nDURATION:PT45M\nSUMMARY:Talk"
    zoned = "UID:3\nDTSTART;TZID=America/New_York:20270105T040000\nSUMMARY:Call"
    told = [
        (row["starts"], row["minutes"])
        for row in read(as_ilse, calendar(whole, floating, zoned)).json()
    ]
    assert told == [("", None), ("09:15", 45), ("10:00", None)]


def test_what_was_called_off_is_not_read_and_what_repeats_is_read_once(as_ilse: Caller) -> None:
    first = "UID:1\nDTSTART:20270105T091500\nRRULE:FREQ=WEEKLY\nSUMMARY:Weekly"
    one_of_them = "UID:1\nRECURRENCE-ID:20270112T091500\nDTSTART:20270112T101500\nSUMMARY:Weekly"
    off = "UID:2\nDTSTART:20270105T091500\nSTATUS:CANCELLED\nSUMMARY:Off"
    (row,) = read(as_ilse, calendar(first, one_of_them, off)).json()
    assert (row["text"], row["repeats"]) == ("Weekly", True)


def test_days_at_the_ends_of_time_are_read_or_left_out_and_stop_nothing(as_ilse: Caller) -> None:
    early = "UID:1\nDTSTART;VALUE=DATE:09990105\nSUMMARY:Early"
    beyond = "UID:2\nDTSTART:99991231T235900Z\nSUMMARY:Beyond the house's clock"
    plain = "UID:3\nDTSTART;VALUE=DATE:20270105\nSUMMARY:Plain"
    answer = read(as_ilse, calendar(early, beyond, plain))
    assert [row["day"] for row in answer.json()] == ["0999-01-05", "2027-01-05"]


def test_with_whom_it_is_follows_from_who_comes_and_else_from_the_name(
    world: World, as_ilse: Caller, maren: Contact
) -> None:
    named = CustomerFactory(owner=world.ilse, name="Bramble Yard")
    theirs = CustomerFactory(owner=world.tomas, name="Not Hers")
    comes = f"UID:1\nDTSTART:20270105T091500\nSUMMARY:Talk\nATTENDEE:mailto:{maren.email}"
    named_in = "UID:2\nDTSTART:20270105T091500\nSUMMARY:Look at bramble yard"
    both = f"UID:3\nDTSTART:20270105T091500\nSUMMARY:{named.name} and {world.customer.name}"
    others = f"UID:4\nDTSTART:20270105T091500\nSUMMARY:{theirs.name}"
    rows = read(as_ilse, calendar(comes, named_in, both, others)).json()
    assert [row["customer_id"] for row in rows] == [world.customer.pk, named.pk, None, None]


def test_events_are_taken_all_or_none_and_none_of_them_twice(world: World, as_ilse: Caller) -> None:
    ahead, gone = (f"{world.today + timedelta(days=by)}" for by in (2, -2))
    rows: list[dict[str, Any]] = [
        {"uid": "a", "text": "Talk", "day": ahead, "starts": "09:15", "minutes": 45},
        {"uid": "b", "text": "Was there", "day": gone, "where": "North gate"},
    ]
    for row in rows:
        row["customer_id"] = world.customer.pk
    wrong = {**rows[0], "uid": "c", "customer_id": CustomerFactory(owner=world.tomas).pk}
    refused = as_ilse.ask("post", "diary/events", {"rows": [*rows, wrong]})
    assert (refused.status_code, refused.json()["path"][:7]) == (404, "rows[2]")
    assert not Activity.objects.exists()
    assert as_ilse("post", "diary/events", {"rows": rows}) == {"taken": 2}
    assert as_ilse("post", "diary/events", {"rows": rows}) == {"taken": 0}
    # Another name is another event, also where only small letters differ.
    assert as_ilse("post", "diary/events", {"rows": [{**rows[0], "uid": "A"}]}) == {"taken": 1}
    Activity.objects.order_by("-pk")[0].delete()
    told = list(Activity.objects.order_by("day").values_list("kind", "visit", "where"))
    assert told == [("visit", False, "North gate"), ("follow_up", True, "")]
    (again, _) = read(
        as_ilse,
        calendar(
            f"UID:a\nDTSTART;VALUE=DATE:{ahead.replace('-', '')}",
            "UID:z\nDTSTART;VALUE=DATE:20270105",
        ),
    ).json()
    assert again["known"]
    # Another person's diary does not know it.
    assert not read(world.call(world.tomas), calendar("UID:a\nDTSTART;VALUE=DATE:20270105")).json()[
        0
    ]["known"]


def test_what_is_no_calendar_or_too_much_of_one_is_refused(world: World, as_ilse: Caller) -> None:
    def code(answer: Any) -> tuple[int, str]:
        return answer.status_code, answer.json()["code"]

    assert code(read(as_ilse, b"\x00\x01", "mine.ics")) == (422, "unreadable")
    assert code(read(as_ilse, PUBLISHED, "mine.txt")) == (422, "unknown_format")
    assert code(read(as_ilse, b"x" * 1_000_001)) == (422, "too_big")
    many = calendar(*(f"UID:{n}\nDTSTART:20270105T091500" for n in range(501)))
    assert code(read(as_ilse, many)) == (422, "too_many_rows")
    assert read(world.call(world.joren), PUBLISHED).status_code == 403
    assert read(as_ilse, "BEGIN:VCALENDAR\nEND:VCALENDAR\n").json() == []
