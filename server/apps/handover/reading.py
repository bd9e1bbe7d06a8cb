"""Reading one event of the back office: what it says in values that fit, or why it cannot be read.

Nothing here believes what it gets: numbers are plain decimal text within what the house can hold, days
lie in this century, texts have no control characters. The event as it came is kept beside it.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from decimal import Decimal
import re
from typing import Any
from uuid import UUID

from apps.handover.documents import in_fields
from apps.told import (
    LAST_NUMBER,
    Unfit,
    read_day,
    read_decimal,
    read_mapping,
    read_moment,
    read_string,
    read_text,
    tidy,
    unfit,
)

MOST_LINES = 500
#: What is kept of an event as it came: a paper of so many lines.
MOST_RAW = 1_200_000
#: The largest amount and quantity: what the columns hold.
AMOUNT = re.compile(r"\d{1,12}(\.\d{1,2}0{0,4})?", re.ASCII)
QUANTITY = re.compile(r"\d{1,12}(\.\d{1,6})?", re.ASCII)


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
    """An invoice with the net of its lines, by their position; and how much of each, where it is told."""

    number: str
    on: date
    due_on: date
    net: Decimal
    gross: Decimal
    lines: Mapping[int, Decimal]
    quantities: Mapping[int, Decimal] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class Credited:
    """A credit note on an invoice, with the net of its lines."""

    number: str
    invoice: str
    on: date
    net: Decimal
    gross: Decimal
    lines: Mapping[int, Decimal]
    quantities: Mapping[int, Decimal] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class Returned:
    """Goods that came back: so much of these lines."""

    number: str
    on: date
    reason: str
    lines: Mapping[int, Decimal]


@dataclass(frozen=True, slots=True, kw_only=True)
class Answered:
    """What was said to a change that was asked for under this key: by line whether it is taken, and a word.

    ``nets`` is what lines will be billed with, after all discounts, where it was told.
    """

    change: UUID
    lines: Mapping[int, tuple[bool, str]]
    nets: Mapping[int, Decimal]


@dataclass(frozen=True, slots=True, kw_only=True)
class Changed:
    """The back office changed the order by itself: by line the quantity that it is now, and a word; ``nets`` as above."""

    reason: str
    lines: Mapping[int, tuple[Decimal, str]]
    nets: Mapping[int, Decimal]


@dataclass(frozen=True, slots=True, kw_only=True)
class Paid:
    """Money for an invoice."""

    number: str
    invoice: str
    on: date
    amount: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class Replenished:
    """What was said to a request for goods: whether they come, a word, and the receipt with its day."""

    request: UUID
    taken: bool
    message: str
    receipt: str
    on: date | None


Story = (
    Numbered
    | Held
    | Shipped
    | Invoiced
    | Paid
    | Credited
    | Returned
    | Answered
    | Changed
    | Replenished
)


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
    astray = type(position) is not int or not 0 <= position <= LAST_NUMBER
    return News(
        position=0 if astray else int(str(position)),
        event_id=_uuid(raw, "id"),
        key=_uuid(raw, "key"),
        kind=read_text(raw, "kind", 20),
        occurred_at=read_moment(raw, "occurred_at"),
        data=read_mapping(raw, "data"),
    )


def story_of(kind: str, data: Mapping[str, Any]) -> Story:
    """What an event of a kind says; raises ``Unfit``."""
    reader = READERS.get(kind)
    if reader is None:
        raise Unfit("unknown_kind", kind=kind)
    return reader(in_fields(kind, dict(data)))


def _taken(data: Mapping[str, Any]) -> Numbered:
    return Numbered(number=read_text(data, "number", 30))


def _held(data: Mapping[str, Any]) -> Held:
    return Held(number=read_text(data, "number", 30), reason=_word(data, "reason"))


def _shipped(data: Mapping[str, Any]) -> Shipped:
    lines = _lines(data, "quantity", QUANTITY)
    return Shipped(number=read_text(data, "number", 30), on=read_day(data, "on"), lines=lines)


def _invoiced(data: Mapping[str, Any]) -> Invoiced:
    return Invoiced(
        number=read_text(data, "number", 30),
        on=read_day(data, "on"),
        due_on=read_day(data, "due_on"),
        net=read_decimal(data, "net", AMOUNT),
        gross=read_decimal(data, "gross", AMOUNT, positive=True),
        lines=_lines(data, "net", AMOUNT),
        quantities=_quantities(data),
    )


def _credited(data: Mapping[str, Any]) -> Credited:
    return Credited(
        number=read_text(data, "number", 30),
        invoice=read_text(data, "invoice", 30),
        on=read_day(data, "on"),
        net=read_decimal(data, "net", AMOUNT),
        gross=read_decimal(data, "gross", AMOUNT, positive=True),
        lines=_lines(data, "net", AMOUNT),
        quantities=_quantities(data),
    )


def _returned(data: Mapping[str, Any]) -> Returned:
    return Returned(
        number=read_text(data, "number", 30),
        on=read_day(data, "on"),
        reason=_word(data, "reason"),
        lines=_lines(data, "quantity", QUANTITY),
    )


def _answered(data: Mapping[str, Any]) -> Answered:
    lines = {
        number: (row.get("taken") is True, _word(row, "message"))
        for number, row in _numbered(data).items()
    }
    return Answered(change=_uuid(data, "change"), lines=lines, nets=_nets(data))


def _changed(data: Mapping[str, Any]) -> Changed:
    lines = {
        number: (read_decimal(row, "quantity", QUANTITY), _word(row, "message"))
        for number, row in _numbered(data).items()
    }
    return Changed(reason=_word(data, "message"), lines=lines, nets=_nets(data))


def _nets(data: Mapping[str, Any]) -> dict[int, Decimal]:
    return {
        number: read_decimal(row, "net", AMOUNT)
        for number, row in _numbered(data).items()
        if row.get("net") is not None
    }


def _replenished(data: Mapping[str, Any]) -> Replenished:
    taken = data.get("taken") is True
    return Replenished(
        request=_uuid(data, "request"),
        taken=taken,
        message=_word(data, "message"),
        receipt=read_text(data, "receipt", 30) if taken else "",
        on=read_day(data, "on") if taken else None,
    )


def _word(data: Mapping[str, Any], name: str) -> str:
    said = data.get(name)
    return tidy(said)[:300] if isinstance(said, str) else ""


def _quantities(data: Mapping[str, Any]) -> dict[int, Decimal]:
    """How much of each line, where every one of them tells it."""
    rows = _numbered(data)
    if not all(isinstance(row.get("quantity"), str) for row in rows.values()):
        return {}
    return {
        number: read_decimal(row, "quantity", QUANTITY, positive=True)
        for number, row in rows.items()
    }


def _paid(data: Mapping[str, Any]) -> Paid:
    return Paid(
        number=read_text(data, "number", 30),
        invoice=read_text(data, "invoice", 30),
        on=read_day(data, "on"),
        amount=read_decimal(data, "amount", AMOUNT, positive=True),
    )


READERS: dict[str, Callable[[Mapping[str, Any]], Story]] = {
    "taken": _taken,
    "released": _taken,
    "held": _held,
    "shipped": _shipped,
    "invoiced": _invoiced,
    "paid": _paid,
    "credited": _credited,
    "returned": _returned,
    "answered": _answered,
    "changed": _changed,
    "replenished": _replenished,
}


def _uuid(data: Mapping[str, Any], name: str) -> UUID:
    try:
        return UUID(read_string(data, name))
    except ValueError:
        unfit(name)


def _numbered(data: Mapping[str, Any]) -> dict[int, Mapping[str, Any]]:
    """The lines by their position, each once."""
    rows = data.get("lines")
    if not isinstance(rows, Sequence) or isinstance(rows, str) or not 0 < len(rows) <= MOST_LINES:
        raise Unfit("unreadable", field="lines")
    found: dict[int, Mapping[str, Any]] = {}
    for row in rows:
        line = row.get("line") if isinstance(row, dict) else None
        if type(line) is not int or line in found:
            raise Unfit("unreadable", field="lines")
        found[line] = row
    return found


def _lines(data: Mapping[str, Any], name: str, form: re.Pattern[str]) -> dict[int, Decimal]:
    return {line: read_decimal(row, name, form) for line, row in _numbered(data).items()}
