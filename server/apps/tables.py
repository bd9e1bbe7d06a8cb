"""Tables from a file: CSV and XLSX, nothing run, everything bounded, read where it can be killed."""

from collections.abc import Mapping
from pathlib import Path

from apps.cleaning import clean
from apps.errors import Invalid
from apps.killable import told_by

READER = Path(__file__).with_name("table_reader.py")
MOST_BYTES = 5_000_000
MOST_ROWS = 20_000

Row = tuple[int, list[str]]


def read_table(file: str, body: bytes) -> list[Row]:
    """The rows that hold something, with their numbers in the file; the first is the heading.

    Texts are cleaned. Raises ``Invalid`` for another format, a wrong encoding, too many bytes, rows
    or columns, for what only pretends to be a table, and for what takes too long to read.
    """
    if len(body) > MOST_BYTES:
        raise Invalid("too_big", path="file")
    form = file.lower().rpartition(".")[2]
    if form not in ("csv", "xlsx"):
        raise Invalid("unknown_format", path="file")
    told = told_by(READER, {"form": form, "most": MOST_ROWS}, body)
    return [(number, [clean(cell) for cell in cells]) for number, cells in told["rows"]]


def refuse_formulas(values: Mapping[str, str]) -> None:
    """Raise ``Invalid`` at a cell that holds a formula."""
    for field, text in values.items():
        if text.startswith("="):
            raise Invalid("formula", path=field)
