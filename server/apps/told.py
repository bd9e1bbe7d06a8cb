"""Reading what another system tells: values that fit, or why they cannot be read.

Nothing here believes what it gets: numbers are plain decimal text, days lie in this century, texts have
no control characters. What cannot be read raises ``Unfit`` with the field's name.
"""

from collections.abc import Mapping
from datetime import UTC, date, datetime
from decimal import Decimal
import hashlib
import json
import re
from typing import Any, NoReturn
import unicodedata

FIRST, LAST = date(2000, 1, 1), date(2199, 12, 31)
#: Positions and numbers of changes beyond this are nobody's count.
LAST_NUMBER = 2**53


class Unfit(Exception):
    """What cannot be read or does not add up: ``what`` names why, with its facts."""

    def __init__(self, what: str, **facts: object):
        self.facts = {"what": what, **{name: str(value) for name, value in facts.items()}}
        super().__init__(what)


def unfit(name: str) -> NoReturn:
    """A field that cannot be read."""
    raise Unfit("unreadable", field=name)


def tidy(text: str) -> str:
    """The text on one line, without what cannot be seen.

    >>> tidy("a\\nb\\u202e\\ud800c")
    'a b  c'
    """
    kept = (" " if unicodedata.category(sign)[0] in "CZ" else sign for sign in text)
    return "".join(kept).strip()


def raw_text(raw: object, most: int) -> str:
    """Something as it came, as text that can be kept: cut where it is very long."""
    try:
        text = json.dumps(raw, ensure_ascii=True, sort_keys=True)
    except (ValueError, TypeError, RecursionError):
        text = "?"
    return text[:most]


def mark_of(text: str) -> str:
    """What tells one raw text from another."""
    return hashlib.sha256(text.encode()).hexdigest()


def read_string(data: Mapping[str, Any], name: str) -> str:
    """Any text."""
    value = data.get(name)
    return value if isinstance(value, str) else unfit(name)


def read_text(data: Mapping[str, Any], name: str, most: int) -> str:
    """A text of so many signs at most, on one line, as it is to be kept."""
    value = data.get(name)
    if not isinstance(value, str) or not value.strip() or len(value) > most or tidy(value) != value:
        unfit(name)
    return value


def read_mapping(data: Mapping[str, Any], name: str) -> dict[str, Any]:
    """An object."""
    value = data.get(name)
    return value if isinstance(value, dict) else unfit(name)


def read_day(data: Mapping[str, Any], name: str) -> date:
    """A day of this century or the next."""
    try:
        day = date.fromisoformat(read_string(data, name))
    except ValueError:
        unfit(name)
    return day if FIRST <= day <= LAST else unfit(name)


def read_moment(data: Mapping[str, Any], name: str) -> datetime:
    """A moment with its offset, as UTC."""
    try:
        moment = datetime.fromisoformat(read_string(data, name))
        at = moment.astimezone(UTC)
    except (ValueError, OverflowError):
        unfit(name)
    fits = moment.tzinfo is not None and FIRST <= at.date() < LAST
    return at if fits else unfit(name)


def read_decimal(
    data: Mapping[str, Any], name: str, form: re.Pattern[str], *, positive: bool = False
) -> Decimal:
    """Decimal text of a form; greater than nothing, where it must be ``positive``."""
    value = data.get(name)
    if not isinstance(value, str) or not form.fullmatch(value):
        unfit(name)
    found = Decimal(value)
    return unfit(name) if positive and not found else found
