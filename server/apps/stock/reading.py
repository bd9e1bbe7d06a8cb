"""Reading one change of the back office: a depot, or an item's stock in one, in values that fit.

The form of a change is described in ``docs/back-office-interface.md``. Nothing here believes what it
gets; what cannot be read raises ``Unfit`` with the field.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
import re
from typing import Any

from apps.told import (
    LAST_NUMBER,
    Unfit,
    read_day,
    read_decimal,
    read_moment,
    read_text,
    tidy,
    unfit,
)

MOST_ROWS = 500
QUANTITY = re.compile(r"\d{1,12}(\.\d{1,6})?", re.ASCII)
SIGNED = re.compile(r"-?\d{1,12}(\.\d{1,6})?", re.ASCII)
CODE = re.compile(r"[A-Z]{2}", re.ASCII)
REGION = re.compile(r"[A-Z0-9]{0,6}", re.ASCII)
MOST_DAYS = 1000


@dataclass(frozen=True, slots=True, kw_only=True)
class DepotTold:
    """A depot as it is now."""

    code: str
    name: str
    country: str
    region: str
    transit_days: int
    transit_days_abroad: int


@dataclass(frozen=True, slots=True, kw_only=True)
class ReceiptTold:
    """A planned receipt."""

    number: str
    on: date
    quantity: Decimal
    sure: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class ReservationTold:
    """What is kept for an order."""

    reference: str
    order_number: str
    quantity: Decimal
    by: date


@dataclass(frozen=True, slots=True, kw_only=True)
class StockTold:
    """An item in a depot as it is now, whole."""

    item: str
    depot: str
    on_hand: Decimal
    lead_days: int | None
    minimum: Decimal | None
    receipts: tuple[ReceiptTold, ...]
    reservations: tuple[ReservationTold, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """One change: its number, when it was, and what it says."""

    number: int
    at: datetime
    told: object


def read_change(raw: object) -> Change:
    """A change as it came; raises ``Unfit``."""
    if not isinstance(raw, dict):
        raise Unfit("unreadable", field="change")
    number, kind = raw.get("change"), raw.get("kind")
    if type(number) is not int or not 0 < number <= LAST_NUMBER:
        unfit("change")
    data = raw.get("data")
    if not isinstance(data, dict):
        unfit("data")
    reader = READERS.get(kind) if isinstance(kind, str) else None
    if reader is None:
        raise Unfit("unknown_kind", kind=str(kind)[:20])
    return Change(number=number, at=read_moment(raw, "at"), told=reader(data))


def _depot(data: Mapping[str, Any]) -> DepotTold:
    country, region = read_text(data, "country", 2), data.get("region", "")
    if not CODE.fullmatch(country):
        unfit("country")
    if not isinstance(region, str) or not REGION.fullmatch(region):
        unfit("region")
    return DepotTold(
        code=read_text(data, "code", 20),
        name=read_text(data, "name", 60),
        country=country,
        region=region,
        transit_days=_days(data, "transit_days"),
        transit_days_abroad=_days(data, "transit_days_abroad"),
    )


def _stock(data: Mapping[str, Any]) -> StockTold:
    return StockTold(
        item=read_text(data, "item", 20),
        depot=read_text(data, "depot", 20),
        on_hand=read_decimal(data, "on_hand", SIGNED),
        lead_days=None if data.get("lead_days") is None else _days(data, "lead_days"),
        minimum=None if data.get("minimum") is None else read_decimal(data, "minimum", QUANTITY),
        receipts=_receipts(data),
        reservations=_reservations(data),
    )


def _receipts(data: Mapping[str, Any]) -> tuple[ReceiptTold, ...]:
    found = []
    for row in read_rows(data, "receipts"):
        sure = row.get("sure")
        if not isinstance(sure, bool):
            unfit("receipts.sure")
        quantity = read_decimal(row, "quantity", QUANTITY)
        if quantity:
            found.append(
                ReceiptTold(
                    number=read_text(row, "number", 30),
                    on=read_day(row, "on"),
                    quantity=quantity,
                    sure=sure,
                )
            )
    if len({row.number for row in found}) < len(found):
        unfit("receipts.number")
    return tuple(found)


def _reservations(data: Mapping[str, Any]) -> tuple[ReservationTold, ...]:
    found = []
    for row in read_rows(data, "reservations"):
        order = row.get("order_number", "")
        if not isinstance(order, str) or len(order) > 20 or tidy(order) != order:
            unfit("reservations.order_number")
        quantity = read_decimal(row, "quantity", QUANTITY)
        if quantity:
            found.append(
                ReservationTold(
                    reference=read_text(row, "reference", 30),
                    order_number=order,
                    quantity=quantity,
                    by=read_day(row, "by"),
                )
            )
    return tuple(found)


def read_rows(data: Mapping[str, Any], name: str) -> list[dict[str, Any]]:
    """A list of objects, not too long."""
    rows = data.get(name)
    if not isinstance(rows, list) or len(rows) > MOST_ROWS:
        unfit(name)
    if not all(isinstance(row, dict) for row in rows):
        unfit(name)
    return rows


def _days(data: Mapping[str, Any], name: str) -> int:
    value = data.get(name)
    return value if type(value) is int and 0 <= value <= MOST_DAYS else unfit(name)


#: What reads a change's data, by its kind; the areas above add theirs.
READERS: dict[str, Callable[[Mapping[str, Any]], object]] = {"depot": _depot, "stock": _stock}
