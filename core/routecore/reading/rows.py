"""Rows pasted from a spreadsheet: columns in any order, with or without headings.

A column is told by its heading, else by what it holds: numbers are first the quantity, then the
price; words that are units are the unit; other words name the item.
"""

from collections.abc import Collection, Sequence
import csv
from dataclasses import dataclass
from decimal import Decimal
import io

from routecore.errors import InvalidInput
from routecore.reading.numbers import read_number, style_of

MOST_ROWS = 1000
HEADINGS = {
    "item": (
        "item",
        "code",
        "article",
        "artikel",
        "sku",
        "no",
        "nr",
        "nummer",
        "number",
        "artikelnr",
    ),
    "name": ("name", "description", "what", "text", "bezeichnung", "beschreibung"),
    "quantity": ("quantity", "qty", "amount", "menge", "anzahl", "pcs", "stück"),
    "unit": ("unit", "uom", "einheit", "me"),
    "price": ("price", "preis", "unitprice", "einzelpreis", "ep"),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadRow:
    """A row as understood; ``doubts`` names what was not certain: ``quantity``, ``price``."""

    number: int
    words: str
    quantity: Decimal | None
    unit: str
    price: Decimal | None
    doubts: tuple[str, ...] = ()


def read_rows(text: str, unit_words: Collection[str] = ()) -> list[ReadRow]:
    """The rows of a pasted table; raises ``InvalidInput`` for more than a thousand.

    ``unit_words`` are the words and codes that are units, in lower case.

    >>> [row] = read_rows("POST-25\\t20\\t41,50")
    >>> row.words, row.quantity, row.price
    ('POST-25', Decimal('20'), Decimal('41.50'))
    """
    table = _cells(text)
    if len(table) > MOST_ROWS:
        raise InvalidInput("too_many_rows", path="text", facts={"most": MOST_ROWS})
    roles, start = _roles(table, unit_words)
    styles = {
        role: style_of(row[n] for row in table[start:] if n < len(row))
        for n, role in roles.items()
        if role in ("quantity", "price")
    }
    found = []
    for number, row in enumerate(table[start:], start=start + 1):
        parts = {role: row[n].strip() for n, role in roles.items() if n < len(row)}
        figures: dict[str, Decimal | None] = {}
        doubts: list[str] = []
        for role in ("quantity", "price"):
            written = parts.get(role, "")
            value, sure = read_number(written, styles.get(role)) if written else (None, True)
            figures[role] = value
            if not sure or (written and value is None):
                doubts.append(role)
        words = parts.get("item") or parts.get("name", "")
        if words:
            found.append(
                ReadRow(
                    number=number,
                    words=words,
                    quantity=figures["quantity"],
                    unit=parts.get("unit", ""),
                    price=figures["price"],
                    doubts=tuple(doubts),
                )
            )
    return found


def _cells(text: str) -> list[list[str]]:
    lines = text.replace("\r\n", "\n").replace("\r", "\n").strip("\n")
    mark = "\t" if "\t" in lines else ";" if ";" in lines else ","
    if mark == "," and not all("," in line for line in lines.split("\n") if line.strip()):
        mark = "\t"
    try:
        rows = list(csv.reader(io.StringIO(lines), delimiter=mark))
    except csv.Error as error:
        raise InvalidInput("not_a_table", path="text") from error
    return [row for row in rows if any(cell.strip() for cell in row)]


def _roles(table: Sequence[Sequence[str]], units: Collection[str]) -> tuple[dict[int, str], int]:
    if not table:
        return {}, 0
    named: dict[int, str] = {}
    for n, cell in enumerate(table[0]):
        plain = cell.strip().lower().strip(".:# ")
        role = next((r for r, words in HEADINGS.items() if plain in words), None)
        if role and role not in named.values():
            named[n] = role
    if named and any(role in ("item", "name") for role in named.values()):
        return named, 1
    return _by_content(table, units), 0


def _by_content(table: Sequence[Sequence[str]], units: Collection[str]) -> dict[int, str]:
    roles: dict[int, str] = {}
    for n in range(max(len(row) for row in table)):
        column = [row[n].strip() for row in table if n < len(row) and row[n].strip()]
        if not column:
            continue
        taken = set(roles.values())
        if all(read_number(cell)[0] is not None for cell in column):
            role = "quantity" if "quantity" not in taken else "price"
        elif units and all(cell.lower() in units for cell in column):
            role = "unit"
        else:
            role = "item" if "item" not in taken else "name"
        if role not in taken:
            roles[n] = role
    return roles
