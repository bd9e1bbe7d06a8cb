"""The Timetable: open deals by stage and day, what they sum to, and several of them changed together."""

from collections.abc import Iterable
from datetime import date
from typing import Annotated

from django.conf import settings
from django.db.models import Count, Sum
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Query, Router
from pydantic import BaseModel, Field, StringConstraints, TypeAdapter

from api.deals import (
    DealFilters,
    DealRow,
    DealSums,
    deal_row,
    deal_sums,
    deals_shown,
    filtered,
    many_shown,
)
from api.schemas import Schema, written
from api.shapes import Amount, Day, Id, Percent, Version, sure_money, today, who
from apps.deals.models import DealQuerySet, Stage
from apps.deals.queries import joined, weighted
from apps.deals.together import MOST, change_together
from apps.deals.together import Change as ChangeOfOne
from apps.listing import rows_at
from routecore.forecast import Cell, month_of

router = Router(tags=["deals"])
#: So many chips at most.
CHIPS = 2_000
CHIPS_OUT = TypeAdapter(list[DealRow])


def _open(request: HttpRequest, filters: DealFilters, on: date) -> DealQuerySet:
    return filtered(who(request), filters.model_copy(update={"state": "open"}), on)


@router.get("/timetable", response=list[DealRow], operation_id="get_timetable")
def timetable(request: HttpRequest, filters: Query[DealFilters]) -> HttpResponse:
    """The open deals for the Timetable, the next to be decided first, at most ``CHIPS``. Four queries."""
    on = today()
    rows = _open(request, filters, on).order_by("decision_on", "pk")
    found = rows_at(rows, slice(CHIPS), many_shown())
    return written([deal_row(deal, on) for deal in found], CHIPS_OUT)


class SumOut(Schema):
    """How many deals, their amount, their weighted amount."""

    count: int
    amount: str
    weighted: str


class MonthSum(SumOut):
    """A month: ISO, or ``overdue``."""

    month: str


class TimetableSums(Schema):
    """What the same deals come to: by column, one more than there are starts; by stage; by month; all of them."""

    columns: list[SumOut]
    stages: dict[str, SumOut]
    months: list[MonthSum]
    total: SumOut
    sums: DealSums


class TimetableColumns(DealFilters):
    """The first days of the columns, in their order: what is decided before the first is a column of its own."""

    starts: Annotated[list[Day], Field(max_length=20)] = []


@router.get("/timetable/sums", response=TimetableSums, operation_id="get_timetable_sums")
def timetable_sums(request: HttpRequest, filters: Query[TimetableColumns]) -> TimetableSums:
    """What the open deals of the Timetable come to, all of them. Two queries."""
    return _summed(request, filters)


def _summed(request: HttpRequest, filters: TimetableColumns) -> TimetableSums:
    on = today()
    starts = sorted(filters.starts)
    columns = [Cell() for _ in range(len(starts) + 1)]
    stages: dict[str, Cell] = {}
    months: dict[str, Cell] = {}
    confidences: dict[str, Cell] = {}
    narrow = DealFilters(**filters.model_dump(exclude={"starts"}))
    found = (
        _open(request, narrow, on)
        .order_by()
        .values_list("decision_on", "stage", "confidence")
        .annotate(Count("pk"), Sum("amount"), weight=Sum(weighted()))
    )
    # Not joined: the database would look its stage up for every deal.
    codes = dict(Stage.objects.values_list("pk", "code"))
    for day, key, confidence, *figures in found:
        cell = Cell(*figures)
        at = sum(start <= day for start in starts)
        columns[at] = columns[at].joined(cell)
        for by, name in (
            (stages, codes[key]),
            (months, month_of(day, on)),
            (confidences, confidence),
        ):
            by[name] = by.get(name, Cell()).joined(cell)
    return TimetableSums(
        columns=[_sum(cell) for cell in columns],
        stages={code: _sum(cell) for code, cell in stages.items()},
        months=[
            MonthSum(month=month, **_sum(cell).model_dump())
            for month, cell in _in_time(months.items())
        ],
        total=_sum(joined(columns)),
        sums=deal_sums(confidences),
    )


def _in_time(months: Iterable[tuple[str, Cell]]) -> list[tuple[str, Cell]]:
    """What has gone by first."""
    return sorted(months, key=lambda each: (each[0] != "overdue", each[0]))


def _sum(cell: Cell) -> SumOut:
    base = settings.BASE_CURRENCY
    return SumOut(
        count=cell.count,
        amount=sure_money(cell.amount, base),
        weighted=sure_money(cell.weighted, base),
    )


class DealOfMany(BaseModel):
    """What one of several deals becomes."""

    id: Id
    version: Version
    stage: Annotated[str, StringConstraints(max_length=12)] | None = None
    decision_on: Day | None = None
    owner_id: Id | None = None
    estimate: Amount | None = None
    probability: Percent | None = None
    probability_reason: Annotated[str, StringConstraints(max_length=200)] | None = None
    stage_probability: bool | None = None


class Together(Schema):
    """Several deals; without ``keep`` it is only told what it would come to. ``sums``: of which Timetable the sums are
    told along with what was kept."""

    rows: Annotated[list[DealOfMany], Field(min_length=1, max_length=MOST)]
    keep: bool = False
    sums: TimetableColumns | None = None


class MonthMoves(Schema):
    """What the open ones of them come to in a month, weighted, before and after; and all that this person sees."""

    month: str
    before: str
    after: str
    all_before: str
    all_after: str


class TogetherOut(Schema):
    """What a change of several deals comes to where it is only tried, and the deals as they are then."""

    currency: str
    months: list[MonthMoves]
    rows: list[DealRow]
    sums: TimetableSums | None


@router.post("/deal-changes", response=TogetherOut, operation_id="change_deals")
def change_many(request: HttpRequest, data: Together) -> TogetherOut:
    """Change several deals: all of them or none."""
    person, base = who(request), settings.BASE_CURRENCY
    changes = [ChangeOfOne(**row.model_dump()) for row in data.rows]
    effect = change_together(person, changes, now=timezone.now(), keep=data.keep)
    rows = deals_shown().filter(pk__in=effect.keys).order_by("pk")
    months = sorted(effect.before.keys() | effect.after.keys())
    return TogetherOut(
        currency=base,
        months=[
            MonthMoves(
                month=month,
                before=sure_money(effect.before.get(month, Cell()).weighted, base),
                after=sure_money(effect.after.get(month, Cell()).weighted, base),
                all_before=sure_money(effect.all_before.get(month, Cell()).weighted, base),
                all_after=sure_money(effect.all_after.get(month, Cell()).weighted, base),
            )
            for month in months
        ],
        rows=[deal_row(deal, today()) for deal in rows],
        sums=_summed(request, data.sums) if data.sums and data.keep else None,
    )
