"""Deals: the list, the Timetable, one deal and its activities."""

from collections.abc import Mapping
from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Any, Literal

from django.conf import settings
from django.db.models import Max, QuerySet
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.utils import timezone
from ninja import Query, Router, Status
from pydantic import Field, StringConstraints

from api.diary import ActivityOut, activities_out
from api.export import Column, Seen, as_file
from api.routes import RouteStop, route_out
from api.schemas import Schema
from api.shapes import (
    Amount,
    Confidence,
    Day,
    Id,
    Line,
    Mail,
    Outcome,
    Paged,
    PathId,
    Percent,
    QuoteState,
    Sort,
    Text,
    Version,
    Words,
    paged,
    sure_money,
    today,
    who,
)
from api.standing import StandingOut, standing_now
from apps.catalogue.queries import unit_names
from apps.customers.models import Customer
from apps.deals.flows import add_deal, change_deal
from apps.deals.models import OPEN, Deal, DealQuerySet, Reason, Stage
from apps.deals.queries import (
    SORTS,
    by_confidence,
    deals_of,
    filter_deals,
    helped_by,
    joined,
    of_many,
    seen_deals,
    shown,
    weighted,
)
from apps.diary.models import FOLLOW_UP
from apps.diary.queries import with_people
from apps.diary.stale import looked_after, stale, why_stale
from apps.forecast.learning import experience, learnt_of
from apps.listing import count, in_batches, in_order, sorts_for
from apps.people.access import owns, pick
from apps.people.models import User
from apps.quotes.flows.choosing import choose_quote
from apps.quotes.models import Quote, Revision
from apps.quotes.queries import quote_state
from apps.route.queries import route_of_deal
from routecore.casefile.words import plain
from routecore.forecast import Cell, weigh

router = Router(tags=["deals"])
Month = Annotated[str, StringConstraints(pattern=r"^(overdue|20[0-9]{2}-(0[1-9]|1[0-2]))?$")]
ConfidenceIn = Literal["sure", "likely", "stretch"]


class StageOut(Schema):
    """A stage, its default probability, whether it is open, won, lost or parked, and what it asks of its deals; a
    retired one is entered no more."""

    id: int
    code: str
    name: str
    probability_percent: str
    outcome: Outcome
    asks: str
    retired: bool


class ClosingReason(Schema):
    """Why deals are won, lost or parked."""

    id: int
    outcome: Outcome
    name: str
    retired: bool


class DealRow(Schema):
    """A deal in a list; ``weighted`` is amount times probability. ``stale``: ``no_step`` where nothing is planned,
    ``quiet`` where nothing was done for long."""

    id: int
    title: str
    customer_id: int
    customer: str
    stage: str
    stage_name: str
    outcome: Outcome
    owner: str
    owner_id: int
    amount: str
    quoted: bool
    probability: str
    weighted: str
    decision_on: date
    overdue: bool
    confidence: Confidence
    stale: list[str]
    version: int


class DealSums(Schema):
    """Sums over all that the filter lets through, open deals for the weighted ones."""

    amount: str
    weighted: str
    by_confidence: dict[str, str]


class DealPage(Paged):
    """One page of deals with the sums of the whole filter, if it is counted."""

    rows: list[DealRow]
    sums: DealSums | None


class DealFilters(Schema):
    """What narrows a list of deals; ``helped``: of others, in whose team one is, instead of one's own."""

    state: Literal["", "open", "closed", "won"] = "open"
    stage: Annotated[str, StringConstraints(max_length=12)] = ""
    month: Month = ""
    owner: Id | None = None
    team: Id | None = None
    confidence: Literal["", "sure", "likely", "stretch"] = ""
    customer: Id | None = None
    family: bool = False
    words: Words = ""
    least: Amount | None = None
    since: Day | None = None
    until: Day | None = None
    stale: bool = False
    helped: bool = False
    sort: Sort = "decision"
    page: Annotated[int, Field(ge=1, le=100_000)] = 1


STALE_IN_WORDS = {"no_step": "no next step", "quiet": "nothing done for long"}


def deals_shown() -> QuerySet[Any]:
    """Deals as a list shows them."""
    return looked_after(shown())


def many_shown() -> QuerySet[Any]:
    """As ``deals_shown``, of thousands: each stage and each owner is read once, not with every deal."""
    return looked_after(of_many())


