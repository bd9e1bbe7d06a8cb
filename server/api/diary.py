"""The diary: calls, visits, notes and follow-ups of oneself and one's team, and what colleagues are told of them."""

from collections.abc import Collection, Iterable, Mapping
from datetime import date, datetime
from typing import Annotated, Literal

from django.db.models import QuerySet
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.utils import timezone
from ninja import File, Query, Router, Status, UploadedFile
from pydantic import BaseModel, Field, StringConstraints

from api.export import Column, Seen, as_file
from api.schemas import Schema
from api.shapes import Clock, Day, Id, Paged, PathId, Text, Version, Words, paged, today, who
from apps.deals.queries import helped_by
from apps.diary.calendars_in import MOST, MOST_BYTES, Taken, events_in, take_events
from apps.diary.flows import (
    MOST_MINUTES,
    FollowUpChanges,
    Noted,
    add_activity,
    change_follow_up,
    see,
)
from apps.diary.models import FOLLOW_UP, MENTIONED, QUOTE, Activity
from apps.diary.queries import SORTS, filter_activities, seen_activities, shown, with_people
from apps.ledger.noting import document_at, noted_at
from apps.listing import count, in_batches, in_order
from apps.people.access import owns, sells
from apps.people.models import User
from apps.quotes.models import Quote

router = Router(tags=["diary"])
#: Of what was noted at a document so many are told.
MOST_AT = 100
Kind = Literal["call", "visit", "note", "follow_up"]
Word = Annotated[str, StringConstraints(max_length=200)]
Where = Annotated[str, StringConstraints(max_length=160)]
Minutes = Annotated[int, Field(ge=1, le=MOST_MINUTES)]


class ToldOut(Schema):
    """What became of something that was asked for (``done``, ``moved``, ``back``), in somebody's words."""

    what: str
    who: str
    word: str
    at: datetime


class InvitedOut(Schema):
    """Who was invited to a visit, and what they say: ``accepted``, ``declined``, ``tentative``, nothing yet."""

    name: str
    says: str


class ActivityFile(Schema):
    """A file that lies with it."""

    id: int
    name: str


class ActivityOut(Schema):
    """What was done, or is to do. ``asked_by``: the colleague who gave it to whose it is; ``starts``: hours and minutes
    of the house's clock; ``document``: the number of that where it was noted, with its address ``to``."""

    id: int
    kind: str
    text: str
    who: str
    who_id: int
    asked_by: str
    asked_by_id: int | None
    person: str
    visit: bool
    day: date
    starts: str
    minutes: int | None
    where: str
    due_on: date | None
    done_at: datetime | None
    created_at: datetime
    told: list[ToldOut]
    invited: list[InvitedOut]
    document: str
    to: str
    files: list[ActivityFile]
    version: int


def activities_out(rows: Iterable[Activity], *, leads: bool = True) -> list[ActivityOut]:
    """Activities with their people's names and where they were noted; without ``leads`` that is named and leads
    nowhere. One query more than theirs, where a quote is among it."""
    found = list(rows)
    quotes = [row.record for row in found if row.about == QUOTE and leads]
    newest = (
        dict(Quote.objects.filter(pk__in=quotes).values_list("pk", "revision_id")) if quotes else {}
    )
    return [_out(row, _address(row, newest) if leads else "") for row in found]


def activity_out(row: Activity) -> ActivityOut:
    """One of them."""
    return activities_out([row])[0]


def _address(row: Activity, newest: Mapping[int, int | None]) -> str:
    """Where the document stands: of a quote its newest revision; nowhere where that was thrown away."""
    if row.about == QUOTE:
        revision = newest.get(row.record or 0)
        return f"/quotes/{revision}" if revision else ""
    return f"/{row.about}s/{row.record}" if row.about else ""


def _out(row: Activity, to: str) -> ActivityOut:
    return ActivityOut(
        id=row.pk,
        kind=row.kind,
        text=row.text,
        who=row.owner.name,
        who_id=row.owner_id,
        asked_by=row.asked_by.name if row.asked_by else "",
        asked_by_id=row.asked_by_id,
        person=row.contact.name if row.contact else "",
        visit=row.visit or row.kind == "visit",
        day=row.day,
        starts=f"{row.starts:%H:%M}" if row.starts else "",
        minutes=row.minutes,
        where=row.where,
        due_on=row.due_on,
        done_at=row.done_at,
        created_at=row.created_at,
        told=[
            ToldOut(what=each.what, who=each.who.name, word=each.word, at=each.at)
            for each in row.told.all()
            if each.what != MENTIONED
        ],
        invited=[
            InvitedOut(name=each.name or each.address, says=each.says) for each in row.invited.all()
        ],
        document=row.document,
        to=to,
        files=[
            ActivityFile(id=each.pk, name=each.name)
            for each in row.files.all()
            if each.removed_at is None
        ],
        version=row.version,
    )


