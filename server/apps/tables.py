"""Tables from a file: CSV and XLSX, nothing run, everything bounded."""

from collections.abc import Iterator, Mapping
import csv
from decimal import Decimal
import io
import zipfile

from openpyxl import load_workbook

from apps.errors import Invalid

MOST_BYTES = 5_000_000
MOST_UNPACKED = 60_000_000
MOST_ROWS = 20_000
#: Three digits after a sign could be thousands.
THOUSANDS = 3

Row = tuple[int, list[str]]


def read_table(file: str, body: bytes) -> Iterator[Row]:
    """The rows that hold something, with their numbers in the file; the first is the heading.

    Raises ``Invalid`` for another format, a wrong encoding, too many bytes or rows, and for what
    only pretends to be a table.
    """
    if len(body) > MOST_BYTES:
        raise Invalid("too_big", path="file")
    if file.lower().endswith(".csv"):
        return _csv_rows(body)
    if file.lower().endswith(".xlsx"):
        return _xlsx_rows(body)
    raise Invalid("unknown_format", path="file")


def whole_table(file: str, body: bytes) -> list[Row]:
    """All rows; raises ``Invalid`` as ``read_table``, and for more than ``MOST_ROWS``."""
    rows = []
    for row in read_table(file, body):
        rows.append(row)
        if len(rows) > MOST_ROWS + 1:
            raise Invalid("too_many_rows", path="file", facts={"most": MOST_ROWS})
    return rows


def refuse_formulas(values: Mapping[str, str]) -> None:
    """Raise ``Invalid`` at a cell that holds a formula."""
    for field, text in values.items():
        if text.startswith("="):
            raise Invalid("formula", path=field)


def _csv_rows(body: bytes) -> Iterator[Row]:
    try:
        text = body.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise Invalid("encoding", path="file") from error
    first = text.partition("\n")[0]
    mark = max(";,\t", key=first.count)
    try:
        for number, row in enumerate(csv.reader(io.StringIO(text), delimiter=mark), start=1):
            if any(cell.strip() for cell in row):
                yield number, row
    except csv.Error as error:
        raise Invalid("not_a_table", path="file") from error


def _xlsx_rows(body: bytes) -> Iterator[Row]:
    try:
        with zipfile.ZipFile(io.BytesIO(body)) as archive:
            if sum(entry.file_size for entry in archive.infolist()) > MOST_UNPACKED:
                raise Invalid("too_big", path="file", facts={"what": "unpacked"})
        sheet = load_workbook(io.BytesIO(body), read_only=True, data_only=False).active
    except Invalid:
        raise
    except Exception as error:  # whatever a broken archive makes of its reader
        raise Invalid("unreadable", path="file", facts={"what": "xlsx"}) from error
    if sheet is None:
        return
    for number, row in enumerate(sheet.iter_rows(values_only=True), start=1):
        cells = ["" if cell is None else _text(cell) for cell in row]
        if any(cells):
            yield number, cells


def _text(cell: object) -> str:
    """A cell as it would be typed: a day without its midnight, a number that can be read one way.

    >>> _text(20.0), _text(0.645), _text(12.5)
    ('20', '0.6450', '12.5')
    """
    if not isinstance(cell, float):
        return str(cell).removesuffix(" 00:00:00")
    text = f"{Decimal(repr(cell)):f}".removesuffix(".0")
    decimals = len(text.partition(".")[2])
    return f"{text}0" if decimals == THOUSANDS else text
