"""What happened with a customer: mails, calls, visits, notes, documents, payments, in the order of time."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Annotated, Any, Literal

from django.db.models import CharField, DateTimeField, F, Q, QuerySet, Value
from django.db.models.expressions import CombinedExpression
from django.db.models.functions import Cast, Coalesce, Least
from django.http import HttpRequest
from django.utils import timezone
from ninja import Query, Router
from pydantic import Field

from api.customers.documents import DocumentKind, kinds_on
from api.customers.scope import customers_of
from api.mail_places import stands_at_customer
from api.schemas import Schema
from api.shapes import Day, Paged, PathId, Words, midnight, today, who
from apps.customers.models import Customer
from apps.diary.models import FOLLOW_UP, Activity
from apps.listing import MOST, Span
from apps.mail.models import Message, Received
from apps.people.access import owns, pick, sells
from apps.people.models import User
from routecore.reading.letters import fresh

router = Router(tags=["customers"])
SIZE = 40
#: Of a mail's own words so many letters are told.
LETTERS = 280


class TimelineIn(Schema):
    """What is looked for: what was said, or what was written on paper; words; from a day, to a day."""

    kind: Literal["", "said", "papers"] = ""
    words: Words = ""
    since: Day | None = None
    until: Day | None = None
    page: Annotated[int, Field(ge=1, le=1_000)] = 1


class TimelineRow(Schema):
    """Something that happened: a mail that left (``mail``) or came (``arrived``), a call, visit, note, something that
    was done (``follow_up``), a document. ``at``: by the house's clock, empty where only the day is known; ``who`` let
    ``whom`` know."""

    kind: str
    id: int
    day: date
    at: str
    who: str
    whom: str
    title: str
    words: str
    state: str
    amount: str
    currency: str
    to: str


class TimelinePage(Paged):
    """A page of what happened, the newest first."""

    rows: list[TimelineRow]


@dataclass(frozen=True, slots=True)
class _Part:
    """Where things of a kind lie, when they happened, which hold a word."""

    rows: QuerySet[Any]
    customer: str
    at: Any
    holds: Callable[[str], Q]
    shown: Callable[[Any], TimelineRow]


#: A day without an hour stands at noon by the world's clock: on the same day in any house.
NOON = timedelta(hours=12)


def _on(day: Any) -> CombinedExpression:
    """A day as a moment of it."""
    moment: CombinedExpression = Cast(day, DateTimeField()) + NOON
    return moment


def _row(kind: str, pk: int, moment: datetime | date, **more: str) -> TimelineRow:
    exact = isinstance(moment, datetime)
    local = timezone.localtime(moment) if isinstance(moment, datetime) else moment
    known = {
        "who": "",
        "whom": "",
        "title": "",
        "words": "",
        "state": "",
        "amount": "",
        "currency": "",
        "to": "",
    }
    return TimelineRow(
        kind=kind,
        id=pk,
        day=local.date() if isinstance(local, datetime) else local,
        at=f"{local:%H:%M}" if exact else "",
        **{**known, **more},
    )


def _mail(row: Message) -> TimelineRow:
    return _row(
        "mail",
        row.pk,
        row.created_at,
        who=row.who.name,
        whom=", ".join(each["name"] or each["address"] for each in row.to),
        title=row.subject,
        words=row.body[:LETTERS],
        state=row.state,
        to=stands_at_customer(row),
    )


def _arrived(row: Received) -> TimelineRow:
    return _row(
        "arrived",
        row.pk,
        row.written_at,
        who=row.contact.name if row.contact else row.sender_name or row.sender,
        title=row.subject,
        words=fresh(row.text).text[:LETTERS],
        to=stands_at_customer(row),
    )


def _activity(row: Activity, person: User) -> TimelineRow:
    """A colleague's deal is named and leads nowhere."""
    on_its_day = timezone.localdate(row.created_at) == row.day
    moment: datetime | date = row.done_at or (row.created_at if on_its_day else row.day)
    return _row(
        row.kind,
        row.pk,
        moment,
        who=row.owner.name,
        whom=row.contact.name if row.contact else "",
        title=row.deal.title if row.deal else "",
        words=row.text,
        to=f"/deals/{row.deal_id}" if row.deal and owns(person, row.deal.owner_id) else "",
    )


