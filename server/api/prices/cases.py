"""Kept cases: listed, taken from a file or a quote, run against the house's prices."""

from collections.abc import Iterator
from datetime import date
import re
from typing import Annotated

from django.http import HttpRequest, StreamingHttpResponse
from ninja import File, Query, Router, Status, UploadedFile
from pydantic import Field, StringConstraints

from api.errors import Fault
from api.schemas import Schema
from api.shapes import Paged, PathId, Version, Words, paged, who
from api.streams import streamed
from apps.errors import Invalid
from apps.listing import Ordered, count
from apps.people.access import keeps_prices
from apps.prices.keeping import CaseRun, expect_anew, keep_file, let_go, run_cases
from apps.prices.models import KeptCase
from apps.quotes.casefiles import keep_revision
from apps.tables import MOST_BYTES
from routecore.casefile import Difference

router = Router(tags=["prices"])


class CaseOut(Schema):
    """A kept case and what must hold."""

    id: int
    version: int
    name: str
    customer: str
    on: date
    currency: str
    lines: int
    net: str
    payable: str
    kept_by: str


class CasePage(Paged):
    """One page of kept cases."""

    rows: list[CaseOut]


def _out(row: KeptCase) -> CaseOut:
    totals = row.case["expect"]["totals"]
    return CaseOut(
        id=row.pk,
        version=row.version,
        name=row.name,
        customer=row.customer,
        on=row.on,
        currency=row.currency,
        lines=len(row.case["lines"]),
        net=str(totals.get("net", "")),
        payable=str(totals.get("payable", "")),
        kept_by=row.kept_by.name,
    )


class CaseFilters(Schema):
    """What narrows the kept cases."""

    words: Words = ""
    page: Annotated[int, Field(ge=1, le=100_000)] = 1


@router.get("/prices/cases", response=CasePage, operation_id="list_kept_cases")
def cases(request: HttpRequest, filters: Query[CaseFilters]) -> CasePage:
    """A page of kept cases. Two queries."""
    keeps_prices(who(request), "cases")
    rows = KeptCase.objects.all()
    for word in filters.words.split()[:6]:
        rows = rows.filter(name__icontains=word) | rows.filter(customer__icontains=word)
    found = count(Ordered(rows, ("name", "pk")))
    span, facts = paged(found, filters.page)
    shown = KeptCase.objects.select_related("kept_by")
    return CasePage(rows=[_out(row) for row in found.page(span, shown)], **facts)


@router.post("/prices/cases", response={201: list[CaseOut]}, operation_id="keep_case_file")
def take_in(request: HttpRequest, file: File[UploadedFile]) -> Status[list[CaseOut]]:
    """Keep the cases of a file, all or none."""
    body = file.read(MOST_BYTES + 1)
    if len(body) > MOST_BYTES:
        raise Invalid("too_big", path="file")
    return Status(201, [_out(row) for row in keep_file(who(request), body)])


class KeepIn(Schema):
    """The name to keep it under."""

    name: Annotated[str, StringConstraints(max_length=120)]


@router.post("/revisions/{revision_id}/keep", response={201: CaseOut}, operation_id="keep_case")
def keep(request: HttpRequest, revision_id: PathId, data: KeepIn) -> Status[CaseOut]:
    """Keep a quote as a case: what it gives now must hold."""
    return Status(201, _out(keep_revision(who(request), revision_id, data.name)))


class DifferenceOut(Schema):
    """One difference."""

    where: str
    expected: str
    found: str


class RunOut(Schema):
    """What moved in a case: where in words, what is expected, what is found."""

    case_id: int
    differences: list[DifferenceOut]
    fault: Fault | None


class RunsOut(Schema):
    """A run over all kept cases; ``runs`` holds those that differ or cannot be run.

    ``newest`` is the last case that ran: of those kept since, the run says nothing.
    """

    cases: int
    newest: int
    runs: list[RunOut]


@router.post("/prices/cases/run", response=RunsOut, operation_id="run_kept_cases")
def run(request: HttpRequest) -> StreamingHttpResponse:
    """Run every kept case against the prices as they are. Steps, then a ``RunsOut``."""
    keeps_prices(who(request), "cases")
    return streamed(_runs())


def _runs() -> Iterator[int | RunsOut]:
    rows = list(KeptCase.objects.all())
    found = []
    for done, (row, seen) in enumerate(zip(rows, run_cases(rows), strict=True), start=1):
        if seen.fault or seen.differences:
            found.append(_run(row, seen))
        yield done
    newest = max((row.pk for row in rows), default=0)
    yield RunsOut(cases=len(rows), newest=newest, runs=found)


def _run(row: KeptCase, seen: CaseRun) -> RunOut:
    return RunOut(
        case_id=row.pk,
        differences=[
            DifferenceOut(where=_words(row, part), expected=part.expected, found=part.found)
            for part in seen.differences
        ],
        fault=Fault.of(seen.fault) if seen.fault else None,
    )


def _words(row: KeptCase, part: Difference) -> str:
    """Where a difference is: "Line 2, WIR-025: net" for ``lines[1].net``."""
    place = re.match(r"lines\[(\d+)\]\.(.+)", part.path)
    if not place:
        return part.path.removeprefix("totals.").replace("_", " ")
    n = int(place[1])
    return f"Line {n + 1}, {row.case['lines'][n]['item']}: {place[2].replace('_', ' ')}"


@router.post("/prices/cases/{case_id}/expect", response=CaseOut, operation_id="expect_anew")
def anew(request: HttpRequest, case_id: PathId, version: Version) -> CaseOut:
    """What the case gives now must hold from here on."""
    return _out(expect_anew(who(request), case_id, version))


@router.delete("/prices/cases/{case_id}", response={204: None}, operation_id="let_case_go")
def delete(request: HttpRequest, case_id: PathId, version: Version) -> Status[None]:
    """A kept case goes."""
    let_go(who(request), case_id, version)
    return Status(204, None)
