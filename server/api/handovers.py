"""Handovers as the back office and the lead work them: where they are, what was sent, what came back; and both sides compared."""

from datetime import date, datetime
from typing import Annotated, Any, Literal

from django.db.models import QuerySet
from django.http import HttpRequest
from django.utils import timezone
from ninja import Query, Router, Status
from pydantic import Field

from api.orders import OrderOut, order_out
from api.schemas import Schema
from api.shapes import Day, Paged, PathId, Quantity, paged, sure_money, today, who
from apps.handover.by_itself import stop_self_handover
from apps.handover.comparing import ask_comparison
from apps.handover.models import BackOfficeEvent, Comparison, Difference, Handover
from apps.handover.requests import ask_for_goods
from apps.listing import Ordered, count
from apps.orders.outlook import promise_new_day
from apps.people.access import pick, read_for_fulfilment
from apps.people.models import User

router = Router(tags=["handovers"])
States = Literal["", "waiting", "under_way", "refused", "held", "taken"]
#: Without a state: what is not simply done.
OPEN = ("waiting", "under_way", "refused", "held")


class HandoverRow(Schema):
    """An order's passage."""

    id: int
    version: int
    order_id: int
    order: str
    customer: str
    owner: str
    state: str
    tries: int
    next_try_at: datetime
    cause: str
    backoffice_number: str
    since: datetime
    payable: str
    currency: str


class HandoverPage(Paged):
    """One page; ``states`` is how many stand where."""

    rows: list[HandoverRow]
    states: dict[str, int]


class HandoverFilters(Schema):
    """Where they stand; without a word all that are not simply taken."""

    state: States = ""
    page: Annotated[int, Field(ge=1, le=100_000)] = 1


def _seen_by(person: User) -> QuerySet[Handover]:
    return Handover.objects.filter(read_for_fulfilment(person, "order__owner"))


@router.get("/handovers", response=HandoverPage, operation_id="list_handovers")
def handovers(request: HttpRequest, filters: Query[HandoverFilters]) -> HandoverPage:
    """Handovers, what came first before. Seven queries."""
    mine = _seen_by(who(request))
    states = {state: mine.filter(state=state).count() for state in OPEN}
    rows = mine.filter(state__in=[filters.state] if filters.state else OPEN)
    order = ("-pk",) if filters.state == "taken" else ("next_try_at", "pk")
    span, facts = paged(count(Ordered(rows, order)), filters.page)
    shown = rows.select_related("order__owner").defer("payload").order_by(*order)[span]
    return HandoverPage(rows=[_row(row) for row in shown], states=states, **facts)


def _row(row: Handover) -> HandoverRow:
    order = row.order
    return HandoverRow(
        id=row.pk,
        version=row.version,
        order_id=order.pk,
        order=order.number,
        customer=order.customer_name,
        owner=order.owner.name,
        state=row.state,
        tries=row.tries,
        next_try_at=row.next_try_at,
        cause=row.last_error,
        backoffice_number=row.backoffice_number,
        since=row.created_at,
        payable=sure_money(order.payable, order.currency),
        currency=order.currency,
    )


class CameOut(Schema):
    """An event of the order, as it came."""

    kind: str
    state: str
    at: datetime | None
    received_at: datetime
    raw: str


class HandoverDetail(HandoverRow):
    """What was sent, under which key, and what came back."""

    key: str
    sent: dict[str, Any]
    came: list[CameOut]


MOST_EVENTS = 50


@router.get("/handovers/{handover_id}", response=HandoverDetail, operation_id="get_handover")
def one(request: HttpRequest, handover_id: PathId) -> HandoverDetail:
    """One handover with all that went over the wire. Two queries."""
    row = pick(_seen_by(who(request)).select_related("order__owner"), handover_id, "handover")
    events = BackOfficeEvent.objects.filter(key=row.key).order_by("occurred_at", "pk")
    return HandoverDetail(
        **_row(row).model_dump(),
        key=str(row.key),
        sent=row.payload,
        came=[
            CameOut(
                kind=each.kind,
                state=each.state,
                at=each.occurred_at,
                received_at=each.received_at,
                raw=each.raw,
            )
            for each in events[:MOST_EVENTS]
        ],
    )


