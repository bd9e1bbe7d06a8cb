"""How the back office's figures come: what came when, how old it is, what is set aside; a whole resync."""

from datetime import datetime
from typing import Literal

from django.db.models import Count, Max, Min, Model
from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Status

from api.errors import Fault
from api.schemas import Schema
from api.shapes import PathId, Version, who
from apps.customers.models import Customer
from apps.handover.intake import feed as order_feed
from apps.ledger.models import Invoice, Payment
from apps.people.access import fulfils
from apps.stock.intake import feed, let_go, resync, try_again
from apps.stock.models import APART, Depot, Level, SetAside
from apps.words import said

router = Router(tags=["sync"])
MOST_SHOWN = 200


class FeedOut(Schema):
    """A feed: how far it was read of how much, when last, and since when it does not come."""

    name: Literal["events", "changes"]
    position: int
    last: int | None
    read_at: datetime | None
    problem: str
    failing_since: datetime | None
    resync_from: datetime | None


class KnownKind(Schema):
    """What is known of a kind: how many, and from when the oldest and the newest are."""

    kind: Literal["depot", "stock", "account", "invoice", "payment"]
    count: int
    oldest: datetime | None
    newest: datetime | None


class AsideOut(Schema):
    """A change that is set aside: what it is about, why, and as it came."""

    id: int
    version: int
    kind: str
    ref: str
    received_at: datetime
    reason: Fault
    raw: str


class SyncOut(Schema):
    """The whole page."""

    feeds: list[FeedOut]
    kinds: list[KnownKind]
    asides: list[AsideOut]
    aside_count: int


@router.get("/sync", response=SyncOut, operation_id="get_sync")
def sync(request: HttpRequest) -> SyncOut:
    """Both feeds, what is known, what is set aside. A constant number of queries."""
    fulfils(who(request))
    events, changes = order_feed(), feed()
    stock = Level.objects.aggregate(n=Count("pk"), old=Min("told_at"), new=Max("told_at"))
    asides = SetAside.objects.filter(state=APART)
    return SyncOut(
        feeds=[
            FeedOut(
                name="events",
                position=events.position,
                last=None,
                read_at=events.read_at,
                problem=events.problem,
                failing_since=events.failing_since,
                resync_from=None,
            ),
            FeedOut(
                name="changes",
                position=changes.position,
                last=changes.last,
                read_at=changes.read_at,
                problem=changes.problem,
                failing_since=changes.failing_since,
                resync_from=changes.resync_from,
            ),
        ],
        kinds=[
            KnownKind(kind="depot", count=Depot.objects.count(), oldest=None, newest=None),
            KnownKind(kind="stock", count=stock["n"], oldest=stock["old"], newest=stock["new"]),
            *(
                KnownKind(kind=kind, count=_told(table), oldest=None, newest=None)
                for kind, table in ACCOUNTS.items()
            ),
        ],
        asides=[_aside(row) for row in asides.order_by("-pk")[:MOST_SHOWN]],
        aside_count=asides.count(),
    )


#: What is told of customers' accounts, and where it lies.
ACCOUNTS: dict[Literal["account", "invoice", "payment"], type[Model]] = {
    "account": Customer,
    "invoice": Invoice,
    "payment": Payment,
}


def _told(table: type[Model]) -> int:
    return table._base_manager.filter(change__gt=0).count()


def _aside(row: SetAside) -> AsideOut:
    facts = row.facts or {"what": "any"}
    reason = Fault(code="change", message=said("change", "", facts), facts=facts)
    return AsideOut(
        id=row.pk,
        version=row.version,
        kind=row.kind,
        ref=row.ref,
        received_at=row.received_at,
        reason=reason,
        raw=row.raw,
    )


@router.post("/sync/resync", response={204: None}, operation_id="resync")
def anew(request: HttpRequest) -> Status[None]:
    """Ask for everything anew; what is known stays in use until it has come."""
    resync(who(request), now=timezone.now())
    return Status(204, None)


class AsideIn(Schema):
    """The version that was seen."""

    version: Version


@router.post("/sync/asides/{aside_id}/again", response={204: None}, operation_id="try_change_again")
def again(request: HttpRequest, aside_id: PathId, data: AsideIn) -> Status[None]:
    """Read a change once more."""
    try_again(who(request), aside_id, data.version, now=timezone.now())
    return Status(204, None)


@router.post("/sync/asides/{aside_id}/let-go", response={204: None}, operation_id="let_change_go")
def go(request: HttpRequest, aside_id: PathId, data: AsideIn) -> Status[None]:
    """Let a change go: its thing is told anew with the next one."""
    let_go(who(request), aside_id, data.version, now=timezone.now())
    return Status(204, None)
