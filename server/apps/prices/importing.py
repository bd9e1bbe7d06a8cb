"""Price records from a file: every row is tried, every refused one is reported with its place.

The headings are those of the export (or the fields' names). Nothing in a file is run: a cell that
holds a formula is refused, and only the two plain formats are read.
"""

from collections.abc import Iterator
from dataclasses import dataclass

from django.db import transaction

from apps.errors import FlowError, Invalid
from apps.people.access import keeps_prices
from apps.people.models import User
from apps.prices.flows import kind_of, save_record
from apps.prices.kinds import Kind
from apps.tables import Row, read_table, refuse_formulas

MOST_FAULTS = 200
STEP = 50


@dataclass(frozen=True, slots=True, kw_only=True)
class RowFault:
    """A row that was refused: its number in the file, the field, and why."""

    row: int
    field: str
    fault: FlowError


@dataclass(frozen=True, slots=True, kw_only=True)
class Report:
    """How many rows a file has, how many were good, and what was wrong with the others."""

    rows: int
    good: int
    faults: tuple[RowFault, ...]


def import_records(
    who: User, name: str, file: str, body: bytes, *, keep: bool
) -> Iterator[int | Report]:
    """Try every row; with ``keep`` the good ones stay, else nothing does.

    Yields how many rows are done, now and then, and the report at the end. The file as a whole is
    refused (``Invalid``) before the first step.
    """
    keeps_prices(who)
    kind = kind_of(name)
    columns, table = _table(kind, file, body)
    return _steps(who, name, columns, table, keep=keep)


def _steps(
    who: User, name: str, columns: list[str], table: list[Row], *, keep: bool
) -> Iterator[int | Report]:
    faults: list[RowFault] = []
    with transaction.atomic():
        for done, (number, cells) in enumerate(table, start=1):
            values = {column: cell for column, cell in zip(columns, cells, strict=False) if column}
            try:
                refuse_formulas(values)
                with transaction.atomic():
                    save_record(who, name, values)
            except FlowError as error:
                faults.append(RowFault(row=number, field=error.path, fault=error))
            if done % STEP == 0:
                yield done
        if not keep:
            transaction.set_rollback(True)
    good = len(table) - len(faults)
    yield Report(rows=len(table), good=good, faults=tuple(faults[:MOST_FAULTS]))


def _table(kind: Kind, file: str, body: bytes) -> tuple[list[str], list[Row]]:
    rows = read_table(file, body)
    headings = rows[0][1] if rows else []
    known = {spec.label.lower(): spec.name for spec in kind.fields}
    known |= {spec.name: spec.name for spec in kind.fields}
    columns = [known.get(heading.strip().lower(), "") for heading in headings]
    missing = [
        s.label for s in kind.fields if s.needed and s.kind != "flag" and s.name not in columns
    ]
    if missing:
        raise Invalid("no_heading", path="file", facts={"missing": missing})
    return columns, rows[1:]
