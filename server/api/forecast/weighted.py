"""The weighted forecast by month, stage and rep; what narrows every view of it."""

from datetime import date
from typing import Annotated

from django.conf import settings
from django.http import HttpRequest
from ninja import Query, Router
from pydantic import StringConstraints

from api.schemas import Schema
from api.shapes import Id, sure_money, today, who
from apps.deals.models import OPEN, DealQuerySet, Stage
from apps.deals.queries import deals_of, family_of, filter_deals, for_forecast
from apps.forecast.seen import View, view_of
from apps.people.models import User
from routecore.forecast import Cell, forecast_groups

router = Router(tags=["forecast"])
Month = Annotated[str, StringConstraints(pattern=r"^20[0-9]{2}-(0[1-9]|1[0-2])$")]


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
    """Whose deals, somebody's or a team's, of which confidence, of which customer; ``family``: of its whole group."""

    owner: Id | None = None
    team: Id | None = None
    confidence: Annotated[str, StringConstraints(pattern="^(sure|likely|stretch)?$")] = ""
    customer: Id | None = None
    family: bool = False

    @property
    def of_a_part(self) -> bool:
        """Whether some of these people's deals are left out: then their targets say nothing."""
        return bool(self.confidence or self.customer)


def narrowed(person: User, filters: ForecastFilters, on: date, *, state: str = "") -> DealQuerySet:
    """The deals of a view, open and closed."""
    return filter_deals(
        deals_of(person),
        today=on,
        state=state,
        owner=filters.owner,
        team=filters.team,
        confidence=filters.confidence,
        customer=filters.customer,
        family=filters.family,
    )


def looked_at(person: User, filters: ForecastFilters) -> View:
    """The same for how deals stood."""
    customer = filters.customer
    customers = None
    if customer:
        customers = family_of(customer) if filters.family else [customer]
    return view_of(
        person,
        owner=filters.owner,
        team=filters.team,
        confidence=filters.confidence,
        customers=customers,
    )


def cell_out(key: str, name: str, cell: Cell) -> CellOut:
    """Deals that fall together, as they are told."""
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
    rows = narrowed(who(request), filters, on, state="open")
    view = forecast_groups(for_forecast(rows, on))
    stages = [(s.code, s.name) for s in Stage.objects.filter(outcome=OPEN)]
    people = {str(p.pk): p.name for p in User.objects.filter(pk__in=[int(k) for k in view.by_rep])}
    months = [
        MonthOut(
            **cell_out(month, month, cell).model_dump(),
            stages={
                code: cell_out(code, name, view.by_month_and_stage[month, code])
                for code, name in stages
                if (month, code) in view.by_month_and_stage
            },
        )
        for month, cell in view.by_month.items()
    ]
    return ForecastOut(
        currency=settings.BASE_CURRENCY,
        total=cell_out("", "Total", view.total),
        months=months,
        stages=[cell_out(code, name, view.by_stage.get(code, Cell())) for code, name in stages],
        reps=sorted(
            (cell_out(key, people[key], cell) for key, cell in view.by_rep.items()),
            key=lambda cell: cell.name,
        ),
    )
