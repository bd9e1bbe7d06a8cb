"""Framework agreements as they are worked: where each stands, its plan, its call-offs."""

from collections.abc import Sequence
from datetime import date
from typing import Annotated, Literal

from django.db.models import Q
from django.http import HttpRequest
from ninja import Query, Router, Status
from pydantic import Field

from api.agreement_rows import AgreementRow, agreement_row, told_of
from api.history import ChangeOut, changes_out
from api.regulars import OntoOut
from api.repetition import RepetitionIn
from api.schemas import Schema
from api.shapes import (
    Day,
    Id,
    Number,
    Paged,
    PathId,
    Quantity,
    paged,
    sure_money,
    today,
    who,
)
from apps.calloffs.facts import (
    AgreementFacts,
    CallOff,
    Course,
    agreements_of,
    course_of,
    facts_of,
)
from apps.calloffs.flows import MOST_PLANNED, call_off, keep_plan, propose_plan
from apps.journal.models import Change
from apps.listing import Ordered, count
from apps.people.access import pick
from apps.people.models import User
from apps.prices.models import Agreement
from routecore.agreement import Planned, PlannedState, Point
from routecore.casefile.words import plain

router = Router(tags=["agreements"])
States = Literal["", "running", "asks", "behind", "used", "over", "coming"]
#: So many call-offs are shown; the figures hold all.
SHOWN = 100


class AgreementPage(Paged):
    """One page of agreements."""

    rows: list[AgreementRow]


class PlannedOut(Schema):
    """A planned call-off and what is open of it: ``done``, ``late``, ``due``, ``coming``."""

    on: date
    quantity: str
    open: str
    state: str


class PointOut(Schema):
    """A point of a curve, in percent of the agreement's days and of what was committed."""

    time: str
    percent: str


class CallOffOut(Schema):
    """An order against it, in the agreement's unit; ``amount`` net."""

    order_id: int
    order: str
    on: date
    quote: str
    revision_id: int
    quantity: str
    delivered: str
    invoiced: str
    amount: str
    cancelled: bool


class CourseOut(Schema):
    """Sums and curves over all that was ordered against it; the newest of these orders."""

    delivered: str
    invoiced: str
    planned: list[PointOut]
    called: list[PointOut]
    left: list[PointOut]
    count: int
    rows: list[CallOffOut]


class AgreementWhole(AgreementRow):
    """One agreement with all that became of it."""

    plan_version: int
    notice_days: int
    plan: list[PlannedOut]
    course: CourseOut
    changes: list[ChangeOut]


class AgreementFilters(Schema):
    """Which: by state, by words of customer, item or number."""

    state: States = ""
    search: Annotated[str, Field(max_length=60)] = ""
    page: Annotated[int, Field(ge=1, le=100_000)] = 1


@router.get("/agreements", response=AgreementPage, operation_id="list_agreements")
def listed(request: HttpRequest, filters: Query[AgreementFilters]) -> AgreementPage:
    """Agreements, those that end first before. Seven queries."""
    on = today()
    rows = agreements_of(who(request)).filter(_asked(filters.state, on))
    for word in filters.search.split()[:5]:
        rows = rows.filter(
            Q(number__icontains=word)
            | Q(customer__name__icontains=word)
            | Q(item__name__icontains=word)
            | Q(item__code__icontains=word)
        )
    order = ("-valid_to", "pk") if filters.state in ("used", "over") else ("valid_to", "pk")
    span, facts = paged(count(Ordered(rows, order)), filters.page)
    shown = list(rows.order_by(*order)[span])
    known = facts_of(shown, on)
    return AgreementPage(rows=[agreement_row(known[row.pk]) for row in shown], **facts)


def _asked(state: str, on: date) -> Q:
    """Without a word: those whose days are not over."""
    runs = Q(valid_from__lte=on, valid_to__gte=on)
    return {
        "": Q(valid_to__gte=on),
        "running": runs,
        "asks": runs & Q(day__tell_on__lte=on),
        "behind": runs & Q(day__misses=True),
        "used": Q(day__state="used"),
        "over": Q(valid_to__lt=on),
        "coming": Q(valid_from__gt=on),
    }[state]


@router.get("/agreements/{pk}", response=AgreementWhole, operation_id="get_agreement")
def one(request: HttpRequest, pk: PathId) -> AgreementWhole:
    """One agreement, its plan, its course, every order against it."""
    return _whole(who(request), pk)


