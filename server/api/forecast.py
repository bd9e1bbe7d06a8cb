"""The forecast: weighted amounts by month, stage and rep; what may be won as a range, against targets."""

from datetime import date
from decimal import Decimal
from typing import Annotated

from django.conf import settings
from django.http import HttpRequest
from ninja import Query, Router
from pydantic import BaseModel, Field, StringConstraints

from api.schemas import Schema
from api.shapes import Amount, Day, Id, sure_money, today, who
from apps.deals.models import OPEN, Deal, DealQuerySet, Stage
from apps.deals.queries import deals_of, filter_deals, for_forecast
from apps.errors import Invalid
from apps.forecast.flows import Aim, set_targets
from apps.forecast.models import Target
from apps.forecast.queries import Period, deciding_deals, months_from, people_of, periods_of
from apps.people.access import signs_for
from apps.people.models import User
from routecore.casefile.words import plain
from routecore.forecast import Cell, forecast_groups
from routecore.money import round_amount

router = Router(tags=["forecast"])


class CellOut(Schema):
    """How many deals, their amount, their weighted amount; ``key`` is a filter's value."""

    key: str
    name: str
    count: int
    amount: str
    weighted: str


class MonthOut(CellOut):
    """A month, split by stage."""

    stages: dict[str, CellOut]


class ForecastOut(Schema):
    """Three views of the same deals; each adds up to the total."""

    currency: str
    total: CellOut
    months: list[MonthOut]
    stages: list[CellOut]
    reps: list[CellOut]


class ForecastFilters(Schema):
    """Whose deals."""

    owner: Id | None = None
    confidence: Annotated[str, StringConstraints(pattern="^(sure|likely|stretch)?$")] = ""


def _cell(key: str, name: str, cell: Cell) -> CellOut:
    base = settings.BASE_CURRENCY
    return CellOut(
        key=key,
        name=name,
        count=cell.count,
        amount=sure_money(cell.amount, base),
        weighted=sure_money(cell.weighted, base),
    )


@router.get("/forecast", response=ForecastOut, operation_id="get_forecast")
def forecast(request: HttpRequest, filters: Query[ForecastFilters]) -> ForecastOut:
    """The weighted forecast. Three queries."""
    on = today()
    rows = filter_deals(
        deals_of(who(request)),
        today=on,
        state="open",
        owner=filters.owner,
        confidence=filters.confidence,
    )
    view = forecast_groups(for_forecast(rows, on))
    stages = [(s.code, s.name) for s in Stage.objects.filter(outcome=OPEN)]
    people = {str(p.pk): p.name for p in User.objects.filter(pk__in=[int(k) for k in view.by_rep])}
    months = [
        MonthOut(
            **_cell(month, month, cell).model_dump(),
            stages={
                code: _cell(code, name, view.by_month_and_stage[month, code])
                for code, name in stages
                if (month, code) in view.by_month_and_stage
            },
        )
        for month, cell in view.by_month.items()
    ]
    return ForecastOut(
        currency=settings.BASE_CURRENCY,
        total=_cell("", "Total", view.total),
        months=months,
        stages=[_cell(code, name, view.by_stage.get(code, Cell())) for code, name in stages],
        reps=sorted(
            (_cell(key, people[key], cell) for key, cell in view.by_rep.items()),
            key=lambda cell: cell.name,
        ),
    )


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
    """Whose deals; how strong a season is that all of them share, in percent (0: none)."""

    season: Annotated[int, Field(ge=0, le=100)] = 0


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
    """What may be won, as a range, against the targets. Four queries."""
    on = today()
    rows, owners = _view(who(request), filters, on)
    periods = periods_of(rows, owners, today=on, season_percent=Decimal(filters.season))
    return RangesOut(currency=settings.BASE_CURRENCY, periods=[_period(row) for row in periods])


