"""A day's visits, in order, with where to go and whom to ask for."""

from datetime import date
from typing import Annotated

from django.http import HttpRequest
from ninja import Router, Status
from pydantic import Field

from api.schemas import Schema
from api.shapes import Day, Id, Text, today, who
from apps.diary.visits import Visit, order_visits, plan_visit, visits_on
from apps.people.access import owns
from apps.people.models import User

router = Router(tags=["diary"])
MOST = 50


class PlannedVisit(Schema):
    """A visit: what for, at what hour, where (``where``: not at theirs), whom to ask for; empty where nothing is known. A customer or a deal that is not this
    person's, whose visit a colleague gave away, has a name and no key."""

    id: int
    version: int
    text: str
    done: bool
    customer_id: int | None
    customer: str
    deal_id: int | None
    deal: str
    starts: str
    where: str
    street: str
    town: str
    person: str
    phone: str


class VisitsOut(Schema):
    """A day, and its visits in their order."""

    day: date
    rows: list[PlannedVisit]


class VisitIn(Schema):
    """A visit to a customer, or about a deal."""

    day: Day
    text: Text
    customer_id: Id | None = None
    deal_id: Id | None = None


class VisitOrder(Schema):
    """All visits of a day, in the order in which they are to be made."""

    day: Day
    ids: Annotated[list[Id], Field(max_length=MOST)]


def _visits(request: HttpRequest, day: date) -> VisitsOut:
    person = who(request)
    return VisitsOut(day=day, rows=[_out(person, each) for each in visits_on(person, day)])


def _out(me: User, visit: Visit) -> PlannedVisit:
    row, address, person = visit.row, visit.address, visit.person
    return PlannedVisit(
        id=row.pk,
        version=row.version,
        text=row.text,
        done=row.done_at is not None,
        customer_id=row.customer_id if owns(me, row.customer.owner_id) else None,
        customer=row.customer.name,
        deal_id=row.deal_id if row.deal and owns(me, row.deal.owner_id) else None,
        deal=row.deal.title if row.deal else "",
        starts=f"{row.starts:%H:%M}" if row.starts else "",
        where=row.where,
        street=address.street if address else "",
        town=f"{address.postcode} {address.town}, {address.country}" if address else "",
        person=person.name if person else "",
        phone=person.phone if person else "",
    )


@router.get("/visits", response=VisitsOut, operation_id="list_day_visits")
def visits(request: HttpRequest, day: Day | None = None) -> VisitsOut:
    """One's own visits of a day; today's without one. Four queries."""
    return _visits(request, day or today())


@router.post("/visits", response={201: VisitsOut}, operation_id="plan_visit")
def plan(request: HttpRequest, data: VisitIn) -> Status[VisitsOut]:
    """Plan a visit, after the others of its day."""
    plan_visit(who(request), **data.model_dump())
    return Status(201, _visits(request, data.day))


@router.put("/visits", response=VisitsOut, operation_id="order_visits")
def order(request: HttpRequest, data: VisitOrder) -> VisitsOut:
    """Put a day's visits in order."""
    order_visits(who(request), data.day, data.ids)
    return _visits(request, data.day)
