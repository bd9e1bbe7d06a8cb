"""The ways in which a pasted text can be cut into cells, and its columns into roles.

Each way that makes sense of the text is kept: which of them is meant is for the catalogue (it knows
a code) or for the person to say.
"""

from collections.abc import Callable, Collection, Iterator, Sequence
import csv
from dataclasses import dataclass
import io
import re

from routecore.errors import InvalidInput
from routecore.reading.numbers import readings_of

Table = list[list[str]]
ROLES = ("item", "name", "quantity", "unit", "price")
#: What headings say. The second list of a role counts only where no heading of the first is there:
#: beside "Item", "No." is a position; beside "Qty", "Amount" is money.
HEADINGS: dict[str, tuple[tuple[str, ...], tuple[str, ...]]] = {
    "item": (
        ("item", "code", "article", "artikel", "sku", "artikelnr", "item code", "item no"),
        ("no", "nr", "nummer", "number"),
    ),
    "name": (("name", "description", "what", "text", "bezeichnung", "beschreibung"), ()),
    "quantity": (("quantity", "qty", "menge", "anzahl", "pcs", "stück"), ("amount",)),
    "unit": (("unit", "uom", "einheit", "me"), ()),
    "price": (("price", "preis", "unitprice", "unit price", "einzelpreis", "ep"), ()),
}
DIGITS = re.compile(r"[0-9]+")
#: A number with the word of a unit behind it: "3 rolls".
COUNTED = re.compile(r"(?P<number>[0-9][0-9.,'’\s]*?)\s*(?P<word>[^\W\d_][\w.]*)")


@dataclass(frozen=True, slots=True)
class Parts:
    """One row cut into its parts, as they were written."""

    number: int
    item: str
    quantity: str = ""
    unit: str = ""
    price: str = ""


@dataclass(frozen=True, slots=True)
class Way:
    """One way to read the whole text: why it is one, and its rows by their numbers."""

    why: str
    rows: dict[int, Parts]


def ways_of(text: str, units: Collection[str], known: Callable[[str], bool]) -> list[Way]:
    """Every way to read a pasted text, the likeliest first."""
    lines = text.replace("\r\n", "\n").replace("\r", "\n").strip("\n")
    mark = next((sign for sign in "\t;" if sign in lines), "")
    rows = [line for line in lines.split("\n") if line.strip()]
    if mark:
        return list(_of_table(_cells(lines, mark), units, known))
    found: list[Way] = []
    if rows and all("," in row for row in rows):
        found += _of_commas(_cells(lines, ","), units, known)
    if any(way.why == "headings" for way in found):
        return found
    spaced = list(_of_spaces(lines.split("\n"), units))
    # Where the first cell ends in a figure, the comma was none between cells.
    first = [parts.item.split() for way in found[:1] for parts in way.rows.values()]
    if any(len(words) > 1 and readings_of(words[-1]) for words in first):
        return [*spaced, *found]
    return [*found, *spaced]


def _cells(lines: str, mark: str) -> list[tuple[int, list[str]]]:
    try:
        rows = list(csv.reader(io.StringIO(lines), delimiter=mark))
    except csv.Error as error:
        raise InvalidInput("not_a_table", path="text") from error
    numbered = [(n, [cell.strip() for cell in row]) for n, row in enumerate(rows, start=1)]
    return [(n, row) for n, row in numbered if any(row)]


# ---- tables: columns have roles ----------------------------------------------------------------


def _of_table(
    rows: list[tuple[int, list[str]]], units: Collection[str], known: Callable[[str], bool]
) -> Iterator[Way]:
    if not rows:
        return
    headed = list(_headed(rows[0][1]))
    for why, roles in headed or _by_content([row for _, row in rows], units, known):
        body = rows[1:] if headed else rows
        yield Way(why, {n: _parts(n, row, roles, units) for n, row in body})


