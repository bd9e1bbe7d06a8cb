"""What can be promised: of a quote's lines as typed, of an order's, and of an item by date."""

from collections.abc import Iterable, Mapping
from datetime import date
from decimal import Decimal
from typing import Annotated, Literal

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router
from pydantic import BaseModel, Field, StringConstraints

from api.customers.scope import customers_of
from api.orders import orders_of
from api.schemas import Schema
from api.shapes import Day, Id, PathId, PromiseKind, ProposalKind, Quantity, today, who
from apps.catalogue.models import Item
from apps.customers.addresses import usual_address
from apps.customers.models import Address, Customer
from apps.errors import Invalid
from apps.handover.worker import ask_now
from apps.people.access import pick
from apps.quotes.models import WORDS_ONLY
from apps.quotes.queries import own_revision
from apps.stock.models import Depot
from apps.stock.plans import depots
from apps.stock.promising import (
    Ordered,
    Promised,
    Wanted,
    factors_of,
    held_promises,
    promises,
)
from routecore import promise
from routecore.casefile.words import plain
from routecore.checks import Check, judge_promise

router = Router(tags=["promises"])


class PromisePart(Schema):
    """A part of a quantity, in the line's unit: when it leaves, when it is there."""

    quantity: str
    leaves: date
    arrives: date
    sure: bool


class ProposalOut(Schema):
    """Something to take instead: all of it later, in parts, from another depot, another item."""

    kind: ProposalKind
    parts: list[PromisePart]
    last: date
    depot_id: int | None
    item_id: int | None
    name: str


class LinePromise(Schema):
    """A line's promise; quantities in its own unit, ``minutes`` the age of the back office's figures.

    ``made``: it is to be made first.
    """

    key: str
    kind: PromiseKind
    depot_id: int | None
    leaves: date | None
    arrives: date | None
    sure: bool
    made: bool
    late: bool
    missing: str | None
    free: str | None
    minutes: int
    stale: bool
    proposals: list[ProposalOut]


class DepotOut(Schema):
    """A depot to choose."""

    id: int
    name: str


class PromisesOut(Schema):
    """Every line's promise and the verdict over all; ``minutes`` is the age of the oldest figures."""

    lines: list[LinePromise]
    verdict: Check
    short: int
    late: int
    coming: int
    minutes: int | None
    stale: bool
    depots: list[DepotOut]


class WantedIn(BaseModel):
    """A line as typed."""

    key: Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9-]{1,36}$")]
    item_id: Id
    quantity: Quantity
    unit: Annotated[str, StringConstraints(min_length=1, max_length=3)]
    kind: Literal["normal", "alternative", "optional"] = "normal"
    depot_id: Id | None = None
    wanted_on: Day | None = None


class PromisesIn(Schema):
    """The lines of goods, the wanted day of the whole, and where it goes."""

    lines: Annotated[list[WantedIn], Field(max_length=500)]
    requested_on: Day | None = None
    delivery_address_id: Id | None = None


@router.post(
    "/revisions/{revision_id}/promises", response=PromisesOut, operation_id="promise_lines"
)
def of_quote(request: HttpRequest, revision_id: PathId, data: PromisesIn) -> PromisesOut:
    """What can be promised of a quote's lines as typed. Stores nothing and blocks nothing."""
    revision = own_revision(who(request), revision_id)
    return _as_typed(revision.quote.customer, data)


@router.post(
    "/customers/{customer_id}/promises", response=PromisesOut, operation_id="promise_to_customer"
)
def to_customer(request: HttpRequest, customer_id: PathId, data: PromisesIn) -> PromisesOut:
    """The same for lines that are on no quote yet."""
    customer = pick(customers_of(who(request)), customer_id, "customer")
    return _as_typed(customer, data)


def _as_typed(customer: Customer, data: PromisesIn) -> PromisesOut:
    factors = factors_of(line.item_id for line in data.lines)
    items = _items(line.item_id for line in data.lines)
    wanted = [
        Wanted(
            key=line.key,
            item=line.item_id,
            quantity=line.quantity * _factor(items, factors, line),
            depot=line.depot_id,
            on=line.wanted_on or data.requested_on,
            counts=line.kind == "normal",
            step=items[line.item_id].pack_multiple or Decimal(1),
        )
        for line in data.lines
    ]
    places = depots()
    found = promises(
        wanted,
        places=places,
        buyer_country=_country(customer, data.delivery_address_id),
        today=today(),
        now=timezone.now(),
    )
    units = {line.key: _factor(items, factors, line) for line in data.lines}
    return promises_out(found, units, places)


def _items(ids: Iterable[int]) -> dict[int, Item]:
    rows = Item.objects.filter(pk__among=ids).only("base_unit", "pack_multiple")
    return {row.pk: row for row in rows}


