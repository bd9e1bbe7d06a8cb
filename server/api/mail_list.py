"""All mails that a person sees, those of every customer in one list."""

from collections.abc import Iterator, Sequence
from datetime import datetime, timedelta
from typing import Annotated, Any, Literal

from django.db.models import Count, Q, QuerySet
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from ninja import Query, Router
from pydantic import Field

from api.export import Column, Seen, as_file
from api.mail_places import stands_at
from api.schemas import Schema
from api.shapes import Day, Id, Paged, Words, midnight, who
from apps.listing import BATCH, LONGEST_FILE, MOST, PAGE_SIZE, Span
from apps.mail.models import Message, Received
from apps.people.access import owned, sells
from apps.people.models import User
from apps.searching import Index
from routecore.reading.letters import fresh

router = Router(tags=["mail"])
SENT_WORDS = Index(columns=("subject", "body"), first="subject")
CAME_WORDS = Index(columns=("subject", "text"), first="subject")
#: Of a mail's own words so many letters are told.
LETTERS = 200


class MailListFilters(Schema):
    """What narrows the list: which way they went, only those that wait for an answer, whose customers', words, days."""

    way: Literal["", "in", "out"] = ""
    waits: bool = False
    owner: Id | None = None
    words: Words = ""
    since: Day | None = None
    until: Day | None = None
    sort: Literal["-at", "at"] = "-at"
    page: Annotated[int, Field(ge=1, le=100_000)] = 1


class MailRow(Schema):
    """A mail in the list: ``way`` "in" or "out"; ``state``: how far one of ours came; of one that came ``waits``,
    ``automatic`` or ``settled``. ``files``: how many came along; ``elsewhere``: sent with another program."""

    way: Literal["in", "out"]
    id: int
    at: datetime
    customer: str
    customer_id: int
    who: str
    whom: str
    subject: str
    words: str
    state: str
    says: str
    files: int
    elsewhere: bool
    to: str


class MailPage(Paged):
    """A page of the mails, the newest first unless they are turned."""

    rows: list[MailRow]


def _narrowed(
    rows: QuerySet[Any], person: User, asked: MailListFilters, at: str, words: Index, most: int
) -> list[tuple[datetime, int]]:
    """When and which, so many at most. One query, two more to choose how words are found."""
    rows = rows.filter(owned(person, "customer__owner"))
    if asked.owner:
        rows = rows.filter(customer__owner=asked.owner)
    if asked.since:
        rows = rows.filter(**{f"{at}__gte": midnight(asked.since)})
    if asked.until:
        rows = rows.filter(**{f"{at}__lt": midnight(asked.until + timedelta(days=1))})
    if asked.words:
        rows = words.find(rows, asked.words)
    order = ("-" if asked.sort == "-at" else "") + at
    found = rows.order_by(order, "-pk" if asked.sort == "-at" else "pk").values_list(at, "pk")
    return list(found[:most])


def _keys(person: User, asked: MailListFilters, most: int) -> list[tuple[datetime, str, int]]:
    """Both ways in one order."""
    found: list[tuple[datetime, str, int]] = []
    if asked.way != "in" and not asked.waits:
        sent = _narrowed(Message.objects.all(), person, asked, "created_at", SENT_WORDS, most)
        found += [(at, "out", pk) for at, pk in sent]
    if asked.way != "out":
        rows = Received.objects.filter(Q(settled_at=None) if asked.waits else Q())
        came = _narrowed(rows, person, asked, "written_at", CAME_WORDS, most)
        found += [(at, "in", pk) for at, pk in came]
    return sorted(found, reverse=asked.sort == "-at")[:most]


def _rows(keys: Sequence[tuple[datetime, str, int]]) -> list[MailRow]:
    """Four queries at most."""
    told = _sent([pk for _, way, pk in keys if way == "out"])
    told |= _came([pk for _, way, pk in keys if way == "in"])
    return [told[way, pk] for _, way, pk in keys if (way, pk) in told]


def _sent(keys: Sequence[int]) -> dict[tuple[str, int], MailRow]:
    rows = Message.objects.filter(pk__in=keys).select_related("who", "customer", "contact")
    return {
        ("out", row.pk): MailRow(
            way="out",
            id=row.pk,
            at=row.created_at,
            customer=row.customer.name,
            customer_id=row.customer_id,
            who=row.who.name,
            whom=_whom(row),
            subject=row.subject,
            words=row.body.strip()[:LETTERS],
            state="under_way" if row.state == "handing" else row.state,
            says="",
            files=row.many,
            elsewhere=row.elsewhere,
            to=stands_at(row),
        )
        for row in rows.annotate(many=Count("attachments"))
    }


def _came(keys: Sequence[int]) -> dict[tuple[str, int], MailRow]:
    rows = (
        Received.objects.filter(pk__in=keys).select_related("contact", "customer").defer("markup")
    )
    return {
        ("in", row.pk): MailRow(
            way="in",
            id=row.pk,
            at=row.written_at,
            customer=row.customer.name,
            customer_id=row.customer_id,
            who=row.contact.name if row.contact else row.sender_name or row.sender,
            whom="",
            subject=row.subject,
            words=fresh(row.text).text.strip()[:LETTERS],
            state=_state(row),
            says=row.says.get("kind", ""),
            files=row.many,
            elsewhere=False,
            to=stands_at(row),
        )
        for row in rows.annotate(many=Count("files"))
    }


def _whom(row: Message) -> str:
    """As the contact is called here; several as the mail names them."""
    if row.contact and len(row.to) == 1:
        return row.contact.name
    return ", ".join(each["name"] or each["address"] for each in row.to)


def _state(row: Received) -> str:
    if row.settled_at is None:
        return "waits"
    return "automatic" if row.automatic else "settled"


@router.get("/mail-list", response=MailPage, operation_id="list_all_mails")
def all_mails(request: HttpRequest, asked: Query[MailListFilters]) -> MailPage:
    """The mails of this person's customers. Four queries; with words eight."""
    person = who(request)
    sells(person)
    keys = _keys(person, asked, MOST + 1)
    span = Span.of(min(len(keys), MOST), asked.page, PAGE_SIZE)
    return MailPage(
        rows=_rows(keys[:MOST][span.slice]),
        count=min(len(keys), MOST),
        page=span.page,
        pages=span.pages,
        more=len(keys) > MOST,
    )


@router.get("/mails.{kind}", operation_id="export_mails")
def export(
    request: HttpRequest,
    kind: Literal["csv", "xlsx"],
    asked: Query[MailListFilters],
    columns: Seen = "",
) -> HttpResponseBase:
    """The filtered mails as a file."""
    person = who(request)
    sells(person)
    keys = _keys(person, asked, LONGEST_FILE)
    known = [
        Column("When", "at"),
        Column("Way", "way"),
        Column("State", "state"),
        Column("Subject", "subject"),
        Column("Words", "words"),
        Column("From", "who"),
        Column("To", "whom"),
        Column("Customer", "customer"),
        Column("Files", "files", number=True),
    ]
    rows: Iterator[list[MailRow]] = (
        _rows(keys[start : start + BATCH]) for start in range(0, len(keys), BATCH)
    )
    return as_file(kind, "mails", known, rows, seen=columns)
