"""Standing orders: kept, looked ahead, answered day by day."""

from collections.abc import Iterable
from datetime import date, datetime
from typing import Annotated

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Status
from pydantic import Field, StringConstraints

from api.regulars import OntoOut
from api.repetition import RepetitionIn, RepetitionOut, repetition_out
from api.schemas import Schema
from api.shapes import Day, Id, PathId, Quantity, Version, today, who
from apps.catalogue.models import Unit
from apps.customers.addresses import address_line, kept
from apps.customers.models import Customer
from apps.orders.models import Order
from apps.people.access import owned, pick
from apps.people.models import User
from apps.standing_orders.flows import (
    HORIZON,
    MOST_LINES,
    Each,
    Wish,
    add_standing_order,
    begin_turn,
    change_standing_order,
    end_standing_order,
    leave_out,
)
from apps.standing_orders.models import StandingOrder, StandingTurn
from apps.standing_orders.queries import standing_orders_of, state_of
from routecore.casefile.words import plain
from routecore.repeat import read_rule

router = Router(tags=["standing orders"])
#: So many days are shown ahead, so many behind.
AHEAD, BEHIND = 6, 24
MOST_OF_ONE = 100


class StandingOrderLineOut(Schema):
    """So much of an item each time."""

    item_id: int
    code: str
    name: str
    quantity: str
    unit: str
    unit_name: str


class TurnOut(Schema):
    """What became of a day: ``open``, ``begun``, ``ordered``, ``left_out``."""

    on: date
    state: str
    revision_id: int | None
    quote: str
    order_id: int | None
    order: str
    reason: str
    who: str
    at: datetime


class StandingOrderOut(Schema):
    """A standing order, its next days and what became of the last ones."""

    id: int
    version: int
    customer_id: int
    customer: str
    title: str
    repetition: RepetitionOut
    begins: date
    ends: date | None
    notice_days: int
    buyer_reference: str
    delivery_address_id: int | None
    delivery_address: str
    lines: list[StandingOrderLineOut]
    next_on: date | None
    ask_on: date | None
    asks: bool
    ended: bool
    coming: list[date]
    turns: list[TurnOut]


class StandingOrderLineIn(Schema):
    """So much of an item each time, in one of its units."""

    item_id: Id
    quantity: Quantity
    unit: Annotated[str, StringConstraints(max_length=3)]


class DaysIn(Schema):
    """On which days."""

    repetition: RepetitionIn
    begins: Day
    ends: Day | None = None


class StandingOrderIn(DaysIn):
    """A standing order as it is written down."""

    title: Annotated[str, StringConstraints(max_length=80)]
    notice_days: Annotated[int, Field(ge=0, le=90)] = 7
    buyer_reference: Annotated[str, StringConstraints(max_length=60)] = ""
    delivery_address_id: Id | None = None
    lines: Annotated[list[StandingOrderLineIn], Field(max_length=MOST_LINES)]

    def as_wish(self) -> Wish:
        """The flow's value."""
        return Wish(
            title=self.title,
            repetition=self.repetition.as_repetition(),
            begins=self.begins,
            ends=self.ends,
            notice_days=self.notice_days,
            buyer_reference=self.buyer_reference,
            delivery_address_id=self.delivery_address_id,
            lines=[Each(**line.dict()) for line in self.lines],
        )


class StandingChangeIn(StandingOrderIn):
    """The same, over what was seen."""

    version: Version


class TurnIn(Schema):
    """A day, over what was seen; why nothing is wanted."""

    version: Version
    on: Day
    reason: Annotated[str, StringConstraints(max_length=200)] = ""


class SeenStandingIn(Schema):
    """Over what was seen."""

    version: Version


@router.get(
    "/customers/{customer_id}/standing-orders",
    response=list[StandingOrderOut],
    operation_id="list_standing_orders",
)
def of_customer(request: HttpRequest, customer_id: PathId) -> list[StandingOrderOut]:
    """A customer's, those that ask first. Seven queries."""
    person = who(request)
    customer = pick(Customer.objects.filter(owned(person)), customer_id, "customer")
    rows = standing_orders_of(person).filter(customer=customer)
    return _out(rows.order_by("ended_at", "next_on", "pk")[:MOST_OF_ONE])


@router.get("/standing-orders/{pk}", response=StandingOrderOut, operation_id="get_standing_order")
def one(request: HttpRequest, pk: PathId) -> StandingOrderOut:
    """One of them."""
    return _one(who(request), pk)


@router.post("/repetitions/days", response=list[date], operation_id="look_ahead")
def days(request: HttpRequest, data: DaysIn) -> list[date]:
    """The next days of a rule. Stores nothing."""
    rule, on = data.repetition.as_repetition(), today()
    first = max(data.begins, on)
    until = data.ends or first + HORIZON
    found = rule.days(data.begins, until) if until >= data.begins else ()
    return [day for day in found if day >= on][:AHEAD]