class SidesDiffer(Schema):
    """One thing in which both sides differ."""

    order_id: int | None
    order: str
    line: int | None
    what: str
    ours: str
    theirs: str


class DayCompared(Schema):
    """Orders of a day of acceptance: what they come to on both sides."""

    day: date
    currency: str
    orders: int
    ours: str
    theirs: str
    differing: int


class BothSides(Schema):
    """A comparison; ``percent`` how far it is. ``waits``: news of the back office is read first."""

    id: int
    asked_at: datetime
    by: str
    finished_at: datetime | None
    percent: int
    orders: int
    problem: str
    days: list[DayCompared]
    differences: list[SidesDiffer]


class BothSidesNow(Schema):
    """The newest comparison, and the one that is under way."""

    last: BothSides | None
    under_way: BothSides | None


@router.get("/comparisons", response=BothSidesNow, operation_id="get_comparisons")
def comparisons(request: HttpRequest) -> BothSidesNow:
    """How both sides compare: at the last time, and now. Four queries."""
    person = who(request)
    rows = Comparison.objects.select_related("asked_by")
    done = rows.exclude(finished_at=None).first()
    going = rows.filter(finished_at=None).first()
    return BothSidesNow(
        last=_comparison(done, person) if done else None,
        under_way=_comparison(going, person) if going else None,
    )


def _comparison(row: Comparison, person: User) -> BothSides:
    seen = Difference.objects.filter(comparison=row)
    if person.role == "lead":
        seen = seen.filter(order__in=_seen_by(person).values("order"))
    return BothSides(
        id=row.pk,
        asked_at=row.asked_at,
        by=row.asked_by.name if row.asked_by else "",
        finished_at=row.finished_at,
        percent=100 if row.finished_at else min(99, row.position * 100 // max(row.last, 1)),
        orders=row.orders,
        problem=row.problem,
        days=[DayCompared(**each) for each in row.days] if person.role != "lead" else [],
        differences=[
            SidesDiffer(
                order_id=each.order_id,
                order=each.order_number,
                line=each.line,
                what=each.what,
                ours=each.ours,
                theirs=each.theirs,
            )
            for each in seen
        ],
    )


@router.post("/comparisons", response={202: BothSidesNow}, operation_id="compare_orders")
def compare(request: HttpRequest) -> Status[BothSidesNow]:
    """Have both sides compared."""
    ask_comparison(who(request), timezone.now())
    return Status(202, comparisons(request))


@router.post("/orders/{order_id}/stop", response=OrderOut, operation_id="stop_self_handover")
def stop(request: HttpRequest, order_id: PathId) -> OrderOut:
    """The order does not hand itself over."""
    stop_self_handover(who(request), order_id, now=timezone.now())
    return order_out(who(request), order_id)


class GoodsIn(Schema):
    """How much is asked for, in the item's base unit (what is short, where nothing is said), and by when."""

    quantity: Quantity | None = None
    wanted_on: Day | None = None


@router.post("/order-lines/{line_id}/goods", response=OrderOut, operation_id="ask_for_goods")
def goods(request: HttpRequest, line_id: PathId, data: GoodsIn) -> OrderOut:
    """Ask the back office for what a line is short of."""
    row = ask_for_goods(
        who(request),
        line_id,
        quantity=data.quantity,
        wanted_on=data.wanted_on,
        today=today(),
        now=timezone.now(),
    )
    return order_out(who(request), row.order_line.order_id)


@router.post("/order-lines/{line_id}/new-day", response=OrderOut, operation_id="promise_new_day")
def new_day(request: HttpRequest, line_id: PathId) -> OrderOut:
    """The day that the newest figures say is the promised one: the buyer knows."""
    order = promise_new_day(who(request), line_id, now=timezone.now())
    return order_out(who(request), order.pk)
