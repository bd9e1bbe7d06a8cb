"""Reads one calendar file (RFC 5545) and ends: what is asked and its bytes in on stdin, its events as JSON out on stdout.

A process of its own, because a file can be made so that reading it takes for ever: the one who starts it may kill it. It
bounds its own memory and processor time, and knows nothing of the application.
"""

from collections.abc import Iterator
from datetime import date, datetime, timedelta
import json
import resource
import sys
from typing import Any
from zoneinfo import ZoneInfo

SECONDS = 10
BYTES = 1 << 30
MOST_SIGNS = 1_000
LONGEST_UID, LONGEST_COUNT = 254, 9
MOST_PEOPLE = 50
MINUTE = timedelta(minutes=1)


class Refusal(Exception):
    """Why a file is no calendar: a code of the application's, and its facts."""

    def __init__(self, code: str, **facts: object):
        self.told = {"code": code, "facts": facts}
        super().__init__(code)


def read(body: bytes, zone: ZoneInfo, most: int) -> dict[str, Any]:
    """What the file is for (``method``) and the events that hold, in its order; of one that repeats the first time
    alone. Raises ``Refusal``."""
    from icalendar import Calendar

    try:
        calendars = Calendar.from_ical(body, multiple=True)
    except Exception as error:  # whatever a broken file makes of its reader
        raise Refusal("unreadable", what="ics") from error
    found: list[dict[str, Any]] = []
    for event in (each for calendar in calendars for each in calendar.walk("VEVENT")):
        told = _event_or_none(event, zone)
        if told is None:
            continue
        found.append(told)
        if len(found) > most:
            raise Refusal("too_many_rows", most=most)
    return {"method": _method(calendars), "events": found}


def _method(calendars: Any) -> str:
    return _text(calendars[0].get("method") if calendars else "").upper()


def _event_or_none(event: Any, zone: ZoneInfo) -> dict[str, Any] | None:
    """None for a time that no clock of the house shows, at the end of all days, as well."""
    try:
        return _event(event, zone)
    except (OverflowError, ValueError, TypeError):
        return None


def _event(event: Any, zone: ZoneInfo) -> dict[str, Any] | None:
    """None for what was called off, for one time of a row of them, and for what has no day."""
    start = getattr(event.get("dtstart"), "dt", None)
    gone = str(event.get("status", "")).upper() == "CANCELLED"
    if not isinstance(start, date) or gone or event.get("recurrence-id") is not None:
        return None
    begins = _there(start, zone)
    return {
        "uid": _text(event.get("uid"))[:LONGEST_UID],
        "sequence": _count(event.get("sequence")),
        "text": _text(event.get("summary")),
        "day": begins.isoformat()[:10],
        "starts": f"{begins:%H:%M}" if isinstance(begins, datetime) else "",
        "minutes": _minutes(event, start, zone) if isinstance(start, datetime) else 0,
        "where": _text(event.get("location")),
        "people": [address for address, _ in _people(event)],
        "says": list(_people(event)),
        "repeats": event.get("rrule") is not None,
    }


def _count(value: object) -> int:
    text = str(value or "")
    return int(text) if text.isdecimal() and len(text) < LONGEST_COUNT else 0


def _there(moment: date, zone: ZoneInfo) -> date:
    """By the house's clock; a time without a zone is the house's."""
    if isinstance(moment, datetime) and moment.tzinfo is not None:
        return moment.astimezone(zone)
    return moment


def _minutes(event: Any, start: datetime, zone: ZoneInfo) -> int:
    length = getattr(event.get("duration"), "dt", None)
    end = getattr(event.get("dtend"), "dt", None)
    if isinstance(end, datetime):
        # Floating or not, both ends as the same clock has them.
        length = _naive(end, zone) - _naive(start, zone)
    return max(0, length // MINUTE) if isinstance(length, timedelta) else 0


def _naive(moment: datetime, zone: ZoneInfo) -> datetime:
    return (moment.astimezone(zone) if moment.tzinfo else moment).replace(tzinfo=None)


def _people(event: Any) -> Iterator[tuple[str, str]]:
    """The mail addresses of who comes and who invites, and what each says to it."""
    known = event.get("attendee", [])
    asked = [*(known if isinstance(known, list) else [known]), event.get("organizer", "")]
    for person in asked[:MOST_PEOPLE]:
        scheme, _, address = str(person).partition(":")
        if scheme.lower() == "mailto":
            says = getattr(person, "params", {}).get("partstat", "")
            yield address.lower()[:254], _text(says).upper()


def _text(value: object) -> str:
    return " ".join(str(value or "").split())[:MOST_SIGNS]


def main() -> int:
    """0 with the events, or with why there are none, on stdout."""
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    resource.setrlimit(resource.RLIMIT_AS, (BYTES, BYTES))
    asked: dict[str, Any] = json.loads(sys.stdin.buffer.readline())
    try:
        told = read(sys.stdin.buffer.read(), ZoneInfo(asked["zone"]), asked["most"])
    except Refusal as refusal:
        told = {"fault": refusal.told}
    except MemoryError:
        told = {"fault": {"code": "too_big", "facts": {"what": "unpacked"}}}
    sys.stdout.write(json.dumps(told))
    return 0


if __name__ == "__main__":
    sys.exit(main())
