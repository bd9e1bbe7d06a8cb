"""What is seen on a list, as a CSV or XLSX file."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from itertools import chain
from tempfile import TemporaryFile
from typing import Annotated, Any

from django.http import HttpResponse, StreamingHttpResponse
from django.utils import timezone
from openpyxl import Workbook
from openpyxl.cell import WriteOnlyCell
from openpyxl.styles import Font
from openpyxl.utils import get_column_letter
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


Batches = Iterable[Sequence[object]]


def as_file(
    kind: str, name: str, columns: list[Column], batches: Batches, *, seen: str = ""
) -> HttpResponse | StreamingHttpResponse:
    """Rows, some hundreds at a time, as a download; text that a spreadsheet would run is defused.

    The first are read before anything is answered; the rest is read while it is sent, so that a
    long file takes no more memory than a short one.
    """
    columns = seen_columns(columns, seen)
    source = iter(batches)
    first, second = next(source, ()), next(source, None)
    parts = _pieces(kind, columns, chain([first], [second] if second else [], source))
    headers = {"Content-Disposition": f'attachment; filename="{name}.{kind}"'}
    if second is None:
        return HttpResponse(b"".join(parts), content_type=TYPES[kind], headers=headers)
    return StreamingHttpResponse(parts, content_type=TYPES[kind], headers=headers)


def _pieces(kind: str, columns: list[Column], batches: Batches) -> Iterator[bytes]:
    cells = (
        [[_cell(getattr(row, c.field), c) for c in columns] for row in part] for part in batches
    )
    return (_csv if kind == "csv" else _xlsx)([c.heading for c in columns], cells)


def _cell(value: object, column: Column) -> object:
    if isinstance(value, datetime):
        # By the house's clock: a spreadsheet knows no zones.
        return timezone.localtime(value).replace(tzinfo=None, microsecond=0)
    if value is None or isinstance(value, date):
        return value
    if column.number:
        return Decimal(str(value))
    words = column.words or {}
    if isinstance(value, list):
        return defused(", ".join(words.get(each, each) for each in value))
    return defused(words.get(str(value), str(value)))


Table = Iterator[list[list[object]]]


def _csv(headings: list[str], parts: Table) -> Iterator[bytes]:
    """A CSV in UTF-8 with its mark, some hundred lines at a time."""
    yield "\ufeff".encode() + _line([*headings])
    for rows in parts:
        yield b"".join(_line(row) for row in rows)


def _line(cells: list[object]) -> bytes:
    return f"{','.join([_quoted(cell) for cell in cells])}\r\n".encode()


def _quoted(cell: object) -> str:
    """A cell of a CSV (RFC 4180), in quotes also where another program would divide it."""
    text = "" if cell is None else str(cell)
    divides = any(sign in text for sign in ',;\t"\r\n')
    return '"' + text.replace('"', '""') + '"' if divides else text


def _xlsx(headings: list[str], parts: Table) -> Iterator[bytes]:
    """A workbook that is written to a file of its own as it grows, then sent from there."""
    book = Workbook(write_only=True)
    sheet = book.create_sheet()
    sheet.freeze_panes = "A2"
    first = next(parts, [])
    for n, heading in enumerate(headings):
        widest = max([len(heading), *(len(str(row[n] or "")) for row in first[:200])])
        sheet.column_dimensions[get_column_letter(n + 1)].width = min(widest + 2, 60)
    sheet.append([_bold(sheet, heading) for heading in headings])
    for rows in chain([first], parts):
        for row in rows:
            sheet.append(row)
    with TemporaryFile() as out:
        book.save(out)
        out.seek(0)
        while piece := out.read(64 * 1024):
            yield piece


def _bold(sheet: Any, words: str) -> object:
    cell = WriteOnlyCell(sheet, words)
    cell.font = Font(bold=True)
    return cell