def _of_commas(
    rows: list[tuple[int, list[str]]], units: Collection[str], known: Callable[[str], bool]
) -> Iterator[Way]:
    """As cells; and with two cells of digits as one number with a decimal comma."""
    if not rows:
        return
    width = max(len(row) for _, row in rows)
    headed = list(_headed(rows[0][1]))
    wide = len(rows[0][1])
    if headed:
        if width > wide:
            for place in range(wide - 1, -1, -1):
                joined = [rows[0], *((n, _joined(row, place)) for n, row in rows[1:])]
                if joined != rows and max(len(row) for _, row in joined) == wide:
                    for way in _of_table(joined, units, known):
                        yield Way("decimal_comma", way.rows)
        yield from _of_table(rows, units, known)
        return
    plain = list(_of_table(rows, units, known))
    joins: list[Way] = []
    for place in range(width - 2, 0, -1):
        joined = [(n, _joined(row, place)) for n, row in rows]
        if joined != rows:
            joins += [Way("decimal_comma", w.rows) for w in _of_table(joined, units, known)]
    # Three figures behind the item are more than quantity and price: then the joined come first.
    numbers = max(sum(bool(readings_of(cell)) for cell in row[1:]) for _, row in rows)
    yield from (*joins, *plain) if numbers > 2 else (*plain, *joins)


def _joined(row: list[str], place: int) -> list[str]:
    if place + 1 >= len(row) or not all(DIGITS.fullmatch(cell) for cell in row[place : place + 2]):
        return row
    return [*row[:place], f"{row[place]},{row[place + 1]}", *row[place + 2 :]]


def _headed(first: Sequence[str]) -> Iterator[tuple[str, dict[int, str]]]:
    """The roles that a row of headings gives; nothing where it is none."""
    plain = [cell.lower().strip(".:# ") for cell in first]
    roles: dict[int, str] = {}
    for rank in (0, 1):
        for n, word in enumerate(plain):
            role = next((r for r in ROLES if word in HEADINGS[r][rank]), None)
            if role and n not in roles and role not in roles.values():
                roles[n] = role
    if any(role in ("item", "name") for role in roles.values()):
        yield "headings", roles


def _by_content(
    table: Table, units: Collection[str], known: Callable[[str], bool]
) -> Iterator[tuple[str, dict[int, str]]]:
    """The roles that columns without headings can have."""
    width = max(len(row) for row in table)
    columns = [[row[n] for row in table if n < len(row) and row[n]] for n in range(width)]
    of_units = {n for n, cells in enumerate(columns) if cells and _all_in(cells, units)}
    numeric = [n for n, cells in enumerate(columns) if _mostly(cells, _is_number)]
    words = [n for n in range(width) if columns[n] and n not in of_units and n not in numeric]
    named = [n for n in numeric if _mostly(columns[n], known)]
    items = [*named, *words[:1]] or numeric[:1]
    ahead = words and not named and len(numeric) > 1 and numeric[0] < words[0]
    if ahead and not _counts_up(columns[numeric[0]]):
        items.append(numeric[0])  # a code that nobody knows, before its name
    unit = {min(of_units): "unit"} if of_units else {}
    for item in items:
        figures = [n for n in numeric if n != item]
        why = "code" if item in numeric else "columns"
        for roles, reason in _figures(figures, item, columns):
            name = dict.fromkeys([n for n in words if n != item][:1], "name")
            yield reason or why, {**roles, **unit, **name, item: "item"}


def _figures(
    figures: Sequence[int], item: int, columns: Table
) -> Iterator[tuple[dict[int, str], str]]:
    """Quantity and price among columns of numbers: first the quantity, then the price."""
    behind = [n for n in figures if n > item]
    before = [n for n in figures if n < item]
    if before and behind:
        position = {behind[0]: "quantity", **dict.fromkeys(behind[1:2], "price")}
        if _counts_up(columns[before[0]]):
            yield position, ""
            return
        yield {before[0]: "quantity", behind[0]: "price"}, ""
        yield position, "position"
        return
    order = [*before, *behind]
    if len(order) < 2:
        yield dict.fromkeys(order, "quantity"), ""
        return
    yield {order[0]: "quantity", order[1]: "price"}, ""
    first, second = columns[order[0]], columns[order[1]]
    if any(not DIGITS.fullmatch(cell) for cell in first) and all(map(DIGITS.fullmatch, second)):
        yield {order[0]: "price", order[1]: "quantity"}, "swapped"
    if len(order) > 2 and not _totals(columns, order):
        yield {order[0]: "price", order[1]: "quantity"}, "swapped"
        yield {order[1]: "quantity", order[2]: "price"}, "position"


