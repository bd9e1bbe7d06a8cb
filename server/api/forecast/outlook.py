"""What may be won as a range, against targets."""

from collections.abc import Mapping
from datetime import date
from decimal import Decimal
from types import MappingProxyType
from typing import Annotated, Literal

from django.conf import settings
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.utils import timezone
from ninja import Query, Router
from pydantic import Field

from api.export import Column, as_file
from api.forecast.weighted import ForecastFilters, narrowed
from api.schemas import Schema
from api.shapes import sure_money, today, who
from apps.deals.models import DealQuerySet
from apps.forecast.called import Called, Thought
from apps.forecast.learning import experience
from apps.forecast.queries import Period, periods_of
from apps.forecast.targets import Counted, counted_of
from apps.people.models import User
from routecore.money import round_amount

router = Router(tags=["forecast"])


class PeriodOut(Schema):
    """A month or a quarter: what was won in it, what its open deals add to that eight times in ten (``low`` to
    ``high``) and in the middle, what is to be won, and how likely that is (0 to 1)."""

    first: date
    last: date
    quarter: bool
    won: str
    count: int
    weighted: str
    low: str
    middle: str
    high: str
    target: str | None
    chance: float | None


class RangesOut(Schema):
    """This month and those ahead, then this quarter and the next."""

    currency: str
    periods: list[PeriodOut]


class RangeFilters(ForecastFilters):
    """Whose deals; how strong a season is that all of them share, in percent (0: none); whether their chances are
    those of their stages or learnt from what became of earlier deals. The rep's own word counts in both."""

    season: Annotated[int, Field(ge=0, le=100)] = 0
    chances: Literal["", "learnt"] = ""


def period_out(period: Period) -> PeriodOut:
    """A period as it is told."""
    base = settings.BASE_CURRENCY

    def money(value: Decimal) -> str:
        return sure_money(round_amount(value, base), base)

    return PeriodOut(
        first=period.first,
        last=period.last,
        quarter=period.quarter,
        won=money(period.won),
        count=period.count,
        weighted=money(period.spread.mean),
        low=money(period.reached(0.1)),
        middle=money(period.reached(0.5)),
        high=money(period.reached(0.9)),
        target=None if period.target is None else money(period.target),
        chance=None if period.chance is None else round(period.chance, 4),
    )


@router.get("/forecast/outlook", response=RangesOut, operation_id="get_outlook")
def outlook(request: HttpRequest, filters: Query[RangeFilters]) -> RangesOut:
    """What may be won, as a range, against the targets. Five queries; seven with learnt chances."""
    on = today()
    rows, counted = seen_by(who(request), filters, on)
    periods = periods_of(rows, counted, today=on, called=called_by(filters))
    return RangesOut(currency=settings.BASE_CURRENCY, periods=[period_out(row) for row in periods])


@router.get("/forecast/outlook.{kind}", operation_id="export_outlook")
def export(
    request: HttpRequest, kind: Literal["csv", "xlsx"], filters: Query[RangeFilters]
) -> HttpResponseBase:
    """What may be won by month and quarter, as a file."""
    base = settings.BASE_CURRENCY
    known = [
        Column("From", "first"),
        Column("To", "last"),
        Column("Open deals", "count", number=True),
        Column(f"Won {base}", "won", number=True),
        Column(f"Weighted {base}", "weighted", number=True),
        Column(f"Low {base}", "low", number=True),
        Column(f"Middle {base}", "middle", number=True),
        Column(f"High {base}", "high", number=True),
        Column(f"Target {base}", "target", number=True),
        Column("Chance", "chance", number=True),
    ]
    return as_file(kind, "forecast", known, [outlook(request, filters).periods])


def called_by(
    filters: RangeFilters, thoughts: Mapping[int, Thought] = MappingProxyType({})
) -> Called:
    """How likely the deals of a view are called. Two queries with learnt chances."""
    known = experience(timezone.now()) if filters.chances == "learnt" else None
    return Called(season_percent=Decimal(filters.season), known=known, thoughts=thoughts)


def seen_by(person: User, filters: RangeFilters, on: date) -> tuple[DealQuerySet, Counted]:
    """The deals of a view, open and closed, and whose targets count."""
    return narrowed(person, filters, on), counted_beside(person, filters)


def counted_beside(person: User, filters: ForecastFilters) -> Counted:
    """Whose targets stand beside a view: nobody's beside a part of their deals. At most two queries."""
    if filters.of_a_part:
        return Counted()
    return counted_of(person, owner=filters.owner, team=filters.team)
