"""The records behind every price, that an administrator keeps."""

from typing import Annotated, Literal

from django.db.models import QuerySet
from django.http import HttpRequest, StreamingHttpResponse
from django.http.response import HttpResponseBase
from ninja import File, Query, Router, Status, UploadedFile
from pydantic import Field, StringConstraints

from api.errors import Fault
from api.export import Column, as_file
from api.history import ChangeOut, changes_out
from api.schemas import Schema
from api.shapes import Day, Paged, Version, Words, money, paged, today, who
from api.streams import streamed
from apps.errors import Missing
from apps.journal.models import Change
from apps.listing import Ordered, count, in_batches
from apps.people.models import ADMIN
from apps.prices.fields import said, shown
from apps.prices.flows import delete_record, kind_of, save_record
from apps.prices.importing import Report, import_records
from apps.prices.kinds import Kind
from apps.prices.reading import may_read, readable, readable_kinds
from apps.quotes.pricing.moving import Moved, what_would_move
from apps.tables import MOST_BYTES

router = Router(tags=["prices"])
Name = Annotated[str, StringConstraints(max_length=20)]


class FieldOut(Schema):
    """A field of a kind of record."""

    name: str
    kind: str
    needed: bool
    choices: list[str]


class KindOut(Schema):
    """A kind of record and its fields."""

    name: str
    fields: list[FieldOut]


@router.get("/prices/kinds", response=list[KindOut], operation_id="list_price_kinds")
def kinds(request: HttpRequest) -> list[KindOut]:
    """The kinds that this person may read."""
    return [_kind_out(kind) for kind in readable_kinds(who(request))]


def _kind_out(kind: Kind) -> KindOut:
    return KindOut(
        name=kind.name,
        fields=[
            FieldOut(
                name=spec.name,
                kind=spec.kind,
                needed=spec.needed,
                choices=list(spec.choices),
            )
            for spec in kind.fields
        ],
    )


class RecordOut(Schema):
    """A record: its values as they are typed, and as people read them, by field."""

    id: str
    version: int
    values: dict[str, str]
    said: dict[str, str]


class RecordPage(Paged):
    """One page of records."""

    rows: list[RecordOut]


class RecordFilters(Schema):
    """What narrows the records."""

    words: Words = ""
    page: Annotated[int, Field(ge=1, le=100_000)] = 1


def _rows(request: HttpRequest, name: str, words: str) -> tuple[Kind, QuerySet]:  # type: ignore[type-arg]
    kind, rows = readable(who(request), name)
    return kind, kind.searched(rows, words)


def _record(kind: Kind, row: object) -> RecordOut:
    return RecordOut(
        id=str(getattr(row, "pk")),
        version=getattr(row, "version"),
        values={spec.name: shown(row, spec) for spec in kind.fields},
        said={spec.name: said(row, spec) for spec in kind.fields},
    )


@router.get("/prices/records/{name}", response=RecordPage, operation_id="list_price_records")
def records(request: HttpRequest, name: Name, filters: Query[RecordFilters]) -> RecordPage:
    """A page of records. Three queries, and one for each kind of rows in a field."""
    kind, rows = _rows(request, name, filters.words)
    found = count(Ordered(rows, kind.order))
    span, facts = paged(found, filters.page)
    page = found.page(span, kind.shown())
    return RecordPage(rows=[_record(kind, row) for row in page], **facts)


class _Line:
    """A record as a row of a file."""

    def __init__(self, values: dict[str, str]):
        self.__dict__.update(values)


@router.get("/prices/files/{name}.{kind}", operation_id="export_price_records")
def export(
    request: HttpRequest, name: Name, kind: Literal["csv", "xlsx"], words: Words = ""
) -> HttpResponseBase:
    """The filtered records as a file."""
    found, rows = _rows(request, name, words)
    columns = [Column(spec.label, spec.name) for spec in found.fields]
    lines = (
        [_Line(_record(found, row).values) for row in part]
        for part in in_batches(Ordered(rows, found.order), found.shown())
    )
    return as_file(kind, name, columns, lines)


RecordKey = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9_.-]{0,20}$")]


def _key(name: str, written: str) -> int | str | None:
    """A record's key as its table has it: a number, or a code; None for none."""
    if not written:
        return None
    if kind_of(name).model._meta.pk.get_internal_type() == "CharField":
        return written
    if not written.isdigit() or len(written) > 10:
        raise Missing("not_found")
    return int(written)


class RecordIn(Schema):
    """Values as typed, by field."""

    values: Annotated[
        dict[str, Annotated[str, StringConstraints(max_length=2000)]], Field(max_length=30)
    ]
    version: Version = 1


