"""How the back office's figures come: what came when, how old it is, what is set aside; a whole resync."""

from datetime import datetime
from typing import Literal, get_args

from django.db.models import Max, Min, Model
from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Status

from api.errors import Fault
from api.schemas import Schema
from api.shapes import PathId, Version, who
from apps.handover.intake import feed as order_feed
from apps.people.access import fulfils
from apps.stock.intake import let_go, try_again
from apps.stock.models import APART, ChangeFeed, Level, SetAside
from apps.stock.progress import NUMBERED, anew_by_kind, feed, kind_of, resync
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


Kind = Literal["depot", "stock", "account", "invoice", "payment"]


class KnownKind(Schema):
    """What is known of a kind: how many, and from when the oldest and the newest are.

    ``anew`` is how far it has come that is asked for anew, from 0 to 100; None where it is not.
    """

    kind: Kind
    count: int
    oldest: datetime | None
    newest: datetime | None
    anew: int | None


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
        kinds=_kinds(),
        asides=[_aside(row) for row in asides.order_by("-pk")[:MOST_SHOWN]],
        aside_count=asides.count(),
    )


def _kinds() -> list[KnownKind]:
    """Every kind of things that are told, with how much of it was; of stock also when."""
    when = Level.objects.aggregate(oldest=Min("told_at"), newest=Max("told_at"))
    never = {"oldest": None, "newest": None}
    anew = {kind_of(row): _percent(row) for row in anew_by_kind()}
    return [
        KnownKind(
            kind=kind,
            count=_told(NUMBERED[kind]),
            anew=anew.get(kind),
            **(when if kind == "stock" else never),
        )
        for kind in get_args(Kind)
    ]


def _percent(row: ChangeFeed) -> int:
    return min(99, row.position * 100 // row.last) if row.last else 0


def _told(table: type[Model]) -> int:
    return table._base_manager.exclude(change=0).count()


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


class AnewIn(Schema):
    """What is asked for anew: one kind of things, or everything."""

    kind: Kind | None = None


@router.post("/sync/resync", response={204: None}, operation_id="resync")
def anew(request: HttpRequest, data: AnewIn) -> Status[None]:
    """Ask for everything anew, or for one kind; what is known stays in use until it has come."""
    resync(who(request), data.kind or "", now=timezone.now())
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
