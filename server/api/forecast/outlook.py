"""What may be won as a range, against targets; the deals that decide a month."""

from datetime import date
from decimal import Decimal
from typing import Annotated, Literal

from django.conf import settings
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.utils import timezone
from ninja import Query, Router
from pydantic import Field

from api.export import Column, as_file
from api.forecast.weighted import ForecastFilters, Month
from api.schemas import Schema
from api.shapes import Id, sure_money, today, who
from apps.deals.models import DealQuerySet
from apps.deals.queries import deals_of, filter_deals
from apps.forecast.learning import experience
from apps.forecast.queries import (
    Called,
    DealThatDecides,
    Period,
    deciding_deals,
    people_of,
    periods_of,
)
from apps.people.models import User
from routecore.casefile.words import plain
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


def _period(period: Period) -> PeriodOut:
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
    """What may be won, as a range, against the targets. Four queries; six with learnt chances."""
    on = today()
    rows, owners = _view(who(request), filters, on)
    periods = periods_of(rows, owners, today=on, called=_called(filters))
    return RangesOut(currency=settings.BASE_CURRENCY, periods=[_period(row) for row in periods])


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


class DecidingDeal(Schema):
    """A deal that decides a month: what it comes to, how likely, by its stage, by the rep's own word or learnt from so
    many decided deals, and how far the chance of the target lies apart with it and without it (0 to 1)."""

    id: int
    title: str
    customer: str
    amount: str
    probability: str
    stage: str
    reason: str
    own: bool
    learnt_from: int | None
    swing: float


class DecidingOut(Schema):
    """The deals that decide a month; ``without`` is the chance with some left out. ``target_set`` is false where the
    middle of what may be won stands for a target."""

    currency: str
    target: str
    target_set: bool
    chance: float
    without: float
    deals: list[DecidingDeal]


class DecidingFilters(RangeFilters):
    """The month, and the deals that are left out to see what that means; nothing is stored."""

    month: Month
    left_out: Annotated[list[Id], Field(max_length=50)] = []


@router.get("/forecast/deciding", response=DecidingOut, operation_id="get_deciding")
def deciding(request: HttpRequest, filters: Query[DecidingFilters]) -> DecidingOut:
    """The deals that decide a month, and what leaving some out means. Four queries."""
    on, person, base = today(), who(request), settings.BASE_CURRENCY
    rows, owners = _view(person, filters, on)
    found = deciding_deals(
        rows,
        owners,
        date.fromisoformat(f"{filters.month}-01"),
        today=on,
        called=_called(filters),
        left_out=set(filters.left_out),
    )
    return DecidingOut(
        currency=base,
        target=sure_money(round_amount(found.target, base), base),
        target_set=found.set,
        chance=round(found.chance, 4),
        without=round(found.without, 4),
        deals=[_decides(row) for row in found.deals],
    )


def _decides(row: DealThatDecides) -> DecidingDeal:
    deal, learnt = row.deal, row.learnt
    return DecidingDeal(
        id=deal.pk,
        title=deal.title,
        customer=deal.customer_name,
        amount=sure_money(deal.amount, settings.BASE_CURRENCY),
        probability=plain(row.percent) or "0",
        stage=deal.stage.name,
        reason=deal.probability_reason,
        own=deal.own_probability_percent is not None,
        learnt_from=learnt.decided if learnt else None,
        swing=round(row.swing, 4),
    )


def _called(filters: RangeFilters) -> Called:
    known = experience(timezone.now()) if filters.chances == "learnt" else None
    return Called(season_percent=Decimal(filters.season), known=known)


def _view(person: User, filters: RangeFilters, on: date) -> tuple[DealQuerySet, list[int]]:
    """The deals of a view, open and closed, and whose targets count."""
    rows = filter_deals(
        deals_of(person), today=on, owner=filters.owner, confidence=filters.confidence
    )
    people = people_of(person)
    owners = people.filter(pk=filters.owner) if filters.owner else people
    return rows, list(owners.values_list("pk", flat=True))