class MovedOut(Schema):
    """An open quote or a kept case that would move; None where it cannot be priced."""

    name: str
    revision_id: int
    customer: str
    currency: str
    before: str | None
    after: str | None


class PreviewOut(Schema):
    """What a change would do to the open quotes and the kept cases."""

    open_quotes: int
    moved: list[MovedOut]
    kept_cases: int
    cases_moved: list[MovedOut]


def _moved(row: Moved) -> MovedOut:
    return MovedOut(
        name=row.name,
        revision_id=row.revision_id,
        customer=row.customer,
        currency=row.currency,
        before=money(row.before, row.currency),
        after=money(row.after, row.currency),
    )


@router.post("/prices/records/{name}/preview", response=PreviewOut, operation_id="preview_price")
def look_ahead(
    request: HttpRequest,
    name: Name,
    data: RecordIn,
    record: RecordKey = "",
    on: Day | None = None,
    gone: bool = False,
) -> PreviewOut:
    """Make the change (or, ``gone``, take the record away), price with it, and take it back."""
    person, pk = who(request), _key(name, record)

    def change() -> None:
        if gone:
            delete_record(person, name, pk or 0, data.version)
        else:
            save_record(person, name, data.values, pk=pk, version=data.version)

    seen = what_would_move(change, today=today(), on=on or today())
    return PreviewOut(
        open_quotes=seen.open_quotes,
        moved=[_moved(row) for row in seen.quotes],
        kept_cases=seen.kept_cases,
        cases_moved=[_moved(row) for row in seen.cases],
    )


@router.post("/prices/records/{name}", response={201: RecordOut}, operation_id="add_price_record")
def add(request: HttpRequest, name: Name, data: RecordIn) -> Status[RecordOut]:
    """Make a record."""
    row = save_record(who(request), name, data.values)
    return Status(201, _record(kind_of(name), row))


@router.put(
    "/prices/records/{name}/{record_id}", response=RecordOut, operation_id="change_price_record"
)
def change(request: HttpRequest, name: Name, record_id: RecordKey, data: RecordIn) -> RecordOut:
    """Change a record; 409 where somebody changed it meanwhile."""
    pk = _key(name, record_id)
    row = save_record(who(request), name, data.values, pk=pk, version=data.version)
    return _record(kind_of(name), row)


@router.delete(
    "/prices/records/{name}/{record_id}",
    response={204: None},
    operation_id="delete_price_record",
)
def delete(
    request: HttpRequest, name: Name, record_id: RecordKey, version: Version
) -> Status[None]:
    """Take a record away; 409 where somebody changed it meanwhile."""
    delete_record(who(request), name, _key(name, record_id) or 0, version)
    return Status(204, None)


@router.get("/prices/history/{name}", response=list[ChangeOut], operation_id="price_history")
def history(request: HttpRequest, name: Name, record: RecordKey = "") -> list[ChangeOut]:
    """Who changed what, the newest first; of one record, or of all of a kind. One query.

    Only of records that the person may read; of those that are gone, an administrator's alone.
    """
    person = who(request)
    kind, seen = readable(person, name)
    rows = Change.objects.filter(what=kind.name)
    if not may_read(person, kind):
        rows = rows.none()
    elif kind.of_customers and person.role != ADMIN:
        rows = rows.filter(record__in=seen.order_by().values("pk"))
    pk = _key(name, record)
    if isinstance(pk, int):
        rows = rows.filter(record=pk)
    elif pk:
        rows = rows.filter(field__startswith=f"{pk}: ")
    return changes_out(rows)


class RowFaultOut(Schema):
    """A refused row: its number in the file, the field, and why."""

    row: int
    field: str
    fault: Fault


class ReportOut(Schema):
    """What a file would bring, or brought."""

    rows: int
    good: int
    faults: list[RowFaultOut]


@router.post("/prices/import/{name}", response=ReportOut, operation_id="import_price_records")
def take_in(
    request: HttpRequest, name: Name, file: File[UploadedFile], keep: bool = False
) -> StreamingHttpResponse:
    """Try a CSV or XLSX file; with ``keep`` the good rows stay. Steps, then a ``ReportOut``."""
    steps = import_records(
        who(request), name, file.name or "", file.read(MOST_BYTES + 1), keep=keep
    )
    return streamed(step if isinstance(step, int) else _report(step) for step in steps)


def _report(report: Report) -> ReportOut:
    return ReportOut(
        rows=report.rows,
        good=report.good,
        faults=[
            RowFaultOut(row=f.row, field=f.field, fault=Fault.of(f.fault)) for f in report.faults
        ],
    )
