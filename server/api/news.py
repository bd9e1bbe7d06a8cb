"""News of the back office that is set apart: looked at, tried again, let go."""

from datetime import datetime
from typing import Annotated

from django.http import HttpRequest
from django.utils import timezone
from ninja import Query, Router, Status
from pydantic import Field, StringConstraints

from api.errors import Fault
from api.schemas import Schema
from api.shapes import Paged, PathId, Version, paged, who
from apps.handover.apart import apart, let_go, try_again
from apps.handover.models import BackOfficeEvent, Handover
from apps.listing import Ordered, count
from apps.words import said

router = Router(tags=["orders"])


class ApartOut(Schema):
    """An event: of which order, what it is, why it is set apart, and as it came."""

    id: int
    version: int
    state: str
    kind: str
    order: str
    order_id: int | None
    at: datetime | None
    received_at: datetime
    reason: Fault
    raw: str


class ApartPage(Paged):
    """One page of events."""

    rows: list[ApartOut]


class ApartFilters(Schema):
    """Which page."""

    page: Annotated[int, Field(ge=1, le=100_000)] = 1


def reason_of(row: BackOfficeEvent) -> Fault:
    """Why an event is set apart, in the one error form."""
    facts = row.facts or {"what": "any"}
    return Fault(code="news", message=said("news", "", facts), facts=facts)


@router.get("/news", response=ApartPage, operation_id="list_news")
def news(request: HttpRequest, filters: Query[ApartFilters]) -> ApartPage:
    """What is set apart, the newest first. Three queries."""
    rows = apart(who(request), timezone.now())
    span, facts = paged(count(Ordered(rows, ("-pk",))), filters.page)
    found = list(rows[span])
    keys = {row.key for row in found if row.key}
    known = Handover.objects.filter(key__in=keys).select_related("order")
    orders = {entry.key: entry.order for entry in known}
    return ApartPage(rows=[_out(row, orders) for row in found], **facts)


def _out(row: BackOfficeEvent, orders: dict) -> ApartOut:  # type: ignore[type-arg]
    order = orders.get(row.key)
    return ApartOut(
        id=row.pk,
        version=row.version,
        state=row.state,
        kind=row.kind,
        order=order.number if order else "",
        order_id=order.pk if order else None,
        at=row.occurred_at,
        received_at=row.received_at,
        reason=reason_of(row),
        raw=row.raw,
    )


class TryIn(Schema):
    """The version that was seen."""

    version: Version


@router.post("/news/{news_id}/again", response={204: None}, operation_id="try_news_again")
def again(request: HttpRequest, news_id: PathId, data: TryIn) -> Status[None]:
    """Read and apply it once more."""
    try_again(who(request), news_id, data.version, now=timezone.now())
    return Status(204, None)


class LetGoIn(TryIn):
    """And why."""

    reason: Annotated[str, StringConstraints(max_length=200)]


@router.post("/news/{news_id}/let-go", response={204: None}, operation_id="let_news_go")
def go(request: HttpRequest, news_id: PathId, data: LetGoIn) -> Status[None]:
    """Let it go for good."""
    let_go(who(request), news_id, data.version, data.reason, now=timezone.now())
    return Status(204, None)
