"""A draft as the desk sends it, and the mark of what it says."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, fields
from datetime import date
from decimal import Decimal
import hashlib
import json
from typing import Any

from apps.quotes.models import Revision
from apps.quotes.pricing.question import DraftLine

MOST_LINES = 500


@dataclass(frozen=True, slots=True, kw_only=True)
class Draft:
    """What the desk saves: the whole of a draft, lines in their order."""

    lines: Sequence[DraftLine]
    valid_until: date
    discount_percent: Decimal | None = None
    discount_amount: Decimal | None = None
    discount_on: str = "net"
    charges: Sequence[Mapping[str, str | None]] = ()
    buyer_reference: str = ""
    message: str = ""
    paper: str = "short"
    requested_on: date | None = None
    delivery_address_id: int | None = None
    terms_days: int | None = None
    terms_end_of_month: str = ""
    terms_more: Mapping[str, Any] = field(default_factory=dict)
    contact_id: int | None = None
    as_of_today: bool = False


def content_mark(draft: Draft) -> str:
    """A mark of everything that a rep can type; the same for the same content, however written.

    >>> one = Draft(lines=[], valid_until=date(2026, 11, 26), discount_percent=Decimal("3"))
    >>> other = Draft(lines=[], valid_until=date(2026, 11, 26), discount_percent=Decimal("3.00"))
    >>> content_mark(one) == content_mark(other)
    True
    """
    content: dict[str, object] = {
        column.name: getattr(draft, column.name)
        for column in fields(draft)
        if column.name not in ("lines", "as_of_today")
    }
    content["lines"] = [
        [getattr(line, column.name) for column in fields(line)] for line in draft.lines
    ]
    return digest(content)


def digest(content: object) -> str:
    """A short mark of plain values; decimals by their value, days as ISO text."""
    text = json.dumps(content, default=_plain, sort_keys=True, separators=(",", ":"))
    return hashlib.sha256(text.encode()).hexdigest()[:32]


def _plain(value: object) -> object:
    if isinstance(value, Decimal):
        return f"{value.normalize():f}"
    if isinstance(value, date):
        return value.isoformat()
    raise TypeError(f"{type(value).__name__} has no plain form")


def take_terms(revision: Revision, draft: Draft) -> None:
    """The draft's terms that its price depends on."""
    revision.discount_percent = draft.discount_percent
    revision.discount_amount = draft.discount_amount
    revision.discount_on = draft.discount_on
    revision.charges = [dict(charge) for charge in draft.charges]
