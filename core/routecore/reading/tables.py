"""Tables in a mail's text: rows of cells between tabs, bars or semicolons, read as pasted rows are."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from decimal import Decimal
import re

from routecore.reading.counting import UNITS
from routecore.reading.found import Quantity
from routecore.reading.numbers import readings_of
from routecore.reading.signs import folded

_ITEM_HEADS = (
    "item article description product goods name code artikel bezeichnung beschreibung artikelnummer what "
    "ware"
)

#: What stands between cells; the first that two rows share.
BETWEEN = ("\t", "|", ";")
_RULE = re.compile(r"[\s|:+=-]*")
_HEADS = {
    "quantity": [
        "quantity",
        "qty",
        "number",
        "pcs",
        "menge",
        "anzahl",
        "stuckzahl",
        "amount",
        "count",
    ],
    "unit": ["unit", "units", "einheit", "me", "packaging"],
    "item": _ITEM_HEADS.split(),
    "price": [
        "price",
        "preis",
        "unit-price",
        "einzelpreis",
        "ep",
        "net",
        "total",
        "summe",
        "gesamt",
    ],
}
_AMOUNT = re.compile(r"(?P<number>\d[\d.,'\u2019\u00a0]*)\s*[x×]?\s*(?P<unit>[^\W\d_]+)?\.?")


@dataclass(frozen=True, slots=True)
class TableRow:
    """A row: what names its item, its number, its unit, the whole of it, and where it stands."""

    words: str
    quantity: Quantity | None
    unit: str
    text: str
    start: int
    end: int


def rows_in(text: str) -> Iterator[TableRow]:
    """The rows of every table in a text, in order. Two lines of the same number of cells make one."""
    lines = [
        (match.start(), match[0].rstrip("\r\n"))
        for match in re.finditer(r"[^\n]*\n?", text)
        if match[0]
    ]
    n = 0
    while n < len(lines):
        sign = next((each for each in BETWEEN if each in lines[n][1].strip()), "")
        block = [lines[n]]
        while sign and n + len(block) < len(lines) and sign in lines[n + len(block)][1].strip():
            block.append(lines[n + len(block)])
        if len(block) > 1:
            yield from _rows(block, sign)
        n += len(block)


def _rows(block: Sequence[tuple[int, str]], sign: str) -> Iterator[TableRow]:
    heads: dict[str, int] = {}
    for at, line in block:
        cells = [
            cell.strip() for cell in line.strip().strip("|" if sign == "|" else "").split(sign)
        ]
        if _RULE.fullmatch(line):
            yield TableRow("", None, "", "", at, at + len(line))
            continue
        found = _heads(cells)
        if found:
            heads = found
            yield TableRow("", None, "", "", at, at + len(line))
            continue
        row = _row(cells, heads)
        shown = " · ".join(cell for cell in cells if cell)
        yield TableRow(*row, shown, at, at + len(line))


def _heads(cells: Sequence[str]) -> dict[str, int]:
    """Which column is which, where the cells are headings; nothing where they are not."""
    found: dict[str, int] = {}
    for n, cell in enumerate(cells):
        for name, words in _HEADS.items():
            if any(folded(word) in words for word in re.findall(r"[^\W\d_]+", cell)):
                found.setdefault(name, n)
                break
    return found if len(found) > 1 and not any(map(str.isdigit, "".join(cells))) else {}


def _row(cells: Sequence[str], heads: dict[str, int]) -> tuple[str, Quantity | None, str]:
    at = heads.get("quantity")
    if at is None or at >= len(cells):
        at = next((n for n, cell in enumerate(cells) if _amount(cell)), None)
    amount = _amount(cells[at]) if at is not None else None
    unit = amount[1] if amount else ""
    unit_at = heads.get("unit")
    if unit_at is None:
        unit_at = next(
            (n for n, cell in enumerate(cells) if folded(cell.strip(". ")) in UNITS), None
        )
    if unit_at is not None and unit_at < len(cells):
        unit = UNITS.get(folded(cells[unit_at].strip(". ")), unit)
    named = [
        cell
        for n, cell in enumerate(cells)
        if n not in (at, unit_at, heads.get("price")) and re.search(r"[^\W\d_]{2}", cell)
    ]
    return " ".join(named), Quantity(amount[0], unit, 0, 0) if amount else None, unit


def _amount(cell: str) -> tuple[tuple[Decimal, ...], str] | None:
    """A cell that says how many: its number's readings and its unit."""
    match = _AMOUNT.fullmatch(cell.strip())
    if not match:
        return None
    unit = folded(match["unit"] or "")
    if unit and unit not in UNITS and unit != "x":
        return None
    values = tuple(reading.value for reading in readings_of(match["number"]))
    return (values, UNITS.get(unit, "")) if values else None
