"""Quotes from a file, and the template to fill in."""

from datetime import timedelta
from typing import Literal

from django.conf import settings
from django.http import HttpRequest, StreamingHttpResponse
from django.http.response import HttpResponseBase
from ninja import File, Router, UploadedFile

from api.customers.scope import customers_of
from api.errors import Fault
from api.export import Column, as_file
from api.schemas import Schema
from api.shapes import sure_money, today, who
from api.streams import streamed
from apps.catalogue.models import GOODS, Item
from apps.people.access import sells
from apps.quotes.filed_rows import COLUMNS
from apps.quotes.flows.filing import FilingReport, file_quotes
from apps.tables import MOST_BYTES

router = Router(tags=["quotes"])


class FileColumn(Schema):
    """A column of the file: its heading and what it holds."""

    heading: str
    holds: str


@router.get("/quotes/import", response=list[FileColumn], operation_id="quote_file_columns")
def columns(request: HttpRequest) -> list[FileColumn]:
    """What a file of quotes holds."""
    sells(who(request))
    return [FileColumn(heading=heading, holds=holds) for _, heading, holds in COLUMNS]


class _Example:
    """A row of the template."""

    def __init__(self, **values: str):
        for name, _, _ in COLUMNS:
            setattr(self, name, values.get(name, ""))


@router.get("/quotes/template.{kind}", operation_id="quote_file_template")
def template(request: HttpRequest, kind: Literal["csv", "xlsx"]) -> HttpResponseBase:
    """A file to fill in, with two small quotes as examples, of what is really sold."""
    person = who(request)
    sells(person)
    until = (today() + timedelta(days=settings.QUOTE_VALID_DAYS)).isoformat()
    numbers = (
        customers_of(person)
        .filter(retired_at__isnull=True)
        .order_by("name")
        .values_list("number", flat=True)[:2]
    )
    codes = Item.objects.filter(active=True, kind=GOODS).order_by("code").values_list("code")[:2]
    rows = []
    for n, number in enumerate(numbers, start=1):
        whole = {"quote": str(n), "customer": number, "valid_until": until}
        rows += [_Example(**whole, item=code, quantity="10") for (code,) in codes]
    heads = [Column(heading, name) for name, heading, _ in COLUMNS]
    return as_file(kind, "quotes-template", heads, [rows])


class FaultOut(Schema):
    """A refused row."""

    row: int
    quote: str
    field: str
    fault: Fault


class FiledOut(Schema):
    """A quote that the file makes, or made."""

    quote: str
    customer: str
    lines: int
    currency: str
    net: str
    to_look_at: int
    number: str
    revision_id: int | None
    there: bool


class FilingOut(Schema):
    """What a file would bring, or brought."""

    rows: int
    quotes: int
    filed: list[FiledOut]
    faults: list[FaultOut]


@router.post("/quotes/import", response=FilingOut, operation_id="import_quotes")
def take_in(
    request: HttpRequest, file: File[UploadedFile], keep: bool = False
) -> StreamingHttpResponse:
    """Try a file; with ``keep`` its good quotes stay as drafts. Steps, then a ``FilingOut``."""
    body = file.read(MOST_BYTES + 1)
    steps = file_quotes(who(request), file.name or "", body, today=today(), keep=keep)
    return streamed(step if isinstance(step, int) else _report(step) for step in steps)


def _report(report: FilingReport) -> FilingOut:
    return FilingOut(
        rows=report.rows,
        quotes=report.quotes,
        filed=[
            FiledOut(
                quote=row.quote,
                customer=row.customer,
                lines=row.lines,
                currency=row.currency,
                net=sure_money(row.net, row.currency),
                to_look_at=row.to_look_at,
                number=row.number,
                revision_id=row.revision_id,
                there=row.there,
            )
            for row in report.filed
        ],
        faults=[
            FaultOut(row=row.row, quote=row.quote, field=row.field, fault=Fault.of(row.fault))
            for row in report.faults
        ],
    )
