"""Reading one event of the back office: what it says in values that fit, or why it cannot be read.

Nothing here believes what it gets: numbers are plain decimal text within what the house can hold, days
lie in this century, texts have no control characters. The event as it came is kept beside it.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from decimal import Decimal
import hashlib
import json
import re
from typing import Any, NoReturn
import unicodedata
from uuid import UUID

MOST_LINES = 500
MOST_RAW = 20_000
#: The largest amount and quantity: what the columns hold.
AMOUNT = re.compile(r"\d{1,12}(\.\d{1,2}0{0,4})?", re.ASCII)
QUANTITY = re.compile(r"\d{1,12}(\.\d{1,6})?", re.ASCII)
#: Positions beyond this are nobody's count.
LAST_POSITION = 2**53
FIRST, LAST = date(2000, 1, 1), date(2199, 12, 31)


class Unfit(Exception):
    """An event that cannot be read or does not add up: ``what`` names why, with its facts."""

    def __init__(self, what: str, **facts: object):
        self.facts = {"what": what, **{name: str(value) for name, value in facts.items()}}
        super().__init__(what)


@dataclass(frozen=True, slots=True, kw_only=True)
class Numbered:
    """Taken or released, under a number."""

    number: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Held:
    """Held, and why."""

    reason: str
    number: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Shipped:
    """Goods that left: so much of these lines, by their position."""

    number: str
    on: date
    lines: Mapping[int, Decimal]


@dataclass(frozen=True, slots=True, kw_only=True)
class Invoiced:
    """An invoice with the net of its lines, by their position."""

    number: str
    on: date
    due_on: date
    net: Decimal
    gross: Decimal
    lines: Mapping[int, Decimal]


@dataclass(frozen=True, slots=True, kw_only=True)
class Paid:
    """Money for an invoice."""

    number: str
    invoice: str
    on: date
    amount: Decimal


Story = Numbered | Held | Shipped | Invoiced | Paid


@dataclass(frozen=True, slots=True, kw_only=True)
class News:
    """One event of the feed. ``data`` is as it came; ``story_of`` reads it."""

    position: int
    event_id: UUID
    key: UUID
    kind: str
    occurred_at: datetime
    data: dict[str, Any]


def read_news(raw: object) -> News:
    """An event as it came; raises ``Unfit``. A position astray is taken as 0: it moves nothing on."""
    if not isinstance(raw, dict):
        raise Unfit("unreadable", field="event")
    position = raw.get("position")
    astray = type(position) is not int or not 0 <= position <= LAST_POSITION
    return News(
        position=0 if astray else int(str(position)),
        event_id=_uuid(raw, "id"),
        key=_uuid(raw, "key"),
        kind=_text(raw, "kind", 20),
        occurred_at=_moment(raw, "occurred_at"),
        data=_mapping(raw, "data"),
    )


def story_of(kind: str, data: Mapping[str, Any]) -> Story:
    """What an event of a kind says; raises ``Unfit``."""
    reader = READERS.get(kind)
    if reader is None:
        raise Unfit("unknown_kind", kind=kind)
    return reader(data)


def raw_text(raw: object) -> str:
    """The event as it came, as text that can be kept: cut where it is very long."""
    try:
        text = json.dumps(raw, ensure_ascii=True, sort_keys=True)
    except (ValueError, TypeError, RecursionError):
        text = "?"
    return text[:MOST_RAW]


def mark_of(text: str) -> str:
    """What tells one raw event from another."""
    return hashlib.sha256(text.encode()).hexdigest()


def _taken(data: Mapping[str, Any]) -> Numbered:
    return Numbered(number=_text(data, "number", 30))


def _held(data: Mapping[str, Any]) -> Held:
    reason = data.get("reason", "")
    words = tidy(reason)[:300] if isinstance(reason, str) else ""
    return Held(number=_text(data, "number", 30), reason=words)


def _shipped(data: Mapping[str, Any]) -> Shipped:
    lines = _lines(data, "quantity", QUANTITY)
    return Shipped(number=_text(data, "number", 30), on=_day(data, "on"), lines=lines)


def _invoiced(data: Mapping[str, Any]) -> Invoiced:
    return Invoiced(
        number=_text(data, "number", 30),
        on=_day(data, "on"),
        due_on=_day(data, "due_on"),
        net=_decimal(data, "net", AMOUNT),
        gross=_decimal(data, "gross", AMOUNT, positive=True),
        lines=_lines(data, "net", AMOUNT),
    )


def _paid(data: Mapping[str, Any]) -> Paid:
    return Paid(
        number=_text(data, "number", 30),
        invoice=_text(data, "invoice", 30),
        on=_day(data, "on"),
        amount=_decimal(data, "amount", AMOUNT, positive=True),
    )


READERS: dict[str, Callable[[Mapping[str, Any]], Story]] = {
    "taken": _taken,
    "released": _taken,
    "held": _held,
    "shipped": _shipped,
    "invoiced": _invoiced,
    "paid": _paid,
}


def tidy(text: str) -> str:
    """The text on one line, without what cannot be seen.

    >>> tidy("a\\nb\\u202e\\ud800c")
    'a b  c'
    """
    kept = (" " if unicodedata.category(sign)[0] in "CZ" else sign for sign in text)
    return "".join(kept).strip()


def _text(data: Mapping[str, Any], name: str, most: int) -> str:
    value = data.get(name)
    if not isinstance(value, str) or not value.strip() or len(value) > most or tidy(value) != value:
        raise Unfit("unreadable", field=name)
    return value


def _unfit(name: str) -> NoReturn:
    raise Unfit("unreadable", field=name)


def _string(data: Mapping[str, Any], name: str) -> str:
    value = data.get(name)
    return value if isinstance(value, str) else _unfit(name)


def _uuid(data: Mapping[str, Any], name: str) -> UUID:
    try:
        return UUID(_string(data, name))
    except ValueError:
        _unfit(name)


def _mapping(data: Mapping[str, Any], name: str) -> dict[str, Any]:
    value = data.get(name)
    return value if isinstance(value, dict) else _unfit(name)


def _moment(data: Mapping[str, Any], name: str) -> datetime:
    try:
        moment = datetime.fromisoformat(_string(data, name))
        at = moment.astimezone(UTC)
    except (ValueError, OverflowError):
        _unfit(name)
    fits = moment.tzinfo is not None and FIRST <= at.date() < LAST
    return at if fits else _unfit(name)


def _day(data: Mapping[str, Any], name: str) -> date:
    try:
        day = date.fromisoformat(_string(data, name))
    except ValueError:
        _unfit(name)
    return day if FIRST <= day <= LAST else _unfit(name)


def _decimal(
    data: Mapping[str, Any], name: str, form: re.Pattern[str], *, positive: bool = False
) -> Decimal:
    value = data.get(name)
    if not isinstance(value, str) or not form.fullmatch(value):
        raise Unfit("unreadable", field=name)
    found = Decimal(value)
    if positive and not found:
        raise Unfit("unreadable", field=name)
    return found


def _lines(data: Mapping[str, Any], name: str, form: re.Pattern[str]) -> dict[int, Decimal]:
    rows = data.get("lines")
    if not isinstance(rows, Sequence) or isinstance(rows, str) or not 0 < len(rows) <= MOST_LINES:
        raise Unfit("unreadable", field="lines")
    found: dict[int, Decimal] = {}
    for row in rows:
        line = row.get("line") if isinstance(row, dict) else None
        if type(line) is not int or line in found:
            raise Unfit("unreadable", field="lines")
        found[line] = _decimal(row, name, form)
    return found
