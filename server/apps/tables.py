"""Tables from a file: CSV and XLSX, nothing run, everything bounded, read where it can be killed."""

from collections.abc import Mapping
import json
from pathlib import Path
import subprocess
import sys

from apps.cleaning import clean
from apps.errors import Invalid
from apps.turns import Turns

READER = Path(__file__).with_name("table_reader.py")
MOST_BYTES = 5_000_000
MOST_ROWS = 20_000
LONGEST_SECONDS = 20
#: Files that one process of ours has read.
TURNS = Turns("files_busy", at_a_time=1, waiting=2, seconds=10.0)

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
    with TURNS.taken():
        told = _read(form, body)
    if "fault" in told:
        raise Invalid(told["fault"]["code"], path="file", facts=told["fault"]["facts"])
    return [(number, [clean(cell) for cell in cells]) for number, cells in told["rows"]]


def _read(form: str, body: bytes) -> dict:  # type: ignore[type-arg]
    asked = json.dumps({"form": form, "most": MOST_ROWS}).encode() + b"\n"
    try:
        done = subprocess.run(
            [sys.executable, "-I", str(READER)],
            input=asked + body,
            capture_output=True,
            timeout=LONGEST_SECONDS,
            check=False,
        )
    except subprocess.TimeoutExpired as error:
        raise Invalid("too_big", path="file", facts={"what": "endless"}) from error
    if done.returncode != 0:
        raise Invalid("too_big", path="file", facts={"what": "endless"})
    return dict(json.loads(done.stdout))


def refuse_formulas(values: Mapping[str, str]) -> None:
    """Raise ``Invalid`` at a cell that holds a formula."""
    for field, text in values.items():
        if text.startswith("="):
            raise Invalid("formula", path=field)
