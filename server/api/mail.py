"""Mail from a record: how it begins, putting it into the outbox, what became of it."""

from datetime import datetime
from typing import Annotated, Literal, TypeVar

from django.db.models import QuerySet
from django.http import FileResponse, HttpRequest
from django.http.response import HttpResponseBase
from django.utils import timezone
from ninja import Query, Router, Status
from pydantic import BaseModel, Field, StringConstraints

from api.schemas import Schema
from api.shapes import Day, Id, Mail, PathId, Version, who
from apps.errors import Missing
from apps.files.store import place_of
from apps.mail.about import Kind, Writes, about_of, newest_of, values_of
from apps.mail.flows import MOST_PEOPLE, FollowUp, Person, Written, decide, write_mail
from apps.mail.models import Message, Received
from apps.mail.wordings import (
    FIELDS,
    LONGEST,
    editions_of,
    keep_signature,
    keep_wording,
    refuse_unknown_fields,
    signature_of,
    words_for,
)
from apps.people.access import owned, pick, sells
from apps.people.models import User
from apps.quotes.models import Revision
from routecore.mailing import filled, unfilled

router = Router(tags=["mail"])
WordKind = Literal["quote", "reminder", "order", "invoice", "visit", "free"]
Tongue = Literal["en", "de"]
Named = Annotated[str, StringConstraints(max_length=120)]
Subject = Annotated[str, StringConstraints(max_length=200)]
Body = Annotated[str, StringConstraints(max_length=LONGEST)]
SHOWN = 100
M = TypeVar("M", Message, Received)


class PersonTo(BaseModel):
    """Somebody it goes to."""

    name: Named = ""
    address: Annotated[Mail, Field(min_length=3)]


class FollowUpIn(BaseModel):
    """What is to be done after it, by when, by whom."""

    text: Annotated[str, StringConstraints(min_length=1, max_length=200)]
    due_on: Day
    owner_id: Id | None = None


class MailIn(Schema):
    """A mail as it was written; ``answers`` is the one that it answers."""

    kind: Writes
    record: Id
    to: Annotated[list[PersonTo], Field(min_length=1, max_length=MOST_PEOPLE)]
    copies: Annotated[list[PersonTo], Field(max_length=MOST_PEOPLE)] = []
    copy_to_self: bool = False
    contact_id: Id | None = None
    answers: Id | None = None
    subject: Subject
    body: Body
    papers: Annotated[
        list[Annotated[str, StringConstraints(max_length=10)]], Field(max_length=10)
    ] = []
    follow_up: FollowUpIn | None = None


class MailFile(Schema):
    """A file that went along."""

    id: int
    name: str
    size: int


class MailOut(Schema):
    """A mail of ours and how far it came; ``said`` is the server's answer or what went wrong. ``elsewhere``: it was
    written and sent with another program."""

    id: int
    version: int
    state: str
    who: str
    to: list[str]
    copies: list[str]
    subject: str
    body: str
    files: list[MailFile]
    customer_id: int
    about: str
    said: str
    tries: int
    created_at: datetime
    sent_at: datetime | None
    next_try_at: datetime | None
    settled_by: str
    elsewhere: bool


def _shown(person: User) -> QuerySet[Message]:
    """Mails of the customers that this person sees."""
    return (
        Message.objects.filter(owned(person, "customer__owner"))
        .select_related("who", "settled_by", "revision__quote", "order", "invoice", "deal")
        .prefetch_related("attachments")
    )


def mail_out(row: Message) -> MailOut:
    """A mail as it is told."""
    return MailOut(
        id=row.pk,
        version=row.version,
        state="under_way" if row.state == "handing" else row.state,
        who=row.who.name,
        to=[_said(each) for each in row.to],
        copies=[_said(each) for each in row.copies],
        subject=row.subject,
        body=row.body,
        files=[
            MailFile(id=each.pk, name=each.name, size=each.size) for each in row.attachments.all()
        ],
        customer_id=row.customer_id,
        about=_about(row),
        said=row.said,
        tries=row.tries,
        created_at=row.created_at,
        sent_at=row.sent_at,
        next_try_at=row.next_try_at if row.state == "waiting" else None,
        settled_by=row.settled_by.name if row.settled_by else "",
        elsewhere=row.elsewhere,
    )


def _said(person: dict[str, str]) -> str:
    return f"{person['name']} <{person['address']}>" if person["name"] else person["address"]


def _about(row: Message) -> str:
    if row.revision:
        return f"{row.revision.quote.number} {row.revision.letter}"
    document = row.invoice or row.order
    return document.number if document else row.deal.title if row.deal else ""


@router.post("/mails", response={201: MailOut}, operation_id="write_mail")
def write(request: HttpRequest, data: MailIn) -> Status[MailOut]:
    """Put a mail into the outbox; the worker sends it."""
    person = who(request)
    about = about_of(person, data.kind, data.record)
    asked = data.follow_up
    written = Written(
        to=[Person(**each.model_dump()) for each in data.to],
        copies=[Person(**each.model_dump()) for each in data.copies],
        copy_to_self=data.copy_to_self,
        contact_id=data.contact_id,
        answering=data.answers,
        subject=data.subject,
        body=data.body,
        papers=data.papers,
        follow_up=FollowUp(**asked.model_dump()) if asked else None,
    )
    made = write_mail(person, about, written, now=timezone.now())
    return Status(201, mail_out(pick(_shown(person), made.pk, "mail")))


class MailFilters(Schema):
    """Of which record; of a customer all of its records'. ``also`` this one, however old it is."""

    kind: Kind
    record: Id
    also: Id | None = None


