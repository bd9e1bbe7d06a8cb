"""Days in a text: "12.3.", "2026-12-15", "12 December", "KW 14", "next Friday"; each on or after a day that is given.

Source: ISO 8601 for weeks and days in figures. That a day comes before its month, and that a day without a year is the
next one there is, are common practice, no source.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
import re

from routecore.reading.signs import folded
from routecore.reading.traps import MONTHS

_NAMES = (
    "january jan januar", "february feb februar", "march mar marz", "april apr", "may mai", "june jun juni", "july jul juli",
    "august aug", "september sept sep", "october oct oktober okt", "november nov", "december dec dezember dez",
)  # fmt: skip
_MONTH = {name: n for n, names in enumerate(_NAMES, 1) for name in names.split()}
_WEEKDAYS = ("monday montag", "tuesday dienstag", "wednesday mittwoch", "thursday donnerstag", "friday freitag", "saturday samstag", "sunday sonntag")  # fmt: skip
_WEEKDAY = {name: n for n, names in enumerate(_WEEKDAYS) for name in names.split()}
_PATTERNS = (
    re.compile(r"\b(?P<y>\d{4})-(?P<m>\d{2})-(?P<d>\d{2})\b"),
    re.compile(r"\b(?P<d>\d{1,2})[./](?P<m>\d{1,2})[./](?P<y>\d{4}|\d{2})\b"),
    re.compile(r"\b(?P<d>\d{1,2})\.\s?(?P<m>\d{1,2})\.(?!\d)"),
    re.compile(rf"\b(?P<d>\d{{1,2}})(?:st|nd|rd|th)?\.?\s+(?:of\s+)?(?P<name>{MONTHS})\b\.?(?:,?\s+(?P<y>\d{{4}}))?", re.I),
    re.compile(rf"\b(?P<name>{MONTHS})\s+(?P<d>\d{{1,2}})(?:st|nd|rd|th)?\b(?:,?\s+(?P<y>\d{{4}}))?", re.I),
    re.compile(r"\b(?:kw|week|cw|kalenderwoche)\s*(?P<w>\d{1,2})\b", re.I),
    re.compile(rf"\b(?P<next>next|nächste[nr]?|kommende[nr]?|on|by|am|bis)\s+(?P<day>{'|'.join(names.replace(' ', '|') for names in _WEEKDAYS)})\b", re.I),
    re.compile(r"\b(?:in|within)\s+(?P<n>\d{1,2})\s+(?P<unit>days?|weeks?|tagen?|wochen?)\b", re.I),
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class DayIn:
    """A day, and where in the text it stands."""

    on: date
    start: int
    end: int


def days_in(text: str, today: date) -> list[DayIn]:
    """Every day in a text, in order; one that does not exist is none.

    >>> from datetime import date
    >>> [str(d.on) for d in days_in("by 12 March or 31.02., else KW 1", date(2026, 11, 28))]
    ['2027-03-12', '2027-01-04']
    """
    found: list[DayIn] = []
    for day in _all(text, today):
        if all(day.end <= other.start or day.start >= other.end for other in found):
            found.append(day)
    return sorted(found, key=lambda day: day.start)


def _all(text: str, today: date) -> Iterator[DayIn]:
    for pattern in _PATTERNS:
        for match in pattern.finditer(text):
            on = _day(match.groupdict(), today)
            if on is not None:
                yield DayIn(on, match.start(), match.end())


def _day(parts: dict[str, str | None], today: date) -> date | None:
    if parts.get("w"):
        return _of_week(int(parts["w"] or 0), today)
    if parts.get("day"):
        ahead = (_WEEKDAY[folded(parts["day"] or "")] - today.weekday()) % 7
        return today + timedelta(days=ahead or 7)
    if parts.get("n"):
        days = 7 if folded(parts["unit"] or "")[0] == "w" else 1
        return today + timedelta(days=days * int(parts["n"] or 0))
    month = _MONTH.get(folded(parts["name"] or "")) if parts.get("name") else int(parts["m"] or 0)
    year, day = parts.get("y"), int(parts["d"] or 0)
    if year:
        return _date(int(year) + (2000 if len(year) == 2 else 0), month or 0, day)
    this = _date(today.year, month or 0, day)
    return this if this is None or this >= today else _date(today.year + 1, month or 0, day)


def _of_week(week: int, today: date) -> date | None:
    """The Monday of the next week of this number that is not over."""
    for year in (today.year, today.year + 1):
        try:
            monday = date.fromisocalendar(year, week, 1)
        except ValueError:
            continue
        if monday + timedelta(days=6) >= today:
            return monday
    return None


def _date(year: int, month: int, day: int) -> date | None:
    try:
        return date(year, month, day)
    except ValueError:
        return None
