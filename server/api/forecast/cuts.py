"""The deals by what they are about, by customer, by confidence, by team: each cut adds up to the same total."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from datetime import date, timedelta
from decimal import Decimal
from typing import Annotated, Literal

from django.conf import settings
from django.db.models import Count, Sum
from django.http import HttpRequest
from ninja import Query, Router
from pydantic import StringConstraints

from api.forecast.outlook import counted_beside
from api.forecast.weighted import CellOut, ForecastFilters, cell_out, narrowed
from api.schemas import Schema
from api.shapes import sure_money, today, who
from apps.catalogue.models import ItemGroup
from apps.customers.models import Customer
from apps.deals.models import OPEN, Deal, DealQuerySet
from apps.deals.queries import weighted, won_within
from apps.forecast.goods import goods_of
from apps.forecast.targets import group_targets, targets_by_team
from apps.people.models import Team, User
from routecore.dates import month_end, month_start, quarter_of
from routecore.forecast import Cell, by_goods
from routecore.money import ZERO

router = Router(tags=["forecast"])
#: So many customers are named, those with most first; so many deals of a group.
NAMED = 20


class CutFilters(ForecastFilters):
    """By what; decided when: this month, this quarter or the next, empty for any day. Of the item groups, the one whose
    deals are told ("none": of deals that name no item)."""

    by: Literal["goods", "customer", "confidence", "team"] = "goods"
    within: Literal["", "month", "quarter", "next"] = ""
    group: Annotated[str, StringConstraints(pattern=r"^([0-9]{1,9}|none)?$")] = ""


class CutCell(CellOut):
    """A cell; within a period also what was ``won`` in it, and what is to be won, where that is set."""

    won: str | None
    target: str | None


class GoodsPart(Schema):
    """A deal, and the part of it that is of a group; what was won is not weighted."""

    id: int
    title: str
    customer: str
    won: bool
    amount: str
    weighted: str


class CutOut(Schema):
    """The cells, those with most first; ``others`` together, where not all are named; the first and the last day of the
    period, and the day from which open deals count in it. ``parts`` are the deals of the group that was asked for,
    ``rest`` what its others come to."""

    currency: str
    first: date | None
    last: date | None
    open_since: date | None
    cells: list[CutCell]
    others: CutCell | None
    parts: list[GoodsPart]
    rest: CutCell | None


@dataclass(kw_only=True)
class Cut:
    """What deals come to by the keys of a cut: open ones, and within a period won ones and what is to be won."""

    open: Mapping[str, Cell]
    won: Mapping[str, Decimal] = field(default_factory=dict)
    targets: Mapping[str, Decimal] = field(default_factory=dict)

    def ordered(self) -> list[str]:
        """The keys, those with most first."""
        most = {key: self.open.get(key, NOTHING).weighted + self.won.get(key, ZERO) for key in self}
        return sorted(most, key=lambda key: (-most[key], key))

    def __iter__(self) -> Iterator[str]:
        return iter({**self.open, **self.won, **self.targets})


NOTHING = Cell(0, ZERO, ZERO)
Span = tuple[date, date]


def _span(within: str, on: date) -> Span | None:
    if within == "month":
        return month_start(on), month_end(on)
    first, last = quarter_of(on)
    if within == "next":
        return quarter_of(last + timedelta(days=1))
    return (first, last) if within else None


@router.get("/forecast/cuts", response=CutOut, operation_id="get_cut")
def cut(request: HttpRequest, filters: Query[CutFilters]) -> CutOut:
    """The open deals by one thing; within a period beside what was won, and what is to be. At most thirteen queries."""
    person, on = who(request), today()
    span = _span(filters.within, on)
    rows = narrowed(person, filters, on)
    open_, won = rows.filter(outcome=OPEN), rows.none()
    if span:
        open_ = open_.filter(decision_on__range=(max(span[0], on), span[1]))
        won = won_within(rows, *span)
    if filters.by == "goods":
        return _by_goods(person, filters, span, open_, won)
    path = {"customer": "customer_id", "confidence": "confidence", "team": "owner__team_id"}
    key_of = path[filters.by]
    found = open_.order_by().values_list(key_of)
    taken = won.order_by().values_list(key_of).annotate(Sum("amount")) if span else []
    cut = Cut(
        open={
            str(key or ""): Cell(*figures)
            for key, *figures in found.annotate(Count("pk"), Sum("amount"), weight=Sum(weighted()))
        },
        won={str(key or ""): amount for key, amount in taken},
        targets=_team_targets(person, filters, span) if span and filters.by == "team" else {},
    )
    return _told(cut, _names(filters.by, cut.ordered()[:NAMED]), span)


def _team_targets(person: User, filters: CutFilters, span: Span) -> dict[str, Decimal]:
    """What each whole team is to win: by its own targets, else by its people's. Three queries at most."""
    found = targets_by_team(counted_beside(person, filters), *span)
    return {str(team): amount for team, amount in found.items()}


