"""Mails that came from customers: those of a record, and the files that came along."""

from datetime import date, datetime

from django.db.models import QuerySet
from django.http import FileResponse, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.utils import timezone
from ninja import Query, Router

from api.mail import MailFile, MailFilters, newest
from api.reading import LONGEST
from api.schemas import Schema
from api.shapes import PathId, Version, who
from apps.errors import Missing
from apps.files.store import place_of
from apps.mail.about import Kind, narrowest
from apps.mail.flows import arrived_of, say_whether_it_waits
from apps.mail.models import PLAIN, WITH_PICTURES, Received, ReceivedFile
from apps.mail.showing import page_of, policy
from apps.people.access import pick
from apps.people.models import User
from apps.quotes.models import Revision
from apps.tables import read_table

router = Router(tags=["mail"])


class SaysOut(Schema):
    """What a mail says to an offer, the sentence that says it, and what else it gives; ``sure`` where nothing in it
    says otherwise. Nothing is done by it."""

    kind: str
    sentence: str
    order_number: str
    wanted_on: date | None
    sure: bool


class ArrivedOut(Schema):
    """A mail that came: from whom (as the contact is called here), when, its words and files, the record that it is
    about; ``laid_out``: it can be shown as its writer laid it out, ``pictures``: with some that lie elsewhere;
    ``automatic`` where a machine wrote it, ``left_out`` counts the files that were too many. ``waits`` for an answer until
    it is given one or somebody (``settled_by``) says that it needs none."""

    id: int
    version: int
    sender: str
    address: str
    subject: str
    text: str
    laid_out: bool
    pictures: bool
    files: list[MailFile]
    left_out: int
    automatic: bool
    written_at: datetime
    customer_id: int
    contact_id: int | None
    deal_id: int | None
    kind: Kind
    record: int
    says: SaysOut | None
    waits: bool
    settled_by: str


@router.get("/arrived-mails", response=list[ArrivedOut], operation_id="list_arrived_mails")
def arrived(request: HttpRequest, filters: Query[MailFilters]) -> list[ArrivedOut]:
    """The newest mails that came about a record; of a quote those of all its revisions. Two queries, four with an older one."""
    rows = _shown(who(request))
    if filters.kind == "quote":
        of_quote = Revision.objects.filter(pk=filters.record).values("quote")
        rows = rows.filter(revision__quote__in=of_quote)
    else:
        rows = rows.filter(**{filters.kind: filters.record})
    return [_out(row) for row in newest(rows, filters.also)]


def _shown(person: User) -> QuerySet[Received]:
    rows = arrived_of(person).select_related("contact", "settled_by").prefetch_related("files")
    return rows.defer("markup")


def _out(row: Received) -> ArrivedOut:
    kind, record = narrowest(row)
    return ArrivedOut(
        id=row.pk,
        version=row.version,
        sender=row.contact.name if row.contact else row.sender_name or row.sender,
        address=row.sender,
        subject=row.subject,
        text=row.text,
        laid_out=row.layout != PLAIN,
        pictures=row.layout == WITH_PICTURES,
        files=[MailFile(id=each.pk, name=each.name, size=each.size) for each in row.files.all()],
        left_out=row.left_out,
        automatic=row.automatic,
        written_at=row.written_at,
        customer_id=row.customer_id,
        contact_id=row.contact_id,
        deal_id=row.deal_id,
        kind=kind,
        record=record,
        says=SaysOut(**row.says) if row.says else None,
        waits=row.settled_at is None,
        settled_by=row.settled_by.name if row.settled_by else "",
    )


@router.get("/arrived-mails/{mail_id}", response=ArrivedOut, operation_id="get_arrived_mail")
def one(request: HttpRequest, mail_id: PathId) -> ArrivedOut:
    """A mail that came. Two queries."""
    return _out(pick(_shown(who(request)), mail_id, "mail"))


class PageIn(Schema):
    """Whether pictures that lie elsewhere are fetched."""

    pictures: bool = False


@router.get("/arrived-mails/{mail_id}/page", operation_id="get_arrived_page")
def laid_out(request: HttpRequest, mail_id: PathId, asked: Query[PageIn]) -> HttpResponse:
    """The mail as its writer laid it out, cleaned, in a page that can do nothing. One query."""
    row = pick(arrived_of(who(request)).exclude(layout=PLAIN), mail_id, "mail")
    answer = HttpResponse(
        page_of(row.markup, pictures=asked.pictures), content_type="text/html; charset=utf-8"
    )
    answer.headers["Content-Security-Policy"] = policy(pictures=asked.pictures)
    answer.headers["X-Frame-Options"] = "SAMEORIGIN"
    answer.headers["Referrer-Policy"] = "no-referrer"
    return answer


class WaitsIn(Schema):
    """Whether a mail waits for an answer."""

    version: Version
    waits: bool


@router.post(
    "/arrived-mails/{mail_id}/waits", response=ArrivedOut, operation_id="say_whether_mail_waits"
)
def waits(request: HttpRequest, mail_id: PathId, data: WaitsIn) -> ArrivedOut:
    """It needs no answer; or it waits for one after all."""
    person = who(request)
    say_whether_it_waits(person, mail_id, data.version, waits=data.waits, now=timezone.now())
    return _out(pick(_shown(person), mail_id, "mail"))


def _file(person: User, file_id: int) -> ReceivedFile:
    row = ReceivedFile.objects.filter(pk=file_id, received__in=arrived_of(person)).first()
    if row is None or not place_of(row.digest).exists():
        raise Missing("not_found", facts={"what": "file"})
    return row


@router.get("/arrived-files/{file_id}", operation_id="get_arrived_file")
def content(request: HttpRequest, file_id: PathId) -> HttpResponseBase:
    """A file that came along; always to be kept, never shown in place."""
    row = _file(who(request), file_id)
    answer = FileResponse(place_of(row.digest).open("rb"), as_attachment=True, filename=row.name)
    answer["Content-Type"] = "application/octet-stream"
    return answer


class TableOut(Schema):
    """A table as a mail would have it in its text: rows by lines, cells between tabs."""

    text: str


@router.get("/arrived-files/{file_id}/table", response=TableOut, operation_id="read_arrived_file")
def table(request: HttpRequest, file_id: PathId) -> TableOut:
    """The table in a CSV or XLSX file that came along, as far as a mail is read."""
    row = _file(who(request), file_id)
    rows = read_table(row.name, place_of(row.digest).read_bytes())
    text = "\n".join("\t".join(" ".join(cell.split()) for cell in cells) for _, cells in rows)
    return TableOut(text=text[:LONGEST])
