"""Leads: taken down in seconds, listed, brought in from files, qualified or let go."""

from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Literal

from django.db.models import QuerySet
from django.http import HttpRequest, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.utils import timezone
from ninja import File, Query, Router, Status, UploadedFile
from pydantic import Field, StringConstraints

from api.errors import Fault
from api.export import Column, Seen, as_file
from api.history import ChangeOut, changes_out
from api.schemas import Schema
from api.shapes import (
    Amount,
    Day,
    Id,
    Line,
    Mail,
    Paged,
    PathId,
    Sort,
    Text,
    Version,
    Words,
    paged,
    today,
    who,
)
from api.streams import streamed
from apps.journal.models import Change
from apps.leads.filed import COLUMNS, Report, file_leads
from apps.leads.flows import add_lead, change_lead, disqualify, note_on_lead, reopen
from apps.leads.models import OPEN, Lead
from apps.leads.qualifying import Wanted, qualify
from apps.leads.queries import SORTS, filter_leads, leads_of, shown
from apps.listing import count, in_batches, in_order, sorts_for
from apps.people.access import pick, sells
from apps.people.models import User
from apps.tables import MOST_BYTES

router = Router(tags=["leads"])
LeadState = Literal["open", "qualified", "disqualified"]
Source = Literal["", "fair", "recommended", "called", "mail", "website", "visit", "other"]
Name = Annotated[str, StringConstraints(max_length=80)]
Phone = Annotated[str, StringConstraints(max_length=40)]
Reason = Annotated[str, StringConstraints(max_length=200)]


class LeadRow(Schema):
    """A lead in a list; ``due``: its next step is due by today."""

    id: int
    title: str
    name: str
    company: str
    topic: str
    phone: str
    email: str
    source: str
    state: str
    owner: str
    owner_id: int
    next_step: str
    next_on: date | None
    due: bool
    created_at: datetime
    version: int


class LeadPage(Paged):
    """One page of leads."""

    rows: list[LeadRow]


class LeadFilters(Schema):
    """What narrows a list of leads."""

    state: Literal["", "open", "qualified", "disqualified"] = "open"
    source: Source = ""
    owner: Id | None = None
    due: bool = False
    words: Words = ""
    sort: Sort = "-newest"
    page: Annotated[int, Field(ge=1, le=100_000)] = 1


def lead_row(lead: Lead, on: date) -> LeadRow:
    """A lead as a row."""
    return LeadRow(
        id=lead.pk,
        title=lead.title,
        name=lead.name,
        company=lead.company,
        topic=lead.topic,
        phone=lead.phone,
        email=lead.email,
        source=lead.source,
        state=lead.state,
        owner=lead.owner.name,
        owner_id=lead.owner_id,
        next_step=lead.next_step,
        next_on=lead.next_on,
        due=lead.state == OPEN and lead.next_on is not None and lead.next_on <= on,
        created_at=lead.created_at,
        version=lead.version,
    )


def _filtered(person: User, filters: LeadFilters, on: date) -> QuerySet[Lead]:
    given = filters.model_dump(exclude={"sort", "page"})
    return filter_leads(leads_of(person), today=on, **given)


@router.get("/leads", response=LeadPage, operation_id="list_leads")
def leads(request: HttpRequest, filters: Query[LeadFilters]) -> LeadPage:
    """A page of leads. Two queries; four with words."""
    on, person = today(), who(request)
    rows = _filtered(person, filters, on)
    found = count(in_order(rows, filters.sort, sorts_for(person, SORTS), "-newest"))
    span, facts = paged(found, filters.page)
    return LeadPage(rows=[lead_row(lead, on) for lead in found.page(span, shown())], **facts)