class PlannedIn(Schema):
    """So much by a day; in the agreement's unit, or its currency."""

    on: Day
    quantity: Quantity


class CallOffPlanIn(Schema):
    """The planned call-offs, in the place of those that were seen (0: none were)."""

    version: Annotated[int, Field(ge=0, le=2_000_000_000)]
    notice_days: Annotated[int, Field(ge=0, le=90)] = 7
    rows: Annotated[list[PlannedIn], Field(max_length=MOST_PLANNED)]


@router.put("/agreements/{pk}/plan", response=AgreementWhole, operation_id="keep_call_off_plan")
def keep(request: HttpRequest, pk: PathId, data: CallOffPlanIn) -> AgreementWhole:
    """Keep a plan; 409 where somebody kept one meanwhile."""
    rows = [Planned(on=row.on, quantity=row.quantity) for row in data.rows]
    keep_plan(who(request), pk, data.version, notice_days=data.notice_days, rows=rows)
    return _whole(who(request), pk)


class SpreadIn(Schema):
    """On which days."""

    repetition: RepetitionIn


@router.post(
    "/agreements/{pk}/plan/proposed",
    response=list[PlannedOut],
    operation_id="propose_call_off_plan",
)
def propose(request: HttpRequest, pk: PathId, data: SpreadIn) -> list[PlannedOut]:
    """What is left, evenly over the days to come. Stores nothing."""
    row = pick(agreements_of(who(request)).select_related("item"), pk, "agreement")
    rows = propose_plan(row, data.repetition.as_repetition(), today=today())
    return [
        PlannedOut(
            on=each.on,
            quantity=plain(each.quantity) or "",
            open=plain(each.quantity) or "",
            state="coming",
        )
        for each in rows
    ]


class CallOffIn(Schema):
    """How much (without a word all that is due, else all that is left), wanted by when, for whom of the group."""

    quantity: Annotated[Number, Field(gt=0, lt=10**9, max_digits=15, decimal_places=6)] | None = (
        None
    )
    on: Day | None = None
    customer_id: Id | None = None


@router.post("/agreements/{pk}/call-off", response={201: OntoOut}, operation_id="call_off")
def call(request: HttpRequest, pk: PathId, data: CallOffIn) -> Status[OntoOut]:
    """A draft with what is called off."""
    made = call_off(
        who(request),
        pk,
        quantity=data.quantity,
        on=data.on,
        customer_id=data.customer_id,
        today=today(),
    )
    out = OntoOut(revision_id=made.pk, number=made.quote.number, letter=made.letter)
    return Status(201, out)


def _whole(person: User, pk: int) -> AgreementWhole:
    row = pick(agreements_of(person), pk, "agreement")
    facts = facts_of([row], today())[row.pk]
    return AgreementWhole(
        **agreement_row(facts).dict(),
        plan_version=facts.plan_version,
        notice_days=facts.notice_days,
        plan=[_planned(each, facts) for each in facts.plan],
        course=_course(course_of(facts), row),
        changes=changes_out(Change.objects.filter(what="agreement", record=row.pk)),
    )


def _course(course: Course, row: Agreement) -> CourseOut:
    return CourseOut(
        delivered=plain(course.delivered) or "",
        invoiced=plain(course.invoiced) or "",
        planned=_points(course.planned_curve),
        called=_points(course.called_curve),
        left=_points(course.delivered_curve),
        count=len(course.rows),
        rows=[_call_off(each, row) for each in course.rows[:SHOWN]],
    )


def _points(points: Sequence[Point]) -> list[PointOut]:
    return [
        PointOut(time=plain(each.time_percent) or "", percent=plain(each.percent) or "")
        for each in points
    ]


def _planned(row: PlannedState, facts: AgreementFacts) -> PlannedOut:
    return PlannedOut(
        on=row.on,
        quantity=told_of(facts, row.quantity),
        open=told_of(facts, row.open),
        state=row.state,
    )


def _call_off(each: CallOff, row: Agreement) -> CallOffOut:
    order, revision = each.line.order, each.line.quote_line.revision
    return CallOffOut(
        order_id=order.pk,
        order=order.number,
        on=order.accepted_on,
        quote=f"{revision.quote.number} {revision.letter}",
        revision_id=revision.pk,
        quantity=plain(each.quantity) or "",
        delivered=plain(each.delivered) or "",
        invoiced=plain(each.invoiced) or "",
        amount=sure_money(each.amount, row.currency),
        cancelled=order.cancelled_at is not None,
    )
