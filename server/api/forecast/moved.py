"""What moved in the forecast between two snapshots, or from one until now; snapshots that are kept by hand."""

from collections.abc import Mapping
from datetime import date, datetime
from decimal import Decimal
from typing import Annotated

from django.conf import settings
from django.http import HttpRequest
from django.utils import timezone
from ninja import Query, Router, Status
from pydantic import Field, StringConstraints

from api.forecast.weighted import ForecastFilters, looked_at
from api.schemas import Schema
from api.shapes import Day, sure_money, who
from apps.errors import Invalid
from apps.forecast.models import Snapshot
from apps.forecast.moving import moved_between, names_of
from apps.forecast.snapshots import keep_snapshot, last_until
from apps.forecast.targets import ZERO
from routecore.forecast import Step, Window

router = Router(tags=["forecast"])
#: Deals that a step names; the rest of them are told as one sum.
NAMED = 100
KEPT_SHOWN = 30


class MovedDeal(Schema):
    """A deal's part of a step; without key and name where it is not this person's any more."""

    id: int | None
    title: str
    customer: str
    amount: str


class MovedStep(Schema):
    """One cause: what it comes to, its deals, those of the largest parts first, and what the others come to."""

    cause: str
    amount: str
    count: int
    deals: list[MovedDeal]
    others: str | None


class ForecastMoved(Schema):
    """From the weighted amount at one moment to that at another; ``start`` and all steps add up to ``end``.

    ``until_at`` is None for now. ``start`` is None where no snapshot was there yet.
    """

    currency: str
    since_at: datetime | None
    until_at: datetime | None
    start: str | None
    end: str
    steps: list[MovedStep]


class MovedFilters(ForecastFilters):
    """Whose deals, to be decided within which days, from the last snapshot of one day to that of another; without
    ``until``, until now."""

    first: Day
    last: Day
    since: Day
    until: Day | None = None


@router.get("/forecast/moved", response=ForecastMoved, operation_id="get_moved")
def moved(request: HttpRequest, filters: Query[MovedFilters]) -> ForecastMoved:
    """What moved, cause by cause. At most seven queries."""
    if filters.last < filters.first:
        raise Invalid("ends_before_start", path="last")
    person, now = who(request), timezone.now()
    since, until = _moments(filters.since, filters.until)
    window = Window(first=filters.first, last=filters.last)
    view = looked_at(person, filters)
    base = settings.BASE_CURRENCY
    if since is None:
        return ForecastMoved(
            currency=base, since_at=None, until_at=None, start=None, end="0.00", steps=[]
        )
    found = moved_between(view, since, until, window, now)
    steps = {cause: step for cause, step in found.steps.items() if step.deals}
    named = names_of(person, (key for step in steps.values() for key, _ in _largest(step)))
    return ForecastMoved(
        currency=base,
        since_at=since.at,
        until_at=until.at if until else None,
        start=sure_money(found.start, base),
        end=sure_money(found.end, base),
        steps=[_step(cause, step, named) for cause, step in steps.items()],
    )


def _moments(since: date, until: date | None) -> tuple[Snapshot | None, Snapshot | None]:
    start, end = last_until(since), last_until(until) if until else None
    if until and (end is None or (start and end.at < start.at)):
        raise Invalid("ends_before_start", path="until")
    return start, end


def _largest(step: Step) -> list[tuple[int, Decimal]]:
    return sorted(step.deals, key=lambda row: (-abs(row[1]), row[0]))[:NAMED]


def _step(cause: str, step: Step, named: Mapping[int, tuple[str, str]]) -> MovedStep:
    base, shown = settings.BASE_CURRENCY, _largest(step)
    rest = step.amount - sum((amount for _, amount in shown), ZERO)
    deals = []
    for key, amount in shown:
        title, customer = named.get(key, ("", ""))
        seen = key if key in named else None
        deals.append(
            MovedDeal(id=seen, title=title, customer=customer, amount=sure_money(amount, base))
        )
    return MovedStep(
        cause=cause,
        amount=sure_money(step.amount, base),
        count=len(step.deals),
        deals=deals,
        others=sure_money(rest, base) if len(step.deals) > NAMED else None,
    )


class SnapshotOut(Schema):
    """A snapshot that was kept by hand."""

    at: datetime
    on: date
    who: str
    note: str


class SnapshotsOut(Schema):
    """From which day on snapshots are there; the newest of those that were kept by hand."""

    first: date | None
    kept: list[SnapshotOut]


@router.get("/forecast/snapshots", response=SnapshotsOut, operation_id="list_snapshots")
def snapshots(request: HttpRequest) -> SnapshotsOut:
    """The snapshots by hand, and since when there are any. Two queries."""
    who(request)
    first = Snapshot.objects.order_by("at").values_list("at", flat=True).first()
    kept = Snapshot.objects.filter(night=None).select_related("who").order_by("-at")[:KEPT_SHOWN]
    return SnapshotsOut(
        first=timezone.localdate(first) if first else None, kept=[_snapshot(row) for row in kept]
    )


class NewSnapshot(Schema):
    """A name for it."""

    note: Annotated[str, StringConstraints(max_length=80), Field(min_length=1)]


@router.post("/forecast/snapshots", response={201: SnapshotOut}, operation_id="keep_snapshot")
def keep(request: HttpRequest, data: NewSnapshot) -> Status[SnapshotOut]:
    """Keep how all deals stand now."""
    return Status(201, _snapshot(keep_snapshot(who(request), data.note, timezone.now())))


def _snapshot(row: Snapshot) -> SnapshotOut:
    return SnapshotOut(
        at=row.at,
        on=timezone.localdate(row.at),
        who=row.who.name if row.who else "",
        note=row.note,
    )