class DiaryRow(ActivityOut):
    """An activity in the diary. A customer or a deal that is not this person's has a name and no key. ``settles``:
    whether this person may mark it done, move it or give it away."""

    customer_id: int | None
    customer: str
    deal_id: int | None
    deal: str
    settles: bool


class DiaryPage(Paged):
    """A page of the diary, day by day."""

    rows: list[DiaryRow]


class DiaryFilters(Schema):
    """What narrows the diary: ``mine``, or all that this person reads, or a colleague's; ``open``: what is to do."""

    whose: Literal["mine", "all"] = "mine"
    owner: Id | None = None
    kind: Literal["", "open", "call", "visit", "note", "follow_up"] = ""
    customer: Id | None = None
    since: Day | None = None
    until: Day | None = None
    words: Words = ""
    page: Annotated[int, Field(ge=1, le=100_000)] = 1


def _filtered(person: User, filters: DiaryFilters) -> QuerySet[Activity]:
    sells(person)
    given = filters.model_dump(exclude={"whose", "page"})
    if filters.whose == "mine" and not filters.owner:
        given["owner"] = person.pk
    return filter_activities(seen_activities(person), **given)


def _row(person: User, row: Activity, told: ActivityOut, helped: Collection[int]) -> DiaryRow:
    of_customer = owns(person, row.customer.owner_id)
    of_deal = row.deal is not None and (owns(person, row.deal.owner_id) or row.deal_id in helped)
    mine = owns(person, row.owner_id) or of_customer
    return DiaryRow(
        **{**told.model_dump(), "to": told.to if of_customer else ""},
        customer_id=row.customer_id if of_customer else None,
        customer=row.customer.name,
        deal_id=row.deal_id if of_deal else None,
        deal=row.deal.title if row.deal else "",
        settles=row.kind == FOLLOW_UP
        and (mine or (row.deal is not None and owns(person, row.deal.owner_id))),
    )


def _rows(person: User, rows: Collection[Activity]) -> list[DiaryRow]:
    helped = set(helped_by(person).values_list("pk", flat=True))
    return [
        _row(person, row, told, helped)
        for row, told in zip(rows, activities_out(rows), strict=True)
    ]


@router.get("/diary", response=DiaryPage, operation_id="list_diary")
def diary(request: HttpRequest, filters: Query[DiaryFilters]) -> DiaryPage:
    """A page of the diary, by days. A constant number of queries."""
    person = who(request)
    found = count(in_order(_filtered(person, filters), "day", SORTS, "day"))
    span, facts = paged(found, filters.page)
    return DiaryPage(rows=_rows(person, found.page(span, shown())), **facts)


@router.get("/diary.{kind}", operation_id="export_diary")
def export(
    request: HttpRequest,
    kind: Literal["csv", "xlsx"],
    filters: Query[DiaryFilters],
    columns: Seen = "",
) -> HttpResponseBase:
    """The filtered diary as a file."""
    person = who(request)
    found = in_order(_filtered(person, filters), "day", SORTS, "day")
    known = [
        Column("Day", "day"),
        Column("At", "starts"),
        Column("Kind", "kind"),
        Column("Customer", "customer"),
        Column("Deal", "deal"),
        Column("Document", "document"),
        Column("What", "text"),
        Column("Where", "where"),
        Column("Whose", "who"),
        Column("Asked by", "asked_by"),
        Column("Done at", "done_at"),
    ]
    rows = (_rows(person, part) for part in in_batches(found, shown()))
    return as_file(kind, "diary", known, rows, seen=columns)


class NextStepIn(BaseModel):
    """What comes next, by when; ``owner_id``: the colleague who is asked to do it."""

    text: Text
    due_on: Day
    owner_id: Id | None = None


