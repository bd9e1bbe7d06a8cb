"""What became of earlier forecasts: whether deals were won as often as they were called, how early months were right."""

from collections.abc import Mapping
from datetime import date
from decimal import Decimal
from typing import Annotated, Any

from django.conf import settings
from django.http import HttpRequest
from django.utils import timezone
from ninja import Query, Router
from pydantic import Field

from api.forecast.weighted import ForecastFilters, looked_at
from api.schemas import Schema
from api.shapes import sure_money, today, who
from apps.deals.models import Stage
from apps.forecast.backtest import POINTS, Month, backtest
from apps.forecast.learning import Group, calibration
from apps.people.models import User
from routecore.casefile.words import plain
from routecore.forecast import Class, Foretold
from routecore.money import round_amount

router = Router(tags=["forecast"])


class CalledClass(Schema):
    """Deals that were called about as likely: their mean probability; how many were won, in percent, and where that
    share lies nine times in ten."""

    percent: int
    deals: int
    won: int
    called: str
    share: str
    low: str
    high: str


class CalledGroup(CalledClass):
    """The same of a stage or a rep, with the Brier score."""

    key: str
    name: str
    score: str


class CalibrationOut(Schema):
    """Deals of two years as they were called so many days before they were decided. ``score`` is Brier's: 0 is sure
    and right, 0.25 a coin."""

    days: int
    deals: int
    score: str | None
    called: str | None
    share: str | None
    classes: list[CalledClass]
    stages: list[CalledGroup]
    reps: list[CalledGroup]


class CalibrationFilters(ForecastFilters):
    """Whose deals; how many days before they were decided."""

    days: Annotated[int, Field(ge=0, le=365)] = 14


@router.get("/forecast/calibration", response=CalibrationOut, operation_id="get_calibration")
def get_calibration(request: HttpRequest, filters: Query[CalibrationFilters]) -> CalibrationOut:
    """Of the deals that were called 70 %, how many were won. At most four queries."""
    view = looked_at(who(request), filters)
    found = calibration(view, timezone.now(), filters.days)
    whole = found.together
    stages = {row.code: row.name for row in Stage.objects.order_by("position")}
    people = {str(p.pk): p.name for p in User.objects.filter(pk__in=[g.key for g in found.reps])}
    return CalibrationOut(
        days=filters.days,
        deals=whole.deals if whole else 0,
        score=None if found.score is None else _score(found.score),
        called=plain(whole.called, 1) if whole else None,
        share=_share(whole) if whole else None,
        classes=[CalledClass(**_class(row)) for row in found.classes],
        stages=_groups(found.stages, stages),
        reps=_groups(found.reps, dict(sorted(people.items(), key=lambda each: each[1]))),
    )


def _groups(rows: list[Group], names: Mapping[str, str]) -> list[CalledGroup]:
    """In the order of the names."""
    by_key = {row.key: row for row in rows}
    return [
        CalledGroup(**_class(by_key[key].told), key=key, name=name, score=_score(by_key[key].score))
        for key, name in names.items()
        if key in by_key
    ]


def _class(row: Class) -> dict[str, Any]:
    return {
        "percent": row.percent,
        "deals": row.deals,
        "won": row.won,
        "called": plain(row.called, 1),
        "share": _share(row),
        "low": f"{row.low:.1f}",
        "high": f"{row.high:.1f}",
    }


def _score(score: Decimal) -> str:
    return f"{score:.3f}"


def _share(row: Class) -> str:
    return plain(row.share, 1) or "0"


class ForetoldOut(Schema):
    """What a snapshot said of a month: the range, eight times in ten, and its middle."""

    on: date
    low: str
    middle: str
    high: str


class PastMonth(Schema):
    """A month that is over; ``right`` is the day from which on its middle was within a tenth of what came."""

    first: date
    foretold: list[ForetoldOut | None]
    committed: str | None
    came: str
    right: date | None


class BacktestOut(Schema):
    """The last twelve months; ``days``: from a month's first day to when it was looked at, for each of ``foretold``;
    of ``of`` ranges that were foretold from a month's first day on, ``held`` held what came."""

    currency: str
    days: list[int]
    months: list[PastMonth]
    held: int
    of: int


@router.get("/forecast/backtest", response=BacktestOut, operation_id="get_backtest")
def get_backtest(request: HttpRequest, filters: Query[ForecastFilters]) -> BacktestOut:
    """How early the forecast of a month was right. At most five queries."""
    found = backtest(looked_at(who(request), filters), today())
    return BacktestOut(
        currency=settings.BASE_CURRENCY,
        days=list(POINTS),
        months=[_month(row) for row in found.months],
        held=found.held,
        of=found.of,
    )


def _money(value: Decimal) -> str:
    base = settings.BASE_CURRENCY
    return sure_money(round_amount(value, base), base)


def _month(row: Month) -> PastMonth:
    return PastMonth(
        first=row.first,
        foretold=[_foretold(told) if told else None for told in row.foretold],
        committed=None if row.committed is None else _money(row.committed),
        came=_money(row.came),
        right=row.right,
    )


def _foretold(row: Foretold) -> ForetoldOut:
    return ForetoldOut(
        on=row.on, low=_money(row.low), middle=_money(row.middle), high=_money(row.high)
    )