@router.get("/leads.{kind}", operation_id="export_leads")
def export(
    request: HttpRequest,
    kind: Literal["csv", "xlsx"],
    filters: Query[LeadFilters],
    columns: Seen = "",
) -> HttpResponseBase:
    """The filtered leads as a file, in the list's order and columns."""
    on, person = today(), who(request)
    sorts = sorts_for(person, SORTS)
    found = in_order(_filtered(person, filters, on), filters.sort, sorts, "-newest")
    known = [
        Column("Company", "company"),
        Column("Name", "name"),
        Column("Topic", "topic"),
        Column("Phone", "phone"),
        Column("Mail", "email"),
        Column("Came from", "source"),
        Column("Next step", "next_step"),
        Column("On", "next_on"),
        Column("State", "state"),
        Column("Rep", "owner"),
    ]
    rows = ([lead_row(lead, on) for lead in part] for part in in_batches(found, shown()))
    return as_file(kind, "leads", known, rows, seen=columns)


class LeadNoteOut(Schema):
    """What somebody wrote on a lead."""

    text: str
    who: str
    at: datetime


class Became(Schema):
    """What became of a lead: a customer, a person there, a deal."""

    customer_id: int
    customer: str
    contact: str
    deal_id: int | None
    deal: str


class LeadOut(LeadRow):
    """A lead with all that is known of it."""

    need: str
    reason: str
    closed_at: datetime | None
    notes: list[LeadNoteOut]
    became: Became | None
    changes: list[ChangeOut]


@router.get("/leads/{lead_id}", response=LeadOut, operation_id="get_lead")
def lead(request: HttpRequest, lead_id: PathId) -> LeadOut:
    """One lead. Three queries."""
    return lead_out(who(request), lead_id)


def lead_out(person: User, lead_id: int) -> LeadOut:
    """A lead as its sheet shows it."""
    rows = leads_of(person).select_related("owner", "customer", "contact", "deal")
    row = pick(rows, lead_id, "lead")
    changes = Change.objects.filter(what="lead", record=row.pk)
    return LeadOut(
        **lead_row(row, today()).model_dump(),
        need=row.need,
        reason=row.reason,
        closed_at=row.closed_at,
        notes=[
            LeadNoteOut(text=note.text, who=note.who.name, at=note.at)
            for note in row.notes.select_related("who")[:200]
        ],
        became=_became(row),
        changes=changes_out(changes),
    )


def _became(row: Lead) -> Became | None:
    if row.customer is None:
        return None
    return Became(
        customer_id=row.customer.pk,
        customer=row.customer.name,
        contact=row.contact.name if row.contact else "",
        deal_id=row.deal_id,
        deal=row.deal.title if row.deal else "",
    )


class NewLead(Schema):
    """A new lead; a name or a company at least."""

    name: Name = ""
    company: Line = ""
    topic: Line = ""
    need: Text = ""
    email: Mail = ""
    phone: Phone = ""
    source: Source = ""
    next_step: Reason = ""
    next_on: Day | None = None
    owner_id: Id | None = None


@router.post("/leads", response={201: LeadOut}, operation_id="add_lead")
def new_lead(request: HttpRequest, data: NewLead) -> Status[LeadOut]:
    """Take a lead down."""
    made = add_lead(who(request), **data.model_dump())
    return Status(201, lead_out(who(request), made.pk))


class LeadChange(Schema):
    """Only the fields that are given change."""

    version: Version
    name: Name | None = None
    company: Line | None = None
    topic: Line | None = None
    need: Text | None = None
    email: Mail | None = None
    phone: Phone | None = None
    source: Source | None = None
    next_step: Reason | None = None
    next_on: Day | None = None
    owner_id: Id | None = None


@router.patch("/leads/{lead_id}", response=LeadOut, operation_id="change_lead")
def change(request: HttpRequest, lead_id: PathId, data: LeadChange) -> LeadOut:
    """Change an open lead; 409 where somebody changed it meanwhile."""
    given = data.model_dump(exclude_unset=True)
    version = given.pop("version")
    changes = {k: v for k, v in given.items() if v is not None or k == "next_on"}
    change_lead(who(request), lead_id, version, **changes)
    return lead_out(who(request), lead_id)


class LeadNoteIn(Schema):
    """What is written down."""

    text: Text


@router.post("/leads/{lead_id}/notes", response={201: LeadOut}, operation_id="note_on_lead")
def note(request: HttpRequest, lead_id: PathId, data: LeadNoteIn) -> Status[LeadOut]:
    """Write something on a lead."""
    note_on_lead(who(request), lead_id, data.text, now=timezone.now())
    return Status(201, lead_out(who(request), lead_id))