def deal_row(deal: Any, on: date) -> DealRow:
    """A deal as a row, read by ``deals_shown``."""
    base = settings.BASE_CURRENCY
    amount, probability = deal.amount, deal.probability
    is_open = deal.stage.outcome == OPEN
    return DealRow(
        id=deal.pk,
        title=deal.title,
        customer_id=deal.customer_id,
        customer=deal.customer_name,
        stage=deal.stage.code,
        stage_name=deal.stage.name,
        outcome=deal.stage.outcome,
        owner=deal.owner.name,
        owner_id=deal.owner_id,
        amount=sure_money(amount, base),
        quoted=deal.quoted_amount is not None,
        probability=plain(probability) or "0",
        weighted=sure_money(weigh(amount, probability, base), base),
        decision_on=deal.decision_on,
        overdue=is_open and deal.decision_on < on,
        confidence=deal.confidence,
        stale=why_stale(deal, timezone.now()),
        version=deal.version,
    )


def filtered(person: User, filters: DealFilters, on: date) -> DealQuerySet:
    """The deals of a list; stale ones by what was done and is planned."""
    given = filters.model_dump(exclude={"sort", "page", "stale", "helped"})
    mine = helped_by(person) if filters.helped else deals_of(person)
    rows = filter_deals(mine, today=on, **given)
    return stale(rows, timezone.now()) if filters.stale else rows


@router.get("/stages", response=list[StageOut], operation_id="list_stages")
def stages(request: HttpRequest) -> list[StageOut]:
    """The pipeline's stages, in order."""
    return [
        StageOut(
            id=row.pk,
            code=row.code,
            name=row.name,
            probability_percent=plain(row.probability_percent) or "0",
            outcome=row.outcome,
            asks=row.asks,
            retired=row.retired,
        )
        for row in Stage.objects.all()
    ]


@router.get("/reasons", response=list[ClosingReason], operation_id="list_reasons")
def reasons(request: HttpRequest) -> list[ClosingReason]:
    """Why deals are closed, in order."""
    return [ClosingReason.from_orm(row) for row in Reason.objects.all()]


@router.get("/deals", response=DealPage, operation_id="list_deals")
def deals(request: HttpRequest, filters: Query[DealFilters]) -> DealPage:
    """A page of deals. Three queries."""
    on = today()
    person = who(request)
    rows = filtered(person, filters, on)
    ordered = in_order(rows, filters.sort, sorts_for(person, SORTS), "decision")
    found = count(ordered, "confidence", "amount", weighted())
    span, facts = paged(found, filters.page)
    return DealPage(
        rows=[deal_row(deal, on) for deal in found.page(span, deals_shown())],
        sums=None if found.more else deal_sums(by_confidence(found.values)),
        **facts,
    )


def deal_sums(cells: Mapping[str, Cell]) -> DealSums:
    """Sums by confidence."""
    base, whole = settings.BASE_CURRENCY, joined(cells.values())
    return DealSums(
        amount=sure_money(whole.amount, base),
        weighted=sure_money(whole.weighted, base),
        by_confidence={name: sure_money(cell.amount, base) for name, cell in cells.items()},
    )


@router.get("/deals.{kind}", operation_id="export_deals")
def export(
    request: HttpRequest,
    kind: Literal["csv", "xlsx"],
    filters: Query[DealFilters],
    columns: Seen = "",
) -> HttpResponseBase:
    """The filtered deals as a file, in the list's order and columns."""
    on = today()
    person = who(request)
    sorts = sorts_for(person, SORTS)
    found = in_order(filtered(person, filters, on), filters.sort, sorts, "decision")
    known = [
        Column("Customer", "customer"),
        Column("Deal", "title"),
        Column("Stage", "stage_name"),
        Column(f"Amount {settings.BASE_CURRENCY}", "amount", number=True),
        Column("Probability %", "probability", number=True),
        Column(f"Weighted {settings.BASE_CURRENCY}", "weighted", number=True),
        Column("Decision", "decision_on"),
        Column("Confidence", "confidence"),
        Column("Looked after", "stale", words=STALE_IN_WORDS),
        Column("Rep", "owner"),
    ]
    rows = ([deal_row(deal, on) for deal in part] for part in in_batches(found, deals_shown()))
    return as_file(kind, "deals", known, rows, seen=columns)


class ContactOut(Schema):
    """A person at a customer."""

    id: int
    name: str
    role: str
    email: str
    phone: str
    version: int


