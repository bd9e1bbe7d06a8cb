"""What the back office checks before it takes an order: every field that it will use."""

from collections.abc import Callable, Mapping
from datetime import date
import re
from typing import Any

MOST_LINES = 1000
NUMBER = re.compile(r"\d{1,13}(\.\d{1,6})?", re.ASCII)
CURRENCY = re.compile(r"[A-Z]{3}", re.ASCII)
MONTH_ENDS = ("", "after", "before")
TERMS = ("days", "end_of_month", "fixed_day", "early", "instalments")


def fault_of(body: object) -> str | None:
    """Why this order cannot be taken, in a sentence; None where it can."""
    if not isinstance(body, dict):
        return "An order is a JSON object."
    for name, fits in FIELDS.items():
        if not fits(body.get(name)):
            return f"The order has no {name.replace('_', ' ')} that can be read."
    if not body.get("delivery_address"):
        return "The order has no delivery address."
    if len({line["line"] for line in body["lines"]}) < len(body["lines"]):
        return "Two lines have one number."
    return None


def _text(value: Any) -> bool:
    return isinstance(value, str) and 0 < len(value) <= 120 and value.isprintable()


def _figure(value: Any) -> bool:
    return isinstance(value, str) and NUMBER.fullmatch(value) is not None


def _day(value: Any) -> bool:
    try:
        return isinstance(value, str) and bool(date.fromisoformat(value))
    except ValueError:
        return False


def _optional(line: Mapping[str, Any], name: str, fits: Callable[[Any], bool]) -> bool:
    return line.get(name) is None or fits(line[name])


def _count(value: Any, least: int, most: int) -> bool:
    return type(value) is int and least <= value <= most


def _customer(value: Any) -> bool:
    return isinstance(value, dict) and _text(value.get("name"))


def _part(value: Any) -> bool:
    return (
        isinstance(value, dict)
        and _figure(str(value.get("percent")))
        and _count(value.get("days"), 0, 3650)
    )


def _terms(value: Any) -> bool:
    if not isinstance(value, Mapping) or set(value) - set(TERMS):
        return False
    fixed, early = value.get("fixed_day"), value.get("early")
    parts = value.get("instalments") or []
    return (
        _count(value.get("days"), 0, 3650)
        and value.get("end_of_month", "") in MONTH_ENDS
        and (fixed is None or _count(fixed, 1, 31))
        and (early is None or _part(early))
        and isinstance(parts, list)
        and all(map(_part, parts))
    )


def _lines(value: Any) -> bool:
    return isinstance(value, list) and 0 < len(value) <= MOST_LINES and all(map(_line, value))


def _line(value: Any) -> bool:
    return (
        isinstance(value, dict)
        and _count(value.get("line"), 1, 1_000_000)
        and all(_text(value.get(name)) for name in ("item", "kind"))
        and all(_figure(value.get(name)) for name in ("quantity", "net"))
        and _optional(value, "base_quantity", _figure)
        and _optional(value, "depot", _text)
        and _optional(value, "wanted_on", _day)
        and _optional(value, "reserve_by", _day)
    )


FIELDS: dict[str, Callable[[Any], bool]] = {
    "order_number": _text,
    "customer": _customer,
    "currency": lambda value: isinstance(value, str) and CURRENCY.fullmatch(value) is not None,
    "lines": _lines,
    "net": _figure,
    "payable": _figure,
    "terms": _terms,
}
