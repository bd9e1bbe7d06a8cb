"""Mails that came from customers: those of a record, and the files that came along."""

from datetime import datetime

from django.db.models import QuerySet
from django.http import FileResponse, HttpRequest
from django.http.response import HttpResponseBase
from ninja import Query, Router

from api.mail import SHOWN, MailFile, MailFilters
from api.schemas import Schema
from api.shapes import PathId, who
from apps.errors import Missing
from apps.files.store import place_of
from apps.mail.models import Received, ReceivedFile
from apps.people.access import owned
from apps.people.models import User
from apps.quotes.models import Revision

router = Router(tags=["mail"])


class ArrivedOut(Schema):
    """A mail that came: from whom (as the contact is called here), when, its words and files; ``automatic`` where a
    machine wrote it, ``left_out`` counts the files that were too many."""

    id: int
    sender: str
    address: str
    subject: str
    text: str
    files: list[MailFile]
    left_out: int
    automatic: bool
    written_at: datetime
    customer_id: int
    contact_id: int | None


def _seen_by(person: User) -> QuerySet[Received]:
    """Mails of the customers that this person sees."""
    return Received.objects.filter(owned(person, "customer__owner"))


@router.get("/arrived-mails", response=list[ArrivedOut], operation_id="list_arrived_mails")
def arrived(request: HttpRequest, filters: Query[MailFilters]) -> list[ArrivedOut]:
    """The newest mails that came about a record; of a quote those of all its revisions. Two queries."""
    rows = _seen_by(who(request)).select_related("contact").prefetch_related("files")
    if filters.kind == "quote":
        of_quote = Revision.objects.filter(pk=filters.record).values("quote")
        rows = rows.filter(revision__quote__in=of_quote)
    else:
        rows = rows.filter(**{filters.kind: filters.record})
    return [_out(row) for row in rows[:SHOWN]]


def _out(row: Received) -> ArrivedOut:
    return ArrivedOut(
        id=row.pk,
        sender=row.contact.name if row.contact else row.sender_name or row.sender,
        address=row.sender,
        subject=row.subject,
        text=row.text,
        files=[MailFile(id=each.pk, name=each.name, size=each.size) for each in row.files.all()],
        left_out=row.left_out,
        automatic=row.automatic,
        written_at=row.written_at,
        customer_id=row.customer_id,
        contact_id=row.contact_id,
    )


@router.get("/arrived-files/{file_id}", operation_id="get_arrived_file")
def content(request: HttpRequest, file_id: PathId) -> HttpResponseBase:
    """A file that came along; always to be kept, never shown in place."""
    row = ReceivedFile.objects.filter(pk=file_id, received__in=_seen_by(who(request))).first()
    if row is None or not place_of(row.digest).exists():
        raise Missing("not_found", facts={"what": "file"})
    answer = FileResponse(place_of(row.digest).open("rb"), as_attachment=True, filename=row.name)
    answer["Content-Type"] = "application/octet-stream"
    return answer