def contacts_out(customer: Customer, chosen: int | None = None) -> list[ContactOut]:
    """The people at a customer; whoever has gone only where a document has chosen them. One query."""
    return [
        ContactOut.from_orm(row)
        for row in customer.contacts.all()
        if row.retired_at is None or row.pk == chosen
    ]


class DealQuote(Schema):
    """A quote of the deal, by its newest revision. ``current``: the deal's amount follows it; ``issued``: it can."""

    quote_id: int
    current: bool
    issued: bool
    revision_id: int
    number: str
    letter: str
    state: QuoteState
    currency: str
    payable: str
    valid_until: date


class NextStep(Schema):
    """The follow-up that is due first."""

    text: str
    due_on: date
    who: str


class LearntOut(Schema):
    """What became of earlier deals that stood in the same stage: the probability that they teach, of how many, told
    apart by what (rep, size); ``thin``: by fewer than it takes to say much of its own."""

    percent: str
    won: int
    decided: int
    by: list[str]
    thin: bool


class InterestOut(Schema):
    """An item that the deal may be about: its net in the base currency, as it was priced on a day."""

    item_id: int
    code: str
    name: str
    quantity: str
    unit: str
    unit_name: str
    net: str
    priced_on: date


class HelperOut(Schema):
    """Somebody of a deal's team, and what they do."""

    person_id: int
    name: str
    part: str


class DealOut(DealRow):
    """A deal with all that belongs to it. ``yours``: it may be changed; by its team it is read, without its customer's
    standing."""

    yours: bool
    team: list[HelperOut]

    estimate: str
    needs: str
    rivals: str
    reason_id: int | None
    reason_note: str
    lost_to: str
    lacks: list[str]
    interest: list[InterestOut]
    next_step: NextStep | None
    learnt: LearntOut | None
    own_probability: str | None
    stage_probability: str
    probability_reason: str
    contact: ContactOut | None
    contacts: list[ContactOut]
    activities: list[ActivityOut]
    quotes: list[DealQuote]
    standing: StandingOut | None
    route: list[RouteStop]
    created_at: datetime


@router.get("/deals/{deal_id}", response=DealOut, operation_id="get_deal")
def deal(request: HttpRequest, deal_id: PathId) -> DealOut:
    """One deal."""
    return deal_out(who(request), deal_id)


def deal_out(person: User, deal_id: int) -> DealOut:
    """A deal as its sheet shows it; a constant number of queries."""
    on = today()
    known = seen_deals(person).select_related("stage", "owner", "customer", "contact", "reason")
    rows = looked_after(known)
    row = pick(rows, deal_id, "deal")
    yours = owns(person, row.owner_id)
    contacts = contacts_out(row.customer, row.contact_id)
    quotes = list(Quote.objects.filter(deal=row).order_by("-pk"))
    issued = _issued(quotes)
    chosen = next((quote.pk for quote in quotes if quote.chosen), None)
    current = chosen or max(issued, key=lambda key: issued[key], default=None)
    return DealOut(
        **deal_row(row, on).model_dump(),
        yours=yours,
        team=_team(row),
        estimate=sure_money(row.estimate, settings.BASE_CURRENCY),
        needs=row.needs,
        rivals=row.rivals,
        reason_id=row.reason_id,
        reason_note=row.reason_note,
        lost_to=row.lost_to,
        lacks=[row.lacks] if row.lacks else [],
        interest=_interest(row),
        next_step=_next_step(row),
        learnt=_learnt(row),
        own_probability=plain(row.own_probability_percent),
        stage_probability=plain(row.stage.probability_percent) or "0",
        probability_reason=row.probability_reason,
        contact=ContactOut.from_orm(row.contact) if row.contact else None,
        contacts=contacts,
        activities=activities_out(with_people(row.activities.all())[:200], leads=yours),
        quotes=[
            _deal_quote(quote, on, current=quote.pk == current, issued=quote.pk in issued)
            for quote in quotes
        ],
        standing=standing_now(row.customer, on) if yours else None,
        route=route_out(route_of_deal(row)) if yours else [],
        created_at=row.created_at,
    )


def _team(row: Deal) -> list[HelperOut]:
    return [
        HelperOut(person_id=each.person_id, name=each.person.name, part=each.part)
        for each in row.helpers.select_related("person")
    ]


def _issued(quotes: list[Quote]) -> dict[int, datetime]:
    """By quote, when it was issued last."""
    rows = Revision.objects.filter(quote__in=quotes, issued_at__isnull=False).order_by()
    return dict(rows.values_list("quote").annotate(Max("issued_at")))


