"""Reads one table and ends: what it is and its bytes in on stdin, its rows as JSON out on stdout.

A process of its own, because a file can be made so that reading it takes for ever: the one who starts
it may kill it. It bounds its own memory and processor time, and knows nothing of the application.
"""

from collections.abc import Iterator
import csv
from decimal import Decimal
import io
import json
import resource
import sys
from typing import Any
import zipfile

SECONDS = 10
BYTES = 1 << 30
MOST_UNPACKED = 60_000_000
MOST_ENTRIES = 500
#: Of the parts that are read whole before the first row: styles and shared texts.
MOST_OF_A_PART = 10_000_000
MOST_STYLES = 2_000_000
MOST_COLUMNS = 200
MOST_SIGNS = 5_000
#: Rows that hold nothing, for one that does.
EMPTY_FOR_ONE = 5
#: Three digits after a sign could be thousands.
THOUSANDS = 3

Row = tuple[int, list[str]]


class Refusal(Exception):
    """Why a file is no table: a code of the application's, and its facts."""

    def __init__(self, code: str, **facts: object):
        self.told = {"code": code, "facts": facts}
        super().__init__(code)


def rows_of(form: str, body: bytes, most: int) -> list[Row]:
    """The rows that hold something, with their numbers in the file; raises ``Refusal``."""
    found: list[Row] = []
    for number, cells in (_csv_rows if form == "csv" else _xlsx_rows)(body):
        if number > most * EMPTY_FOR_ONE:
            raise Refusal("too_many_rows", most=most)
        last = max((n for n, cell in enumerate(cells, start=1) if cell.strip()), default=0)
        if not last:
            continue
        if last > MOST_COLUMNS:
            raise Refusal("too_many", what="columns", most=MOST_COLUMNS)
        if any(len(cell) > MOST_SIGNS for cell in cells):
            raise Refusal("too_big", what="cell")
        found.append((number, cells[:MOST_COLUMNS]))
        if len(found) > most + 1:
            raise Refusal("too_many_rows", most=most)
    return found


def _csv_rows(body: bytes) -> Iterator[Row]:
    try:
        text = body.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise Refusal("encoding") from error
    first = text.partition("\n")[0]
    mark = max(";,\t", key=first.count)
    try:
        yield from enumerate(csv.reader(io.StringIO(text), delimiter=mark), start=1)
    except csv.Error as error:
        raise Refusal("not_a_table") from error


def _xlsx_rows(body: bytes) -> Iterator[Row]:
    from openpyxl import load_workbook

    _refuse_large(body)
    try:
        sheet = load_workbook(io.BytesIO(body), read_only=True, data_only=False).active
        if sheet is None:
            return
        sheet.reset_dimensions()
        for number, row in enumerate(sheet.iter_rows(values_only=True), start=1):
            yield number, ["" if cell is None else text_of(cell) for cell in row]
    except (Refusal, MemoryError):
        raise
    except Exception as error:  # whatever a broken archive makes of its reader
        raise Refusal("unreadable", what="xlsx") from error


def _refuse_large(body: bytes) -> None:
    try:
        with zipfile.ZipFile(io.BytesIO(body)) as archive:
            entries = archive.infolist()
    except Exception as error:
        raise Refusal("unreadable", what="xlsx") from error
    sizes = {entry.filename: entry.file_size for entry in entries}
    whole = [size for name, size in sizes.items() if name.endswith(("sharedStrings.xml", ".rels"))]
    styles = [size for name, size in sizes.items() if name.endswith("styles.xml")]
    if (
        len(entries) > MOST_ENTRIES
        or sum(sizes.values()) > MOST_UNPACKED
        or max(whole, default=0) > MOST_OF_A_PART
        or max(styles, default=0) > MOST_STYLES
    ):
        raise Refusal("too_big", what="unpacked")


def text_of(cell: object) -> str:
    """A cell as it would be typed: a day without its midnight, a number that can be read one way.

    >>> text_of(20.0), text_of(0.645), text_of(12.5)
    ('20', '0.6450', '12.5')
    """
    if not isinstance(cell, float):
        return str(cell).removesuffix(" 00:00:00")
    text = f"{Decimal(repr(cell)):f}".removesuffix(".0")
    decimals = len(text.partition(".")[2])
    return f"{text}0" if decimals == THOUSANDS else text


def main() -> int:
    """0 with the rows, or with why there are none, on stdout."""
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    resource.setrlimit(resource.RLIMIT_AS, (BYTES, BYTES))
    asked: dict[str, Any] = json.loads(sys.stdin.buffer.readline())
    try:
        told: dict[str, Any] = {
            "rows": rows_of(asked["form"], sys.stdin.buffer.read(), asked["most"])
        }
    except Refusal as refusal:
        told = {"fault": refusal.told}
    except MemoryError:
        told = {"fault": {"code": "too_big", "facts": {"what": "unpacked"}}}
    sys.stdout.write(json.dumps(told))
    return 0


if __name__ == "__main__":
    sys.exit(main())
