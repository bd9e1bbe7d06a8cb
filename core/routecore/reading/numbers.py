"""Numbers as people write them: "1.234,50", "1,234.50", "1 234,5".

A single separator before three digits ("1.234") can be either; the other numbers of its column
decide, and where they do not, it stays in doubt.
Source: common practice, no source.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal
import re

SPACES = re.compile(r"[\s\u00a0\u202f\u2009']")
PLAIN = re.compile(r"\d{1,15}")
GROUPED = re.compile(r"\d{1,3}([.,]\d{3})+")


@dataclass(frozen=True, slots=True)
class NumberStyle:
    """Which sign is the decimal one: ``.``, ``,``, or unknown."""

    decimal: str = ""


def style_of(cells: Iterable[str]) -> NumberStyle:
    """The decimal sign that a column's numbers agree on; unknown where they say nothing.

    >>> style_of(["1.234", "2,5"]), style_of(["1.234"])
    (NumberStyle(decimal=','), NumberStyle(decimal=''))
    """
    seen = {sign for cell in cells if (sign := _decimal_sign(_bare(cell)))}
    return NumberStyle(seen.pop()) if len(seen) == 1 else NumberStyle()


def read_number(text: str, style: NumberStyle | None = None) -> tuple[Decimal | None, bool]:
    """The number, and whether it is certain; (None, True) for what is no number.

    >>> read_number("1.234,50")[0], read_number("1,234.50")[0], read_number("12,5")[0]
    (Decimal('1234.50'), Decimal('1234.50'), Decimal('12.5'))
    >>> read_number("1.234"), read_number("1.234", NumberStyle(","))
    ((Decimal('1234'), False), (Decimal('1234'), True))
    """
    bare = _bare(text)
    if PLAIN.fullmatch(bare):
        return Decimal(bare), True
    sign = _decimal_sign(bare) or (style.decimal if style else "")
    if not sign:
        return (
            (Decimal(re.sub("[.,]", "", bare)), False) if GROUPED.fullmatch(bare) else (None, True)
        )
    other = "," if sign == "." else "."
    whole, _, rest = bare.partition(sign)
    if rest and not re.fullmatch(r"\d{1,6}", rest):
        return None, True
    if other in whole and not re.fullmatch(rf"\d{{1,3}}({re.escape(other)}\d{{3}})+", whole):
        return None, True
    digits = whole.replace(other, "")
    if not re.fullmatch(r"\d{1,15}", digits):
        return None, True
    return Decimal(f"{digits}.{rest}" if rest else digits), True


def _bare(text: str) -> str:
    return SPACES.sub("", text)


def _decimal_sign(text: str) -> str:
    """The decimal sign that one number gives away; nothing where it could be either."""
    signs = [ch for ch in text if ch in ".,"]
    if not signs or not re.fullmatch(r"[\d.,]+", text):
        return ""
    if len(set(signs)) == 2:
        return signs[-1]
    if len(signs) > 1:
        return "," if signs[0] == "." else "."
    return "" if GROUPED.fullmatch(text) and not text.startswith("0") else signs[0]