def _interest(row: Deal) -> list[InterestOut]:
    wanted = list(row.interests.select_related("item"))
    names = unit_names() if wanted else {}
    return [
        InterestOut(
            item_id=each.item_id,
            code=each.item.code,
            name=each.item.name,
            quantity=plain(each.quantity) or "0",
            unit=each.unit,
            unit_name=names.get(each.unit, each.unit),
            net=sure_money(each.net, settings.BASE_CURRENCY),
            priced_on=each.priced_on,
        )
        for each in wanted
    ]


def _next_step(deal: Deal) -> NextStep | None:
    open_ = deal.activities.filter(kind=FOLLOW_UP, done_at=None).select_related("owner")
    first = open_.order_by("due_on", "pk").first()
    if first is None or first.due_on is None:
        return None
    return NextStep(text=first.text, due_on=first.due_on, who=first.owner.name)


def _learnt(deal: Deal) -> LearntOut | None:
    """Of an open deal alone."""
    if deal.stage.outcome != OPEN:
        return None
    told = learnt_of(experience(timezone.now()), deal)
    if told is None:
        return None
    return LearntOut(
        percent=plain(told.percent, 1) or "0",
        won=told.won,
        decided=told.decided,
        by=list(told.by),
        thin=told.thin,
    )


def _deal_quote(quote: Quote, on: date, *, current: bool, issued: bool) -> DealQuote:
    return DealQuote(
        quote_id=quote.pk,
        current=current,
        issued=issued,
        revision_id=quote.revision_id or 0,
        number=quote.number,
        letter=quote.letter,
        state=quote_state(quote, on),
        currency=quote.currency,
        payable=sure_money(quote.payable, quote.currency),
        valid_until=quote.valid_until or on,
    )


class NewDeal(Schema):
    """A new deal; customer and contact by id, or new by name."""

    title: Line
    decision_on: Day
    customer_id: Id | None = None
    new_customer: Line = ""
    contact_id: Id | None = None
    new_contact: Annotated[str, StringConstraints(max_length=80)] = ""
    contact_email: Mail = ""
    contact_phone: Annotated[str, StringConstraints(max_length=40)] = ""
    estimate: Amount = Decimal(0)
    stage: Annotated[str, StringConstraints(max_length=12)] = ""
    confidence: ConfidenceIn = "likely"
    owner_id: Id | None = None


@router.post("/deals", response={201: DealOut}, operation_id="add_deal")
def new_deal(request: HttpRequest, data: NewDeal) -> Status[DealOut]:
    """Make a deal."""
    made = add_deal(who(request), today=today(), **data.model_dump())
    return Status(201, deal_out(who(request), made.pk))


class DealChange(Schema):
    """Only the fields that are given change."""

    version: Version
    title: Line | None = None
    stage: Annotated[str, StringConstraints(max_length=12)] | None = None
    decision_on: Day | None = None
    estimate: Amount | None = None
    probability: Percent | None = None
    probability_reason: Annotated[str, StringConstraints(max_length=200)] | None = None
    confidence: ConfidenceIn | None = None
    contact_id: Id | None = None
    owner_id: Id | None = None
    needs: Text | None = None
    rivals: Annotated[str, StringConstraints(max_length=200)] | None = None
    reason_id: Id | None = None
    reason_note: Annotated[str, StringConstraints(max_length=200)] | None = None
    lost_to: Annotated[str, StringConstraints(max_length=80)] | None = None


@router.patch("/deals/{deal_id}", response=DealOut, operation_id="change_deal")
def change(request: HttpRequest, deal_id: PathId, data: DealChange) -> DealOut:
    """Change a deal; 409 where somebody changed it meanwhile."""
    given = data.model_dump(exclude_unset=True)
    version = given.pop("version")
    clearable = ("probability", "contact_id", "reason_id")
    changes = {k: v for k, v in given.items() if v is not None or k in clearable}
    change_deal(who(request), deal_id, version, now=timezone.now(), **changes)
    return deal_out(who(request), deal_id)


class CurrentQuote(Schema):
    """The quote that the deal's amount is to follow."""

    version: Version
    quote_id: Id


@router.post("/deals/{deal_id}/current-quote", response=DealOut, operation_id="choose_quote")
def current_quote(request: HttpRequest, deal_id: PathId, data: CurrentQuote) -> DealOut:
    """Choose which of its quotes a deal follows."""
    choose_quote(who(request), deal_id, data.version, data.quote_id)
    return deal_out(who(request), deal_id)