@router.get("/mails", response=list[MailOut], operation_id="list_mails")
def mails(request: HttpRequest, filters: Query[MailFilters]) -> list[MailOut]:
    """The newest mails about a record; of a quote those of all its revisions. Three queries, five with an older one."""
    rows = _shown(who(request))
    if filters.kind == "quote":
        of_quote = Revision.objects.filter(pk=filters.record).values("quote")
        rows = rows.filter(revision__quote__in=of_quote)
    else:
        rows = rows.filter(**{filters.kind: filters.record})
    return [mail_out(row) for row in newest(rows, filters.also)]


def newest(rows: QuerySet[M], also: int | None) -> list[M]:
    """The first rows, and one that is asked for however old it is."""
    found = list(rows[:SHOWN])
    if also and len(found) == SHOWN and all(row.pk != also for row in found):
        found += rows.filter(pk=also)
    return found


@router.get("/mail-files/{file_id}", operation_id="get_mail_file")
def content(request: HttpRequest, file_id: PathId) -> HttpResponseBase:
    """A file that went along."""
    rows = _shown(who(request)).filter(attachments=file_id)
    message = rows.first()
    row = (
        next((each for each in message.attachments.all() if each.pk == file_id), None)
        if message
        else None
    )
    if row is None or not place_of(row.digest).exists():
        raise Missing("not_found", facts={"what": "file"})
    answer = FileResponse(place_of(row.digest).open("rb"), as_attachment=True, filename=row.name)
    answer["Content-Type"] = row.media_type
    return answer


class DecideIn(Schema):
    """What becomes of a mail that is stuck: it went out after all, it is sent again, or it is let go."""

    version: Version
    what: Literal["sent", "again", "go"]


@router.post("/mails/{mail_id}/decide", response=MailOut, operation_id="decide_mail")
def decided(request: HttpRequest, mail_id: PathId, data: DecideIn) -> MailOut:
    """A person says what becomes of it."""
    person = who(request)
    decide(person, mail_id, data.version, data.what, now=timezone.now())
    return mail_out(pick(_shown(person), mail_id, "mail"))


class WordingOut(Schema):
    """The words of a kind of mail: whose they are, and what they may name."""

    kind: WordKind
    language: Tongue
    subject: str
    body: str
    whose: str
    fields: list[str]


class WordingIn(Schema):
    """Another edition; without a body one's own, or the house's, are taken back."""

    kind: WordKind
    language: Tongue
    subject: Subject
    body: Body
    own: bool = True


def _words(person: User, kind: WordKind, language: Tongue) -> WordingOut:
    words = words_for(person, kind, language)
    return WordingOut(
        kind=kind,
        language=language,
        subject=words.subject,
        body=words.body,
        whose=words.whose,
        fields=list(FIELDS[kind]),
    )


@router.get("/mail-words", response=WordingOut, operation_id="get_mail_words")
def words(request: HttpRequest, kind: WordKind, language: Tongue) -> WordingOut:
    """What a mail of this kind begins with."""
    return _words(who(request), kind, language)


@router.put("/mail-words", response=WordingOut, operation_id="keep_mail_words")
def put_words(request: HttpRequest, data: WordingIn) -> WordingOut:
    """Keep another edition of the words: one's own, or as an administrator the house's."""
    person = who(request)
    keep_wording(
        person, data.kind, data.language, subject=data.subject, body=data.body, own=data.own
    )
    return _words(person, data.kind, data.language)


class WordingEdition(Schema):
    """An edition: its words, who kept it and when; without words it took back those before."""

    id: int
    subject: str
    body: str
    by: str
    at: datetime


@router.get(
    "/mail-words/editions", response=list[WordingEdition], operation_id="list_mail_word_editions"
)
def editions(request: HttpRequest, kind: WordKind, language: Tongue) -> list[WordingEdition]:
    """The editions that one keeps, the newest first: one's own, as an administrator the house's. One query."""
    return [
        WordingEdition(id=row.pk, subject=row.subject, body=row.body, by=row.by.name, at=row.at)
        for row in editions_of(who(request), kind, language)
    ]


class TriedIn(Schema):
    """Words as they are typed."""

    kind: WordKind
    language: Tongue
    subject: Subject
    body: Body


class TriedOut(Schema):
    """The same on a record of one's own, the newest there is; ``missing`` are fields without a value there."""

    record: str
    customer: str
    subject: str
    body: str
    missing: list[str]


@router.post("/mail-words/try", response=TriedOut, operation_id="try_mail_words")
def try_words(request: HttpRequest, data: TriedIn) -> TriedOut:
    """How words come out on a real record. Nothing is stored."""
    person = who(request)
    sells(person)
    refuse_unknown_fields(data.kind, data.subject, data.body)
    about = newest_of(person, data.kind)
    if about is None:
        raise Missing("not_found", facts={"what": "record_of_kind"})
    values = values_of(person, about, about.contact.name if about.contact else "")
    subject, body = filled(data.subject, values), filled(data.body, values)
    return TriedOut(
        record=about.values.get("number", ""),
        customer=about.customer.name,
        subject=subject,
        body=body,
        missing=list(unfilled(f"{subject}\n{body}")),
    )


class SignatureIO(Schema):
    """What one's mails end with."""

    text: Annotated[str, StringConstraints(max_length=1000)]


@router.get("/mail-signature", response=SignatureIO, operation_id="get_signature")
def signature(request: HttpRequest) -> SignatureIO:
    """What one's mails end with."""
    return SignatureIO(text=signature_of(who(request)))


@router.put("/mail-signature", response=SignatureIO, operation_id="keep_signature")
def put_signature(request: HttpRequest, data: SignatureIO) -> SignatureIO:
    """End one's mails with this."""
    return SignatureIO(text=keep_signature(who(request), data.text))
