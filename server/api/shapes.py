"""Shapes that several areas share: amounts as text, checked inputs, pages."""

from datetime import date, datetime, time
from decimal import Decimal
import re
from typing import Annotated, Any

from django.http import HttpRequest
from django.utils import timezone
from ninja import Path
from pydantic import BeforeValidator, Field, StringConstraints

from api.schemas import Schema
from apps.listing import Found, Span
from apps.people.models import User
from routecore.casefile.words import plain
from routecore.money import minor_digits

Id = Annotated[int, Field(ge=1, le=9_000_000_000_000)]
PathId = Path[Annotated[int, Field(ge=1, le=9_000_000_000_000)]]
Version = Annotated[int, Field(ge=1, le=2_000_000_000)]
Words = Annotated[str, StringConstraints(max_length=100)]
#: An address as browsers take it (HTML, "valid e-mail address"), without the signs of a link's query.
MAIL = r"^([A-Za-z0-9.!#$%'*+/^_`{|}~-]+@[A-Za-z0-9-]{1,63}(\.[A-Za-z0-9-]{1,63})+)?$"
Mail = Annotated[str, StringConstraints(max_length=200, pattern=MAIL)]
Sort = Annotated[str, StringConstraints(pattern=r"^-?[a-z_]{1,20}$")]
Line = Annotated[str, StringConstraints(max_length=120)]
Text = Annotated[str, StringConstraints(max_length=1000)]


def _plain_number(value: object) -> object:
    """Decimal text in plain figures: no exponent, no sign but a minus, no other script's digits."""
    if isinstance(value, str) and not PLAIN.fullmatch(value):
        raise ValueError("a number in plain figures")
    if isinstance(value, float):
        return f"{Decimal(repr(value)):f}"
    return value


PLAIN = re.compile(r"-?\d{1,30}(\.\d{1,30})?", re.ASCII)
Number = Annotated[Decimal, BeforeValidator(_plain_number)]
Amount = Annotated[Number, Field(ge=0, lt=Decimal("1e12"), max_digits=15, decimal_places=2)]
Percent = Annotated[Number, Field(ge=0, le=100, max_digits=7, decimal_places=4)]
Quantity = Annotated[Number, Field(gt=0, lt=Decimal("1e9"), max_digits=15, decimal_places=6)]
Day = Annotated[date, Field(ge=date(2000, 1, 1), le=date(2199, 12, 31))]


def _clock(value: object) -> object:
    if not isinstance(value, str) or not CLOCK.fullmatch(value):
        raise ValueError("no hour and minute")
    return value


#: An hour and its minutes, by the house's clock.
CLOCK = re.compile(r"([01]\d|2[0-3]):[0-5]\d", re.ASCII)
Clock = Annotated[time, BeforeValidator(_clock)]


def _words(*known: str) -> Any:
    """In the API's own document: one of these words."""
    return Field(json_schema_extra={"enum": list(known)})


DiscountOn = Annotated[str, _words("net", "gross")]
PaperName = Annotated[str, _words("short", "detailed")]
MonthEnd = Annotated[str, _words("", "after", "before")]
LineKind = Annotated[str, _words("normal", "alternative", "optional", "heading", "note")]
QuoteState = Annotated[
    str, _words("draft", "issued", "lapsed", "declined", "part_ordered", "ordered", "revised")
]
Verdict = Annotated[str, _words("clear", "caution", "halt")]
Confidence = Annotated[str, _words("sure", "likely", "stretch")]
HabitState = Annotated[str, _words("due", "late", "stopped", "not_yet", "out_of_season", "unknown")]
PromiseKind = Annotated[str, _words("in_stock", "coming", "short", "none")]
ProposalKind = Annotated[str, _words("whole", "split", "depot", "instead")]
Outcome = Annotated[str, _words("open", "won", "lost", "parked")]


def who(request: HttpRequest) -> User:
    """The person who asks."""
    assert isinstance(request.user, User)
    return request.user


def midnight(day: date) -> datetime:
    """The moment in which a day of the house begins."""
    return timezone.make_aware(datetime.combine(day, time()))


def today() -> date:
    """The business day, in the house's time zone."""
    return timezone.localdate()


def money(value: Decimal | None, currency: str) -> str | None:
    """An amount as text, with its currency's decimals."""
    return plain(value, minor_digits(currency))


def sure_money(value: Decimal, currency: str) -> str:
    """An amount that is always there."""
    return money(value, currency) or ""


class Paged(Schema):
    """Which part of a list this is. With ``more``, there are more rows than are counted and paged."""

    count: int
    page: int
    pages: int
    more: bool = False


def paged(found: Found[Any], page: int) -> tuple[slice, dict[str, Any]]:
    """The slice of a page, and the page's own facts; a page beyond the end is the last."""
    span = Span.of(found.count, page)
    facts = {"count": found.count, "page": span.page, "pages": span.pages, "more": found.more}
    return span.slice, facts