def _factor(
    items: Mapping[int, Item], factors: Mapping[tuple[int, str], Decimal], line: WantedIn
) -> Decimal:
    """What one of the line's unit holds; raises ``Invalid`` for an item or unit that is not there."""
    item = items.get(line.item_id)
    if item is None:
        raise Invalid("unknown_item", path="lines")
    if line.unit == item.base_unit_id:
        return Decimal(1)
    factor = factors.get((item.pk, line.unit))
    if factor is None:
        raise Invalid("unknown_unit", path="lines", facts={"unit": line.unit})
    return factor


def _country(customer: Customer, address_id: int | None) -> str:
    rows = Address.objects.filter(customer=customer)
    chosen = rows.filter(pk=address_id).first() if address_id else usual_address(rows)
    return chosen.country if chosen else ""


def promises_out(
    found: Mapping[str, Promised], units: Mapping[str, Decimal], places: list[Depot]
) -> PromisesOut:
    """Every line's promise in its own unit (``units`` has what one holds), and the verdict over all."""
    names = {row.pk: row.name for row in places}
    others = {
        int(each.at) for row in found.values() for each in row.proposals if each.kind == "instead"
    }
    items = dict(Item.objects.filter(pk__among=others).values_list("pk", "name"))
    lines = [line_promise(row, units[key], names, items) for key, row in found.items()]
    judged = [row for row in found.values() if row.kind != "none"]
    stale = any(row.stale for row in judged)
    short = sum(row.kind == promise.SHORT for row in judged)
    late = sum(row.late for row in judged)
    ages = [line.minutes for line in lines if line.kind != "none"]
    return PromisesOut(
        lines=lines,
        verdict=judge_promise(lines=len(judged), short=short, late=late, stale=stale),
        short=short,
        late=late,
        coming=sum(row.kind == promise.COMING for row in judged),
        minutes=max(ages, default=None),
        stale=stale,
        depots=[DepotOut(id=row.pk, name=row.name) for row in places],
    )


def _in_unit(quantity: Decimal, factor: Decimal) -> str:
    """A quantity of the base unit in a line's own, to six decimals."""
    return plain((quantity / factor).quantize(Decimal("0.000001"))) or "0"


def line_promise(
    row: Promised,
    factor: Decimal,
    names: Mapping[int, str] | None = None,
    items: Mapping[int, str] | None = None,
) -> LinePromise:
    """A promise in a line's own unit; ``names`` of depots and ``items`` are those of its proposals."""
    whole = row.answer.whole if row.answer else None
    return LinePromise(
        key=row.key,
        kind=row.kind,
        depot_id=row.depot,
        leaves=whole.leaves if whole else None,
        arrives=whole.arrives if whole else None,
        sure=whole.sure if whole else False,
        made=row.made,
        late=row.late,
        missing=_in_unit(row.answer.missing, factor) if row.answer and row.answer.missing else None,
        free=_in_unit(row.free, factor) if row.kind != "none" else None,
        minutes=int(row.age.total_seconds() // 60),
        stale=row.stale,
        proposals=[_proposal(each, factor, names or {}, items or {}) for each in row.proposals],
    )


def _proposal(
    row: promise.Proposal, factor: Decimal, names: Mapping[int, str], items: Mapping[int, str]
) -> ProposalOut:
    instead = row.kind == "instead"
    at = int(row.at) if row.at else None
    return ProposalOut(
        kind=row.kind,
        parts=[
            PromisePart(
                quantity=_in_unit(part.quantity, Decimal(1) if instead else factor),
                leaves=part.leaves,
                arrives=part.arrives,
                sure=part.sure,
            )
            for part in row.parts
        ],
        last=row.last,
        depot_id=at if row.kind == "depot" else None,
        item_id=at if instead else None,
        name=(items if instead else names).get(at, "") if at else "",
    )


class AskedOut(Schema):
    """Whether the back office answered in time."""

    answered: bool


@router.post("/promises/ask", response=AskedOut, operation_id="ask_back_office")
def ask(request: HttpRequest) -> AskedOut:
    """Ask the back office for its newest figures now; it has a second and a half."""
    return AskedOut(answered=ask_now(timezone.now))


@router.get("/orders/{order_id}/promises", response=PromisesOut, operation_id="order_promises")
def of_order(request: HttpRequest, order_id: PathId) -> PromisesOut:
    """What can be promised today of what an order still has to get, and what else could be done."""
    order = pick(orders_of(who(request)), order_id, "order")
    rows = list(
        order.lines.filter(quantity__gt=0)
        .exclude(quote_line__kind__in=WORDS_ONLY)
        .select_related("item")
    )
    factors = factors_of(row.item_id for row in rows)
    units = {str(row.pk): factors.get((row.item_id, row.unit), Decimal(1)) for row in rows}
    lines = [
        Ordered(
            key=str(row.pk),
            item=row.item_id,
            depot=row.depot_id,
            quantity=row.quantity * units[str(row.pk)],
            by=row.wanted_on or order.requested_on,
            country=(row.delivery_address or {}).get("country", ""),
        )
        for row in rows
    ]
    found = held_promises(
        order.number,
        lines,
        buyer_country=(order.delivery_address or {}).get("country", ""),
        today=today(),
        now=timezone.now(),
        propose=True,
    )
    return promises_out(found, units, depots())
