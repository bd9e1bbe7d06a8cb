"""Numbers as people write them: "1.234,50", "1,234.50", "1 234,5", "1’234.50".

Every reading of a text is found: with each sign as the decimal one, with each as the sign between
groups of three digits. A number is certain where it has one reading, or where the other numbers of
its column agree on a decimal sign and one reading keeps to it. What fits no reading is no number:
"1 2", "5'10" and "0.500.000" are not guessed at.

Source: common practice, no source.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal
import re

DECIMALS = (".", ",")
GROUPS = (".", ",", " ", "'")
#: How spaces and apostrophes are written between groups, and what each counts as.
_SAME = {
    **dict.fromkeys("\u00a0\u202f\u2009", " "),
    **dict.fromkeys("\u2019\u02bc", "'"),
}
_ALLOWED = re.compile(r"[0-9.,' ]+")


@dataclass(frozen=True, slots=True)
class NumberStyle:
    """Which sign is the decimal one: ``.``, ``,``, or unknown."""

    decimal: str = ""


@dataclass(frozen=True, slots=True)
class NumberReading:
    """One reading: the value, and the signs it takes as the decimal one and between groups."""

    value: Decimal
    decimal: str = ""
    group: str = ""

    @property
    def why(self) -> str:
        """What the reading takes a sign for: ``decimal_point``, ``decimal_comma``, ``thousands``,
        ``plain``."""
        if self.decimal:
            return "decimal_comma" if self.decimal == "," else "decimal_point"
        return "thousands" if self.group else "plain"

    def keeps_to(self, style: NumberStyle) -> bool:
        """Whether it reads the signs as its column does."""
        if self.decimal:
            return self.decimal == style.decimal
        return self.group != style.decimal


@dataclass(frozen=True, slots=True)
class ReadNumber:
    """A number: the likeliest reading, and every other that the text has."""

    value: Decimal
    why: str
    others: tuple[NumberReading, ...] = ()

    @property
    def certain(self) -> bool:
        """Whether no other reading exists."""
        return not self.others


def readings_of(text: str) -> tuple[NumberReading, ...]:
    """Every reading of a text as a number of at most fifteen digits and six decimals.

    >>> [(str(r.value), r.why) for r in readings_of("1.234")]
    [('1234', 'thousands'), ('1.234', 'decimal_point')]
    >>> readings_of("1 2"), [str(r.value) for r in readings_of("1’234.50")]
    ((), ['1234.50'])
    """
    bare = "".join(_SAME.get(sign, sign) for sign in text).strip()
    if not _ALLOWED.fullmatch(bare):
        return ()
    found: dict[Decimal, NumberReading] = {}
    for group in ("", *GROUPS):
        for decimal in ("", *DECIMALS):
            if decimal and decimal == group:
                continue
            value = _read(bare, decimal, group)
            if value is not None:
                found.setdefault(value, NumberReading(value, decimal, group))
    # A sign between groups before one that is decimal: "1.234" is likelier 1234 of something.
    return tuple(sorted(found.values(), key=lambda reading: bool(reading.decimal)))


def _read(text: str, decimal: str, group: str) -> Decimal | None:
    whole, rest = text, ""
    if decimal:
        if text.count(decimal) != 1:
            return None
        whole, _, rest = text.partition(decimal)
        if not re.fullmatch(r"[0-9]{0,6}", rest) or not (whole or rest):
            return None
    if group:
        if not re.fullmatch(rf"[1-9][0-9]{{0,2}}({re.escape(group)}[0-9]{{3}})+", whole):
            return None
        whole = whole.replace(group, "")
    if not re.fullmatch(r"[0-9]{0,15}", whole) or not (whole or rest):
        return None
    return Decimal(f"{whole or 0}.{rest}" if rest else whole)


def style_of(cells: Iterable[str]) -> NumberStyle:
    """The decimal sign that a column's numbers agree on; unknown where they say nothing.

    Only numbers with a single reading speak.

    >>> style_of(["1.234", "2,5"]), style_of(["1.234"])
    (NumberStyle(decimal=','), NumberStyle(decimal=''))
    """
    seen: set[str] = set()
    for cell in cells:
        readings = readings_of(cell)
        if len(readings) == 1:
            sure = readings[0]
            if sure.decimal:
                seen.add(sure.decimal)
            elif sure.group in DECIMALS:
                seen.add("," if sure.group == "." else ".")
    return NumberStyle(seen.pop()) if len(seen) == 1 else NumberStyle()


def read_number(text: str, style: NumberStyle | None = None) -> ReadNumber | None:
    """The number with its other readings; None for what is no number.

    >>> read_number("1.234", NumberStyle(",")).value
    Decimal('1234')
    >>> number = read_number("1.234")
    >>> number.value, [other.value for other in number.others]
    (Decimal('1234'), [Decimal('1.234')])
    """
    readings = readings_of(text)
    if not readings:
        return None
    if style is not None and style.decimal:
        kept = [reading for reading in readings if reading.keeps_to(style)]
        if len(kept) == 1:
            return ReadNumber(kept[0].value, kept[0].why)
    first, *others = readings
    return ReadNumber(first.value, first.why, tuple(others))