def _counts_up(cells: Sequence[str]) -> bool:
    """Whether a column numbers its rows: 1, 2, 3 …"""
    return len(cells) > 1 and list(cells) == [str(n) for n in range(1, len(cells) + 1)]


def _totals(columns: Table, order: Sequence[int]) -> bool:
    """Whether a third column of figures is the first times the second."""
    rows = zip(*(columns[n] for n in order[:3]), strict=False)
    for cells in rows:
        readings = [readings_of(cell) for cell in cells]
        if not all(readings):
            return False
        quantities, prices, totals = readings
        if not any(
            q.value * p.value == t.value for q in quantities for p in prices for t in totals
        ):
            return False
    return True


def _is_number(cell: str) -> bool:
    return bool(readings_of(cell)) or bool(COUNTED.fullmatch(cell))


def _mostly(cells: Sequence[str], holds: Callable[[str], bool]) -> bool:
    """Whether something is true of at least half of the cells: one bad cell hides no column."""
    return bool(cells) and 2 * sum(map(holds, cells)) >= len(cells)


def _all_in(cells: Sequence[str], words: Collection[str]) -> bool:
    return bool(words) and all(cell.lower() in words for cell in cells)


def _parts(n: int, row: Sequence[str], roles: dict[int, str], units: Collection[str]) -> Parts:
    cells = {role: row[column] for column, role in roles.items() if column < len(row)}
    quantity, unit = cells.get("quantity", ""), cells.get("unit", "")
    counted = COUNTED.fullmatch(quantity)
    if counted and not unit and counted["word"].lower().strip(".") in units:
        quantity, unit = counted["number"], counted["word"]
    item = cells.get("item") or cells.get("name", "")
    return Parts(n, item, quantity, unit, cells.get("price", ""))


# ---- plain words: the figures stand at the end -------------------------------------------------


def _of_spaces(lines: Sequence[str], units: Collection[str]) -> Iterator[Way]:
    """Words, then a quantity, then perhaps its unit, then perhaps a price; or the quantity first."""
    cuts: list[tuple[str, Callable[[int, list[str]], Parts | None]]] = [
        ("spaces", lambda n, tokens: _from_the_end(n, tokens, 2, units)),
        ("spaces", lambda n, tokens: _from_the_end(n, tokens, 1, units)),
        ("spaces", lambda n, tokens: _from_the_front(n, tokens, units)),
        ("words", lambda n, tokens: Parts(n, " ".join(tokens))),
    ]
    for why, cut in cuts:
        rows = {n: cut(n, line.split()) for n, line in enumerate(lines, start=1) if line.strip()}
        found = {n: parts for n, parts in rows.items() if parts is not None}
        if found:
            yield Way(why, found)


def _from_the_end(n: int, tokens: list[str], figures: int, units: Collection[str]) -> Parts | None:
    """Words, quantity, unit, and with two figures the price."""
    rest, price, unit = list(tokens), "", ""
    if figures == 2:
        if len(rest) < 3 or not readings_of(rest[-1]):
            return None
        price = rest.pop()
    if len(rest) > 2 and rest[-1].lower() in units:
        unit = rest.pop()
    if len(rest) < 2 or not readings_of(rest[-1]):
        return None
    quantity = rest.pop()
    return Parts(n, " ".join(rest), quantity, unit, price)


def _from_the_front(n: int, tokens: list[str], units: Collection[str]) -> Parts | None:
    """Quantity, perhaps a sign for "times" or a unit, words: "20 x POST-25", "3 rolls wire"."""
    rest, unit = list(tokens), ""
    if len(rest) < 2 or not readings_of(rest[0].rstrip("x×")):
        return None
    quantity = rest.pop(0).rstrip("x×")
    if len(rest) > 1 and rest[0] in ("x", "×"):
        rest.pop(0)
    if len(rest) > 1 and rest[0].lower() in units:
        unit = rest.pop(0)
    return Parts(n, " ".join(rest), quantity, unit)