class NewActivity(Schema):
    """A call, visit or note of a day, today where none is given; or a follow-up. ``about`` a document by its key
    ``record``, which says whose customer and deal it is. ``then``: what comes next."""

    kind: Kind
    text: Text
    about: Literal["quote", "order", "invoice"] | None = None
    record: Id | None = None
    deal_id: Id | None = None
    customer_id: Id | None = None
    contact_id: Id | None = None
    due_on: Day | None = None
    day: Day | None = None
    starts: Clock | None = None
    minutes: Minutes | None = None
    where: Where = ""
    visit: bool = False
    owner_id: Id | None = None
    then: NextStepIn | None = None


@router.post("/activities", response={201: ActivityOut}, operation_id="add_activity")
def new_activity(request: HttpRequest, data: NewActivity) -> Status[ActivityOut]:
    """Note or plan something, and what comes next."""
    person = who(request)
    noted = Noted(**data.model_dump(exclude={"about", "record", "then"}))
    then = Noted(kind=FOLLOW_UP, **data.then.model_dump()) if data.then else None
    at = document_at(person, data.about, data.record or 0) if data.about else None
    return Status(201, activity_out(add_activity(person, noted, then, at=at)))


@router.get(
    "/activities/{about}/{record}", response=list[ActivityOut], operation_id="list_activities_at"
)
def at_document(
    request: HttpRequest, about: Literal["quote", "order", "invoice"], record: PathId
) -> list[ActivityOut]:
    """What was noted at a document, the newest first. A constant number of queries."""
    rows = noted_at(who(request), about, record)
    return activities_out(with_people(rows)[:MOST_AT])


class FollowUpChange(Schema):
    """Done or open again, another day, somebody else's, handed back; ``word``: what is told to who asked for it."""

    version: Version
    done: bool | None = None
    due_on: Day | None = None
    starts: Clock | None = None
    owner_id: Id | None = None
    back: bool = False
    word: Word = ""


@router.patch("/activities/{activity_id}", response=ActivityOut, operation_id="change_follow_up")
def move_follow_up(request: HttpRequest, activity_id: PathId, data: FollowUpChange) -> ActivityOut:
    """Mark a follow-up done or open, move it, give it to a colleague, hand it back to who asked."""
    changes = FollowUpChanges(**data.model_dump(exclude={"version"}))
    row = change_follow_up(who(request), activity_id, data.version, changes, now=timezone.now())
    return activity_out(row)


@router.post("/told/{told_id}/seen", response={204: None}, operation_id="see_told")
def seen(request: HttpRequest, told_id: PathId) -> Status[None]:
    """One has seen what a colleague let one know."""
    see(who(request), told_id, timezone.now())
    return Status(204, None)


class EventOut(Schema):
    """An event of a calendar file; ``customer``: with whom it seems to be; ``known``: it was taken before."""

    uid: str
    text: str
    day: date
    starts: str
    minutes: int | None
    where: str
    repeats: bool
    customer_id: int | None
    customer: str
    known: bool


@router.post("/diary/calendar", response=list[EventOut], operation_id="read_calendar")
def read(request: HttpRequest, file: File[UploadedFile]) -> list[EventOut]:
    """Read the events of an iCalendar file (RFC 5545); nothing is kept of it."""
    return [
        EventOut(
            uid=each.uid,
            text=each.text,
            day=each.day,
            starts=f"{each.starts:%H:%M}" if each.starts else "",
            minutes=each.minutes,
            where=each.where,
            repeats=each.repeats,
            customer_id=each.customer.pk if each.customer else None,
            customer=each.customer.name if each.customer else "",
            known=each.known,
        )
        for each in events_in(who(request), file.name or "", file.read(MOST_BYTES + 1))
    ]


class EventIn(BaseModel):
    """An event to take, with its customer."""

    uid: Annotated[str, StringConstraints(max_length=254)] = ""
    customer_id: Id
    text: Text
    day: Day
    starts: Clock | None = None
    minutes: Minutes | None = None
    where: Where = ""


class EventsIn(Schema):
    """The events to take."""

    rows: Annotated[list[EventIn], Field(min_length=1, max_length=MOST)]


class TakenOut(Schema):
    """How many were taken; the others were there already."""

    taken: int


@router.post("/diary/events", response=TakenOut, operation_id="take_events")
def take(request: HttpRequest, data: EventsIn) -> TakenOut:
    """Take events into one's diary: all of them, or none."""
    rows = [Taken(**row.model_dump()) for row in data.rows]
    return TakenOut(taken=take_events(who(request), rows, today()))