class Qualifying(Schema):
    """What a lead becomes; each part optional. A contact and a deal are a customer's."""

    version: Version
    customer_id: Id | None = None
    new_customer: Line = ""
    contact_id: Id | None = None
    new_contact: Name = ""
    deal: Line = ""
    decision_on: Day | None = None
    estimate: Amount = Decimal(0)


@router.post("/leads/{lead_id}/qualify", response=LeadOut, operation_id="qualify_lead")
def become(request: HttpRequest, lead_id: PathId, data: Qualifying) -> LeadOut:
    """Make of a lead what is wanted: all of it, or nothing."""
    wanted = Wanted(**data.model_dump(exclude={"version"}))
    qualify(who(request), lead_id, data.version, wanted, today=today(), now=timezone.now())
    return lead_out(who(request), lead_id)


class LettingGo(Schema):
    """Why nothing comes of it."""

    version: Version
    reason: Reason


@router.post("/leads/{lead_id}/disqualify", response=LeadOut, operation_id="disqualify_lead")
def let_go(request: HttpRequest, lead_id: PathId, data: LettingGo) -> LeadOut:
    """Nothing comes of it."""
    disqualify(who(request), lead_id, data.version, reason=data.reason, now=timezone.now())
    return lead_out(who(request), lead_id)


class TakingUp(Schema):
    """The version that was seen."""

    version: Version


@router.post("/leads/{lead_id}/reopen", response=LeadOut, operation_id="reopen_lead")
def take_up(request: HttpRequest, lead_id: PathId, data: TakingUp) -> LeadOut:
    """Something may come of it after all."""
    reopen(who(request), lead_id, data.version)
    return lead_out(who(request), lead_id)


class LeadColumn(Schema):
    """A column of the file: its heading and what it holds."""

    heading: str
    holds: str


@router.get("/lead-files", response=list[LeadColumn], operation_id="lead_file_columns")
def columns(request: HttpRequest) -> list[LeadColumn]:
    """What a file of leads holds."""
    sells(who(request))
    return [LeadColumn(heading=heading, holds=holds) for _, heading, holds, _ in COLUMNS]


@router.get("/lead-files/template.{kind}", operation_id="lead_file_template")
def template(request: HttpRequest, kind: Literal["csv", "xlsx"]) -> HttpResponseBase:
    """A file to fill in, with an example that is taken out before it is sent."""
    sells(who(request))
    heads = [Column(heading, name) for name, heading, _, _ in COLUMNS]
    return as_file(kind, "leads-template", heads, [[EXAMPLE]])


class _Example(Schema):
    """The template's row."""

    name: str = "Robin Example"
    company: str = "Example Growers"
    topic: str = "Frost line for 3 ha"
    need: str = "Lost the blossom twice"
    email: str = "robin@growers.example"
    phone: str = "+44 1632 960 999"
    source: str = "fair"
    rep: str = ""
    next_step: str = "Call about the slope"
    next_on: str = ""


EXAMPLE = _Example()


class LeadTold(Schema):
    """What comes of a row that is not simply new: double or refused, and why."""

    row: int
    state: str
    title: str
    fault: Fault | None


class LeadFiling(Schema):
    """What a file brings, or brought; ``counts`` by state."""

    rows: int
    counts: dict[str, int]
    told: list[LeadTold]


@router.post("/lead-files", response=LeadFiling, operation_id="import_leads")
def take_in(
    request: HttpRequest, file: File[UploadedFile], keep: bool = False
) -> StreamingHttpResponse:
    """Try a file; with ``keep`` its new leads stay. Steps, then a ``LeadFiling``."""
    body = file.read(MOST_BYTES + 1)
    steps = file_leads(who(request), file.name or "", body, keep=keep)
    return streamed(step if isinstance(step, int) else _report(step) for step in steps)


def _report(report: Report) -> LeadFiling:
    return LeadFiling(
        rows=report.rows,
        counts=report.counts,
        told=[
            LeadTold(
                row=each.row,
                state=each.state,
                title=each.title,
                fault=Fault.of(each.fault) if each.fault else None,
            )
            for each in report.told
        ],
    )