class DecidingDeal(Schema):
    """A deal that decides a month: what it comes to, how likely, by its stage or by the rep's own word, and how far
    the chance of the target lies apart with it and without it (0 to 1)."""

    id: int
    title: str
    customer: str
    amount: str
    probability: str
    stage: str
    reason: str
    own: bool
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

    month: Annotated[str, StringConstraints(pattern=r"^20[0-9]{2}-(0[1-9]|1[0-2])$")]
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
        season_percent=Decimal(filters.season),
        left_out=set(filters.left_out),
    )
    return DecidingOut(
        currency=base,
        target=sure_money(round_amount(found.target, base), base),
        target_set=found.set,
        chance=round(found.chance, 4),
        without=round(found.without, 4),
        deals=[_decides(deal, swing) for deal, swing in found.deals],
    )


def _decides(deal: Deal, swing: float) -> DecidingDeal:
    return DecidingDeal(
        id=deal.pk,
        title=deal.title,
        customer=deal.customer_name,
        amount=sure_money(deal.amount, settings.BASE_CURRENCY),
        probability=plain(deal.probability) or "0",
        stage=deal.stage.name,
        reason=deal.probability_reason,
        own=deal.own_probability_percent is not None,
        swing=round(swing, 4),
    )


def _view(person: User, filters: RangeFilters, on: date) -> tuple[DealQuerySet, list[int]]:
    """The deals of a view, open and closed, and whose targets count."""
    rows = filter_deals(
        deals_of(person), today=on, owner=filters.owner, confidence=filters.confidence
    )
    people = people_of(person)
    owners = people.filter(pk=filters.owner) if filters.owner else people
    return rows, list(owners.values_list("pk", flat=True))


class TargetOut(Schema):
    """What is to be won in a month; version 0 and no amount where nothing is set."""

    month: date
    amount: str | None
    version: int


class TargetsOf(Schema):
    """A person's targets, month by month."""

    id: int
    name: str
    targets: list[TargetOut]


class TargetsOut(Schema):
    """A year's targets, from a month on; whether this person may set them."""

    currency: str
    months: list[date]
    people: list[TargetsOf]
    may_set: bool


class TargetIn(BaseModel):
    """What somebody is to win in the month that begins on ``month``; without an amount nothing is set any more."""

    owner_id: Id
    month: Day
    amount: Annotated[Amount, Field(gt=0)] | None
    version: Annotated[int, Field(ge=0, le=2_000_000_000)]


class TargetsIn(Schema):
    """The targets that change, and the month from which the year is told again."""

    rows: Annotated[list[TargetIn], Field(min_length=1, max_length=1000)]
    first: Day | None = None


def _targets(person: User, first: date | None) -> TargetsOut:
    months = months_from(first or today(), 12)
    people = list(people_of(person))
    rows = Target.objects.filter(owner__in=people, month__in=months)
    known = {(row.owner_id, row.month): row for row in rows}
    base = settings.BASE_CURRENCY

    def told(owner: int, month: date) -> TargetOut:
        row = known.get((owner, month))
        amount = sure_money(row.amount, base) if row else None
        return TargetOut(month=month, amount=amount, version=row.version if row else 0)

    return TargetsOut(
        currency=base,
        months=months,
        people=[
            TargetsOf(id=each.pk, name=each.name, targets=[told(each.pk, m) for m in months])
            for each in people
        ],
        may_set=signs_for(person),
    )


@router.get("/targets", response=TargetsOut, operation_id="list_targets")
def targets(request: HttpRequest, first: Day | None = None) -> TargetsOut:
    """A year's targets of those whose deals this person sees. Two queries."""
    return _targets(who(request), first)


@router.put("/targets", response=TargetsOut, operation_id="set_targets")
def put_targets(request: HttpRequest, data: TargetsIn) -> TargetsOut:
    """Set targets: all of them, or none where somebody changed one meanwhile."""
    if any(row.month.day != 1 for row in data.rows):
        raise Invalid("not_a_month", path="rows")
    keys = [(row.owner_id, row.month) for row in data.rows]
    if len(set(keys)) < len(keys):
        raise Invalid("double_id", path="rows")
    set_targets(who(request), [Aim(**row.model_dump()) for row in data.rows])
    return _targets(who(request), data.first)
