"""Changes of orders: less, later, elsewhere, before and after they were handed over."""

from decimal import Decimal
from typing import Annotated

from django.http import HttpRequest
from django.utils import timezone
from pydantic import BaseModel, Field, StringConstraints

from api.ordering import router
from api.orders import OrderOut, order_out
from api.schemas import Schema
from api.shapes import Day, Id, Number, PathId, Version, today, who
from apps.handover.changes import Head, Wish, change_order, notice

MOST_LINES = 1000
Kept = Annotated[Number, Field(ge=0, lt=Decimal("1e9"), max_digits=15, decimal_places=6)]


class WishIn(BaseModel):
    """What becomes of a line; what is left out stays. ``quantity`` 0: it is not wanted any more."""

    line_id: Id
    quantity: Kept | None = None
    wanted_on: Day | None = None
    address_id: Id | None = None
    depot_id: Id | None = None


class HeadIn(BaseModel):
    """What changes of the whole order, as long as the back office does not have it."""

    buyer_reference: Annotated[str, StringConstraints(max_length=60)] | None = None
    requested_on: Day | None = None
    address_id: Id | None = None


class ChangeIn(Schema):
    """The version that was seen, the lines that change, and why."""

    version: Version
    lines: Annotated[list[WishIn], Field(max_length=MOST_LINES)] = []
    head: HeadIn | None = None
    reason: Annotated[str, StringConstraints(max_length=200)]


@router.post("/orders/{order_id}/changes", response=OrderOut, operation_id="change_order")
def change(request: HttpRequest, order_id: PathId, data: ChangeIn) -> OrderOut:
    """Change an order at once, or ask the back office to where it has it."""
    change_order(
        who(request),
        order_id,
        data.version,
        wishes=[Wish(**each.model_dump()) for each in data.lines],
        head=Head(**data.head.model_dump()) if data.head else None,
        reason=data.reason,
        today=today(),
        now=timezone.now(),
    )
    return order_out(who(request), order_id)


@router.post("/order-changes/{change_id}/noticed", response=OrderOut, operation_id="notice_change")
def noticed(request: HttpRequest, change_id: PathId) -> OrderOut:
    """What the back office answered has been seen."""
    row = notice(who(request), change_id, now=timezone.now())
    return order_out(who(request), row.order_id)
