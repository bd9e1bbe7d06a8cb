"""What became of earlier deals: chances that are learnt from it, and whether those that were called came."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from decimal import Decimal
from typing import TypedDict

from django.db.models import Case, CharField, Count, F, Q, QuerySet, Value, When

from apps.deals.models import LOST, OPEN, WON, Deal
from apps.forecast.models import Seen, Snapshot
from apps.forecast.seen import View
from routecore.forecast import (
    Class,
    Experience,
    Learnt,
    Outcome,
    Tally,
    brier,
    calibrate,
    learn_counted,
    size_class,
    together,
)

#: What was decided longer ago teaches nothing any more.
LEARNS_FROM = timedelta(days=730)
#: Classes of size, by what they stay under, in the base currency; beyond them, large.
SIZES = {"small": Decimal(5_000), "middle": Decimal(20_000), "large": Decimal(10) ** 15}


def experience(now: datetime) -> Experience:
    """The whole house's, of two years, as the last snapshot counted it; counted now where none did. At most three
    queries."""
    last = Snapshot.objects.filter(learnt__isnull=False).order_by("at").last()
    told: Counted = last.learnt if last and last.learnt else count_up(now)
    return learn_counted(
        won=told["won"],
        lost=told["lost"],
        tallies=(
            Tally(stage=stage, won=won, deals=deals, rep=rep, size=size)
            for stage, won, deals, rep, size in told["tallies"]
        ),
    )


class Counted(TypedDict):
    """What was counted, as it is kept: stage, whether won, how many deals, rep, class of size."""

    won: int
    lost: int
    tallies: list[tuple[str, bool, int, str, str]]


def count_up(now: datetime) -> Counted:
    """What became of the deals that were decided within two years; stages as snapshots saw them. Two queries."""
    decided = Deal.objects.filter(_decided(now)).order_by()
    every = dict(decided.values_list("outcome").annotate(Count("pk")))
    rows = (
        Seen.objects.filter(_decided(now, "deal__"), outcome=OPEN)
        .order_by()
        .annotate(size=_size("deal__amount"))
        .values_list("stage__code", "deal__outcome", "deal__owner_id", "size")
        .annotate(Count("deal", distinct=True))
    )
    return Counted(
        won=every.get(WON, 0),
        lost=every.get(LOST, 0),
        tallies=[
            (stage, outcome == WON, deals, str(owner), size)
            for stage, outcome, owner, size, deals in rows
        ],
    )


def learnt_of(known: Experience, deal: Deal) -> Learnt | None:
    """What earlier deals say of this one, which is open."""
    size = size_class(deal.amount, SIZES)
    return known.learnt(deal.stage.code, rep=str(deal.owner_id), size=size)


def learnt_percent(known: Experience, stage: str, owner: int, amount: Decimal) -> Decimal | None:
    """The same as a percentage alone."""
    told = known.learnt(stage, rep=str(owner), size=size_class(amount, SIZES))
    return told.percent if told else None


def _decided(now: datetime, path: str = "") -> Q:
    return Q(
        **{f"{path}outcome__in": (WON, LOST), f"{path}closed_at__range": (now - LEARNS_FROM, now)}
    )


def _size(amount: str) -> Case:
    """As ``size_class``, in the database."""
    bounds = [When(**{f"{amount}__lt": bound}, then=Value(name)) for name, bound in SIZES.items()]
    return Case(*bounds, default=Value(""), output_field=CharField())


@dataclass(frozen=True, slots=True, kw_only=True)
class Group:
    """Deals of a stage or a rep: how likely they were called together, what came of them, their Brier score."""

    key: str
    told: Class
    score: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class Calibration:
    """What deals were called so many days before they were decided, against what came."""

    classes: list[Class]
    together: Class | None
    score: Decimal | None
    stages: list[Group]
    reps: list[Group]


def calibration(view: View, now: datetime, days_before: int) -> Calibration:
    """Each deal that was decided within two years counts once, as the snapshot so many days before showed it.

    What was not there yet, or not open, at that time was called nothing. One query.
    """
    moment = F("deal__closed_at") - timedelta(days=days_before)
    rows: QuerySet[Seen] = Seen.objects.filter(
        view.of_seen,
        _decided(now, "deal__"),
        outcome=OPEN,
        since__lte=moment,
        until__gt=moment,
    ).order_by()
    found: list[Outcome] = []
    stages: dict[str, list[Outcome]] = {}
    reps: dict[str, list[Outcome]] = {}
    read = ("probability", "deal__outcome", "stage__code", "owner_id")
    for percent, outcome, stage, owner in rows.values_list(*read):
        row = Outcome(percent=percent, won=outcome == WON)
        found.append(row)
        stages.setdefault(stage, []).append(row)
        reps.setdefault(str(owner), []).append(row)
    return Calibration(
        classes=calibrate(found),
        together=together(found),
        score=brier(found),
        stages=_groups(stages),
        reps=_groups(reps),
    )


def _groups(rows: Mapping[str, list[Outcome]]) -> list[Group]:
    found = []
    for key, outcomes in rows.items():
        told, score = together(outcomes), brier(outcomes)
        if told is not None and score is not None:
            found.append(Group(key=key, told=told, score=score))
    return found
