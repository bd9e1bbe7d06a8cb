"""What is seen on a list, as a CSV or XLSX file."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
import io
from typing import Annotated

from django.http import HttpResponse
from openpyxl import Workbook
from openpyxl.styles import Font
from pydantic import StringConstraints

from apps.cells import defused

TYPES = {
    "csv": "text/csv; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
}


@dataclass(frozen=True, slots=True)
class Column:
    """A heading, the field of the row, whether it is a number, and the words for its codes."""

    heading: str
    field: str
    number: bool = False
    words: Mapping[str, str] | None = None


#: The fields of the columns that are seen, with commas between; empty for all.
Seen = Annotated[str, StringConstraints(pattern=r"^[a-z_,]{0,400}$")]


def seen_columns(columns: list[Column], seen: str) -> list[Column]:
    """The columns that are seen, in the order they are seen; all where none is named."""
    known = {column.field: column for column in columns}
    chosen = [known[field] for field in dict.fromkeys(seen.split(",")) if field in known]
    return chosen or columns


def as_file(
    kind: str, name: str, columns: list[Column], rows: Iterable[object], *, seen: str = ""
) -> HttpResponse:
    """The rows as a download; text that a spreadsheet would run is defused."""
    columns = seen_columns(columns, seen)
    cells = [[_cell(getattr(row, c.field), c) for c in columns] for row in rows]
    body = (_csv if kind == "csv" else _xlsx)([c.heading for c in columns], cells)
    return HttpResponse(
        body,
        content_type=TYPES[kind],
        headers={"Content-Disposition": f'attachment; filename="{name}.{kind}"'},
    )


def _cell(value: object, column: Column) -> object:
    if value is None or isinstance(value, date):
        return value
    if column.number:
        return Decimal(str(value))
    words = column.words or {}
    return defused(words.get(str(value), str(value)))


def _csv(headings: list[str], rows: list[list[object]]) -> bytes:
    table: list[list[object]] = [[*headings], *rows]
    lines = (",".join([_quoted(cell) for cell in row]) for row in table)
    return "".join(f"{line}\r\n" for line in lines).encode("utf-8-sig")


def _quoted(cell: object) -> str:
    """A cell of a CSV (RFC 4180), in quotes also where another program would divide it."""
    text = "" if cell is None else str(cell)
    divides = any(sign in text for sign in ',;\t"\r\n')
    return '"' + text.replace('"', '""') + '"' if divides else text


def _xlsx(headings: list[str], rows: list[list[object]]) -> bytes:
    book = Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.append(headings)
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    for row in rows:
        sheet.append(row)
    sheet.freeze_panes = "A2"
    for n, heading in enumerate(headings):
        widest = max([len(heading), *(len(str(row[n] or "")) for row in rows[:200])])
        sheet.column_dimensions[chr(65 + n)].width = min(widest + 2, 60)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()