def _names(by: str, keys: Iterable[str]) -> dict[str, str]:
    if by == "customer":
        named = Customer.objects.filter(pk__in=[int(key) for key in keys])
        return {str(key): name for key, name in named.values_list("pk", "name")}
    if by == "team":
        return {str(key): name for key, name in Team.objects.values_list("pk", "name")}
    return {}


def _told(
    cut: Cut,
    names: Mapping[str, str],
    span: Span | None,
    parts: list[GoodsPart] | None = None,
    rest: CutCell | None = None,
) -> CutOut:
    keys = cut.ordered()
    others = NOTHING
    for key in keys[NAMED:]:
        others = others.joined(cut.open.get(key, NOTHING))
    won = sum((cut.won.get(key, ZERO) for key in keys[NAMED:]), ZERO)
    more = len(keys) > NAMED
    return CutOut(
        currency=settings.BASE_CURRENCY,
        first=span[0] if span else None,
        last=span[1] if span else None,
        open_since=max(span[0], today()) if span else None,
        cells=[
            _cell(
                cell_out(key, names.get(key, ""), cut.open.get(key, NOTHING)),
                cut.won.get(key, ZERO) if span else None,
                cut.targets.get(key),
            )
            for key in keys[:NAMED]
        ],
        others=_cell(cell_out("", "", others), won if span else None, None) if more else None,
        parts=parts or [],
        rest=rest,
    )


def _cell(cell: CellOut, won: Decimal | None, target: Decimal | None) -> CutCell:
    base = settings.BASE_CURRENCY
    return CutCell(
        **cell.model_dump(),
        won=None if won is None else sure_money(won, base),
        target=None if target is None else sure_money(target, base),
    )


def _by_goods(
    person: User, filters: CutFilters, span: Span | None, open_: DealQuerySet, won: DealQuerySet
) -> CutOut:
    shares = goods_of(open_)
    taken = (
        {
            deal: {key: Cell(1, cell.amount, cell.amount) for key, cell in cells.items()}
            for deal, cells in goods_of(won).items()
        }
        if span
        else {}
    )
    cut = Cut(
        open=by_goods(shares.values()),
        won={key: cell.amount for key, cell in by_goods(taken.values()).items()},
        targets={
            str(group): amount
            for group, amount in group_targets(counted_beside(person, filters), *span).items()
        }
        if span
        else {},
    )
    names = {str(key): name for key, name in ItemGroup.objects.values_list("pk", "name")}
    if not filters.group:
        return _told(cut, names, span)
    key = "" if filters.group == "none" else filters.group
    mine = {deal: cells[key] for deal, cells in {**shares, **taken}.items() if key in cells}
    ordered = sorted(mine.items(), key=lambda each: (-each[1].weighted, each[0]))
    shown, more = ordered[:NAMED], ordered[NAMED:]
    open_rest, won_rest = NOTHING, ZERO
    for deal, cell in more:
        if deal in taken:
            won_rest += cell.amount
        else:
            open_rest = open_rest.joined(cell)
    rest = _cell(cell_out("", "", open_rest), won_rest if span else None, None) if more else None
    deals = Deal.objects.in_bulk([deal for deal, _ in shown])
    parts = [_part(deals[deal], cell, won=deal in taken) for deal, cell in shown]
    return _told(cut, names, span, parts, rest)


def _part(deal: Deal, cell: Cell, *, won: bool) -> GoodsPart:
    base = settings.BASE_CURRENCY
    return GoodsPart(
        id=deal.pk,
        title=deal.title,
        customer=deal.customer_name,
        won=won,
        amount=sure_money(cell.amount, base),
        weighted=sure_money(cell.weighted, base),
    )
