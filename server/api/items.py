"""An item by date: what lies, comes and is promised of it, who holds what; and giving a promise to another."""

from collections.abc import Mapping, Set
from datetime import date
from decimal import Decimal
from typing import Annotated

from django.http import HttpRequest
from django.utils import timezone
from ninja import Query, Router
from pydantic import StringConstraints

from api.catalogue import ItemOut, item_out
from api.schemas import Schema
from api.shapes import Id, PathId, today, who
from apps.catalogue.models import Item
from apps.catalogue.queries import items_shown, unit_names
from apps.handover.moving import Move, Moving, move, moves_of
from apps.orders.holders import OURS, Holder, holders_of
from apps.people.access import pick
from apps.stock.calendars import workdays
from apps.stock.plans import Plan, depots, plans_of
from apps.words import said
from routecore import promise
from routecore.casefile.words import plain

router = Router(tags=["promises"])


class RiderOut(Schema):
    """Who has a part of what is there or comes; the order is named to those who may see it.

    ``line`` is what to call it where its promise is moved; empty for one that is not this person's to move.
    """

    line: str
    name: str
    order_id: int | None
    order: str
    quantity: str
    by: date


class DepartureOut(Schema):
    """A day on which goods are there: on hand today, or a receipt; what is free of it and by then."""

    on: date
    receipt: str
    sure: bool
    quantity: str
    riders: list[RiderOut]
    free: str
    by_then: str


class OverdueOut(Schema):
    """A receipt whose day has gone by."""

    number: str
    on: date
    quantity: str


class DepotPlan(Schema):
    """An item in a depot, by date; quantities in its base unit."""

    depot_id: int
    depot: str
    on_hand: str
    promised: str
    coming: str
    lead_days: int | None
    again: date | None
    minimum: str | None
    minutes: int
    departures: list[DepartureOut]
    overdue: list[OverdueOut]


class SubstituteOut(Schema):
    """An item that can take its place."""

    id: int
    code: str
    name: str


class ItemPlan(Schema):
    """An item, and what can be promised of it, depot by depot; ``unit`` is the word for its base unit."""

    item: ItemOut
    unit: str
    plans: list[DepotPlan]
    substitutes: list[SubstituteOut]


@router.get("/items/{item_id}/promise", response=ItemPlan, operation_id="item_promise")
def of_item(request: HttpRequest, item_id: PathId) -> ItemPlan:
    """What lies, comes and is promised of an item, by date. A constant number of queries."""
    person, names = who(request), unit_names()
    item = pick(items_shown(), item_id, "item")
    plans = plans_of([item.pk], depots())
    riders = holders_of(person, plans.values())
    return ItemPlan(
        item=item_out(item, names),
        unit=names[item.base_unit_id],
        plans=[_plan(row, riders) for row in plans.values()],
        substitutes=[
            SubstituteOut(id=row.instead_id, code=row.instead.code, name=row.instead.name)
            for row in item.substitutes.select_related("instead")
        ],
    )


Riders = Mapping[str, Holder]


def _plan(row: Plan, riders: Riders) -> DepotPlan:
    on, stock = today(), row.stock
    depot = row.depot
    calendar = workdays(depot.country, depot.region, on)
    rules = promise.Rules(calendar=calendar, lead_days=row.lead_days)
    coming = stock.coming(on)
    return DepotPlan(
        depot_id=depot.pk,
        depot=depot.name,
        on_hand=plain(stock.on_hand) or "0",
        promised=plain(stock.committed) or "0",
        coming=plain(sum((each.quantity for each in coming), Decimal(0))) or "0",
        lead_days=row.lead_days,
        again=rules.replenished(on),
        minimum=plain(row.minimum),
        minutes=int((timezone.now() - row.told_at).total_seconds() // 60),
        departures=_departures(row, riders, on),
        overdue=[
            OverdueOut(
                number=row.receipt_numbers.get(each.on, ""),
                on=each.on,
                quantity=plain(each.quantity) or "0",
            )
            for each in stock.receipts
            if each.on < on
        ],
    )


def _departures(row: Plan, riders: Riders, on: date) -> list[DepartureOut]:
    by_period = promise.riders_of(row.stock, on)
    ours = {line for lines in row.kept_for.values() for line in lines}
    return [
        DepartureOut(
            on=period.start,
            receipt=row.receipt_numbers.get(period.start, ""),
            sure=period.sure,
            quantity=plain(period.received) or "0",
            riders=[_rider(each, riders, ours) for each in held],
            free=plain(period.free) or "0",
            by_then=plain(period.by_then) or "0",
        )
        for period, held in zip(promise.periods_of(row.stock, on), by_period, strict=True)
    ]


def _rider(row: promise.Commitment, riders: Riders, kept: Set[str]) -> RiderOut:
    """``kept`` are those that the back office keeps for orders of ours."""
    holder = riders.get(row.line)
    ours = row.line in kept or row.line.startswith(OURS)
    return RiderOut(
        line=row.line if holder else "",
        name=holder.customer if holder else "" if ours else row.line,
        order_id=holder.order if holder else None,
        order=holder.number if holder else "",
        quantity=plain(row.quantity) or "0",
        by=row.by,
    )


Line = Annotated[str, StringConstraints(min_length=1, max_length=40)]


class MoveAsked(Schema):
    """Which promise gives its place to which, in a depot."""

    depot_id: Id
    giver: Line
    taker: Line


class MovedPromise(Schema):
    """A promise whose day moves: its day before and after, None for never; late where it is after ``by``."""

    name: str
    order_id: int | None
    order: str
    quantity: str
    by: date
    before: date | None
    after: date | None
    late: bool


class MoveOut(Schema):
    """What would move. ``mark`` is to be sent back with the move; ``refused`` why it cannot be made, if so."""

    mark: str
    rows: list[MovedPromise]
    refused: str


class MoveIn(MoveAsked):
    """The move as it was seen."""

    mark: Annotated[str, StringConstraints(min_length=1, max_length=64)]


class MoveDone(Schema):
    """Whether the back office was asked to move it, and has."""

    by_back_office: bool


def _moving(request: HttpRequest, item_id: int, asked: MoveAsked) -> Moving:
    return Moving(
        who=who(request),
        item=pick(Item.objects.all(), item_id, "item"),
        depot=asked.depot_id,
        giver=asked.giver,
        taker=asked.taker,
    )


@router.get("/items/{item_id}/move", response=MoveOut, operation_id="see_move")
def see_move(request: HttpRequest, item_id: PathId, asked: Query[MoveAsked]) -> MoveOut:
    """Whose day would move where one promise gives its place to another. Changes nothing."""
    found = moves_of(_moving(request, item_id, asked), today=today())
    return MoveOut(
        mark=found.mark,
        refused=said(found.refused) if found.refused else "",
        rows=[_moved(row) for row in found.rows],
    )


def _moved(row: Move) -> MovedPromise:
    return MovedPromise(
        name=row.holder.customer if row.holder else "",
        order_id=row.holder.order if row.holder else None,
        order=row.holder.number if row.holder else "",
        quantity=plain(row.quantity) or "0",
        by=row.before.by,
        before=row.before.on,
        after=row.after.on,
        late=row.after.late,
    )


@router.post("/items/{item_id}/move", response=MoveDone, operation_id="move_promise")
def move_promise(request: HttpRequest, item_id: PathId, data: MoveIn) -> MoveDone:
    """Let one promise take the place of another, as it was seen."""
    moving = _moving(request, item_id, data)
    return MoveDone(by_back_office=move(moving, data.mark, today=today(), clock=timezone.now))
