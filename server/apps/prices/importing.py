"""Price records from a file: every row is tried, every refused one is reported with its place.

The headings are those of the export (or the fields' names). Nothing in a file is run: a cell that
holds a formula is refused, and only the two plain formats are read.
"""

from collections.abc import Iterator, Mapping
import csv
from dataclasses import dataclass
import io
import zipfile

from django.db import transaction
from openpyxl import load_workbook

from apps.errors import FlowError, Invalid
from apps.people.models import User
from apps.prices.flows import keeps_prices, kind_of, save_record
from apps.prices.kinds import Kind

MOST_BYTES = 5_000_000
MOST_UNPACKED = 60_000_000
MOST_ROWS = 20_000
MOST_FAULTS = 200


@dataclass(frozen=True, slots=True, kw_only=True)
class RowFault:
    """A row that was refused: its number in the file, the field, and why."""

    row: int
    field: str
    message: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Report:
    """How many rows a file has, how many were good, and what was wrong with the others."""

    rows: int
    good: int
    faults: tuple[RowFault, ...]


def import_records(who: User, name: str, file: str, body: bytes, *, keep: bool) -> Report:
    """Try every row; with ``keep`` the good ones stay, else nothing does."""
    keeps_prices(who)
    kind = kind_of(name)
    columns, table = _table(kind, file, body)
    faults: list[RowFault] = []
    rows = good = 0
    with transaction.atomic():
        for number, cells in table:
            rows += 1
            if rows > MOST_ROWS:
                raise Invalid("too_many_rows", f"A file holds at most {MOST_ROWS} rows.")
            values = {column: cell for column, cell in zip(columns, cells, strict=False) if column}
            try:
                _refuse_formulas(values)
                with transaction.atomic():
                    save_record(who, name, values)
                good += 1
            except FlowError as error:
                faults.append(RowFault(row=number, field=error.path, message=error.message))
        if not keep:
            transaction.set_rollback(True)
    return Report(rows=rows, good=good, faults=tuple(faults[:MOST_FAULTS]))


def _refuse_formulas(values: Mapping[str, str]) -> None:
    for field, text in values.items():
        if text.startswith("="):
            raise Invalid("formula", "A formula is not read; write its value.", path=field)


def _table(kind: Kind, file: str, body: bytes) -> tuple[list[str], Iterator[tuple[int, list[str]]]]:
    if len(body) > MOST_BYTES:
        raise Invalid("too_big", "A file holds at most 5 MB.", path="file")
    if file.lower().endswith(".csv"):
        rows = _csv_rows(body)
    elif file.lower().endswith(".xlsx"):
        rows = _xlsx_rows(body)
    else:
        raise Invalid("unknown_format", "CSV and XLSX files are read.", path="file")
    headings = next(rows, (0, []))[1]
    known = {spec.label.lower(): spec.name for spec in kind.fields}
    known |= {spec.name: spec.name for spec in kind.fields}
    columns = [known.get(heading.strip().lower(), "") for heading in headings]
    missing = [
        s.label for s in kind.fields if s.needed and s.kind != "flag" and s.name not in columns
    ]
    if missing:
        raise Invalid("no_heading", f"The first row lacks: {', '.join(missing)}.", path="file")
    return columns, rows


def _csv_rows(body: bytes) -> Iterator[tuple[int, list[str]]]:
    try:
        text = body.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise Invalid(
            "encoding", "The file is not UTF-8; save it as UTF-8.", path="file"
        ) from error
    first = text.partition("\n")[0]
    mark = max(";,\t", key=first.count)
    try:
        for number, row in enumerate(csv.reader(io.StringIO(text), delimiter=mark), start=1):
            if any(cell.strip() for cell in row):
                yield number, row
    except csv.Error as error:
        raise Invalid("not_a_table", "The file cannot be read as CSV.", path="file") from error


def _xlsx_rows(body: bytes) -> Iterator[tuple[int, list[str]]]:
    try:
        with zipfile.ZipFile(io.BytesIO(body)) as archive:
            if sum(entry.file_size for entry in archive.infolist()) > MOST_UNPACKED:
                raise Invalid("too_big", "The file unpacks to more than is read.", path="file")
        sheet = load_workbook(io.BytesIO(body), read_only=True, data_only=False).active
    except Invalid:
        raise
    except Exception as error:  # whatever a broken archive makes of its reader
        raise Invalid("unreadable", "The file cannot be read as XLSX.", path="file") from error
    if sheet is None:
        return
    for number, row in enumerate(sheet.iter_rows(values_only=True), start=1):
        cells = ["" if cell is None else _text(cell) for cell in row]
        if any(cells):
            yield number, cells


def _text(cell: object) -> str:
    """A cell as it would be typed: a day without its midnight, a whole number without its point."""
    text = str(cell).removesuffix(" 00:00:00")
    return text.removesuffix(".0") if isinstance(cell, float) else text