@router.post(
    "/customers/{customer_id}/standing-orders",
    response={201: StandingOrderOut},
    operation_id="add_standing_order",
)
def add(
    request: HttpRequest, customer_id: PathId, data: StandingOrderIn
) -> Status[StandingOrderOut]:
    """A new one."""
    made = add_standing_order(who(request), customer_id, data.as_wish(), today=today())
    return Status(201, _one(who(request), made.pk))


@router.put(
    "/standing-orders/{pk}", response=StandingOrderOut, operation_id="change_standing_order"
)
def change(request: HttpRequest, pk: PathId, data: StandingChangeIn) -> StandingOrderOut:
    """Another wish; 409 where somebody changed it meanwhile."""
    change_standing_order(who(request), pk, data.version, data.as_wish(), today=today())
    return _one(who(request), pk)


@router.post(
    "/standing-orders/{pk}/end", response=StandingOrderOut, operation_id="end_standing_order"
)
def end(request: HttpRequest, pk: PathId, data: SeenStandingIn) -> StandingOrderOut:
    """It asks no more."""
    end_standing_order(who(request), pk, data.version, now=timezone.now())
    return _one(who(request), pk)


@router.post(
    "/standing-orders/{pk}/turns", response={201: OntoOut}, operation_id="begin_standing_turn"
)
def begin(request: HttpRequest, pk: PathId, data: TurnIn) -> Status[OntoOut]:
    """A draft for a day."""
    made = begin_turn(who(request), pk, data.version, data.on, today=today(), now=timezone.now())
    out = OntoOut(revision_id=made.pk, number=made.quote.number, letter=made.letter)
    return Status(201, out)


@router.post(
    "/standing-orders/{pk}/leave-out",
    response=StandingOrderOut,
    operation_id="leave_out_standing_turn",
)
def skip(request: HttpRequest, pk: PathId, data: TurnIn) -> StandingOrderOut:
    """Nothing for this day."""
    leave_out(
        who(request),
        pk,
        data.version,
        data.on,
        reason=data.reason.strip(),
        today=today(),
        now=timezone.now(),
    )
    return _one(who(request), pk)


def _one(person: User, pk: int) -> StandingOrderOut:
    row = pick(standing_orders_of(person), pk, "standing_order")
    return _out(StandingOrder.objects.filter(pk=row.pk))[0]


def _out(rows: Iterable[StandingOrder]) -> list[StandingOrderOut]:
    keys = [row.pk for row in rows]
    known = (
        StandingOrder.objects.filter(pk__in=keys)
        .select_related("customer", "delivery_address")
        .prefetch_related("lines__item")
        .in_bulk()
    )
    turns = list(
        StandingTurn.objects.filter(standing_order__in=keys).select_related("quote", "answered_by")
    )
    quotes = [turn.quote_id for turn in turns if turn.quote_id]
    orders: dict[int, Order] = {
        order.revision.quote_id: order
        for order in Order.objects.filter(revision__quote__in=quotes).select_related("revision")
    }
    units = dict(Unit.objects.values_list("pk", "name"))
    return [_shown(known[key], turns, orders, units) for key in keys]


def _shown(
    row: StandingOrder, turns: list[StandingTurn], orders: dict[int, Order], units: dict[str, str]
) -> StandingOrderOut:
    own = [turn for turn in turns if turn.standing_order_id == row.pk]
    address = row.delivery_address
    return StandingOrderOut(
        id=row.pk,
        version=row.version,
        customer_id=row.customer_id,
        customer=row.customer.name,
        title=row.title,
        repetition=repetition_out(row.rule),
        begins=row.begins,
        ends=row.ends,
        notice_days=row.notice_days,
        buyer_reference=row.buyer_reference,
        delivery_address_id=row.delivery_address_id,
        delivery_address=address_line(kept(address)) if address else "",
        lines=[
            StandingOrderLineOut(
                item_id=line.item_id,
                code=line.item.code,
                name=line.item.name,
                quantity=plain(line.quantity) or "",
                unit=line.unit,
                unit_name=units.get(line.unit, line.unit),
            )
            for line in row.lines.all()
        ],
        next_on=row.next_on,
        ask_on=row.ask_on,
        asks=row.ask_on is not None and row.ask_on <= today(),
        ended=row.ended_at is not None,
        coming=_coming(row),
        turns=[_turn(turn, orders.get(turn.quote_id or 0)) for turn in own[:BEHIND]],
    )


def _coming(row: StandingOrder) -> list[date]:
    if row.next_on is None:
        return []
    until = row.ends or max(row.next_on, today()) + HORIZON
    rule = read_rule(row.rule)
    return [row.next_on, *rule.days(row.begins, until, after=row.next_on, most=AHEAD - 1)]


def _turn(turn: StandingTurn, order: Order | None) -> TurnOut:
    quote = turn.quote
    return TurnOut(
        on=turn.on,
        state=state_of(turn, order),
        revision_id=quote.revision_id if quote else None,
        quote=quote.number if quote else "",
        order_id=order.pk if order else None,
        order=order.number if order else "",
        reason=turn.reason,
        who=turn.answered_by.name,
        at=turn.answered_at,
    )