def _said(person: User) -> dict[str, _Part]:
    return {
        "mail": _Part(
            Message.objects.select_related("who"),
            "customer",
            F("created_at"),
            lambda w: Q(subject__icontains=w) | Q(body__icontains=w),
            _mail,
        ),
        "arrived": _Part(
            Received.objects.select_related("contact").defer("markup"),
            "customer",
            F("written_at"),
            lambda w: Q(subject__icontains=w) | Q(text__icontains=w),
            _arrived,
        ),
        "noted": _Part(
            Activity.objects.exclude(kind=FOLLOW_UP, done_at=None).select_related(
                "owner", "contact", "deal"
            ),
            "customer",
            # What was noted later than it was stands on the day it was.
            Coalesce(F("done_at"), Least(F("created_at"), _on(F("day")))),
            lambda w: Q(text__icontains=w) | Q(deal__title__icontains=w),
            lambda row: _activity(row, person),
        ),
    }


def _paper(kind: DocumentKind, on: date) -> _Part:
    def shown(row: Any) -> TimelineRow:
        told = kind.shown(row, on)
        return _row(
            told.kind,
            row.pk,
            told.on,
            title=told.number,
            state=told.state,
            amount=told.amount,
            currency=told.currency,
            to=told.to,
        )

    return _Part(kind.rows.filter(kind.told), kind.customer, _on(kind.on), kind.holds, shown)


def _parts(asked: TimelineIn, person: User, on: date) -> dict[str, _Part]:
    papers = {name: _paper(kind, on) for name, kind in kinds_on(on).items()}
    if asked.kind == "said":
        return _said(person)
    return papers if asked.kind == "papers" else {**_said(person), **papers}


def _keys(name: str, part: _Part, customer: Customer, asked: TimelineIn) -> QuerySet[Any]:
    rows = part.rows.filter(**{part.customer: customer}).order_by().annotate(moment=part.at)
    if asked.since:
        rows = rows.filter(moment__gte=midnight(asked.since))
    if asked.until:
        rows = rows.filter(moment__lt=midnight(asked.until + timedelta(days=1)))
    for word in asked.words.split():
        rows = rows.filter(part.holds(word))
    what = Value(name, output_field=CharField())
    keys: QuerySet[Any] = rows.annotate(what=what).values_list("what", "pk", "moment").distinct()
    return keys


def timeline_of(
    customer: Customer, asked: TimelineIn, person: User, on: date
) -> tuple[list[TimelineRow], dict[str, Any]]:
    """A page of it and its facts. A query, and one for each kind on the page."""
    parts = _parts(asked, person, on)
    first, *others = [_keys(name, part, customer, asked) for name, part in parts.items()]
    together = first.union(*others, all=True).order_by("-moment", "what", "-pk")
    found = list(together[: MOST + 1])
    span = Span.of(min(len(found), MOST), asked.page, SIZE)
    more = len(found) > MOST
    facts = {"count": min(len(found), MOST), "page": span.page, "pages": span.pages, "more": more}
    listed = [(name, pk) for name, pk, _ in found[span.slice]]
    wanted: dict[str, list[int]] = {}
    for name, pk in listed:
        wanted.setdefault(name, []).append(pk)
    rows = {
        (name, row.pk): row
        for name, pks in wanted.items()
        for row in parts[name].rows.filter(pk__in=pks)
    }
    told = [parts[key[0]].shown(rows[key]) for key in listed if key in rows]
    return sorted(told, key=lambda row: (row.day, row.at or "12:00"), reverse=True), facts


@router.get("/customers/{customer_id}/timeline", response=TimelinePage, operation_id="get_timeline")
def timeline(request: HttpRequest, customer_id: PathId, asked: Query[TimelineIn]) -> TimelinePage:
    """What happened with a customer, the newest first. A constant number of queries."""
    person = who(request)
    sells(person)
    customer = pick(customers_of(person), customer_id, "customer")
    rows, facts = timeline_of(customer, asked, person, today())
    return TimelinePage(rows=rows, **facts)
