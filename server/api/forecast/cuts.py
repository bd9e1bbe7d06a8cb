"""The open deals by what they are about, by customer, by confidence: each cut adds up to the same total."""

from collections.abc import Mapping
from typing import Annotated, Literal

from django.conf import settings
from django.db.models import Count, Sum
from django.http import HttpRequest
from ninja import Query, Router
from pydantic import StringConstraints

from api.forecast.weighted import CellOut, ForecastFilters, cell_out, narrowed
from api.schemas import Schema
from api.shapes import sure_money, today, who
from apps.catalogue.models import ItemGroup
from apps.deals.models import Deal, DealQuerySet
from apps.deals.queries import weighted
from apps.forecast.goods import goods_of
from apps.people.models import Team
from routecore.forecast import Cell, by_goods
from routecore.money import ZERO

router = Router(tags=["forecast"])
#: So many customers are named, those with most first; so many deals of a group.
NAMED = 20


class CutFilters(ForecastFilters):
    """By what; of the item groups, the one whose deals are told ("none": of deals that name no item)."""

    by: Literal["goods", "customer", "confidence", "team"] = "goods"
    group: Annotated[str, StringConstraints(pattern=r"^([0-9]{1,9}|none)?$")] = ""


class GoodsPart(Schema):
    """A deal, and the part of it that is of a group."""

    id: int
    title: str
    customer: str
    amount: str
    weighted: str


class CutOut(Schema):
    """The cells, those with most first; ``others`` together, where not all are named. ``parts`` are the deals of the
    group that was asked for, ``rest`` what its others come to."""

    currency: str
    cells: list[CellOut]
    others: CellOut | None
    parts: list[GoodsPart]
    rest: CellOut | None


@router.get("/forecast/cuts", response=CutOut, operation_id="get_cut")
def cut(request: HttpRequest, filters: Query[CutFilters]) -> CutOut:
    """The open deals by one thing. At most eight queries."""
    rows = narrowed(who(request), filters, today(), state="open")
    if filters.by == "goods":
        return _by_goods(rows, filters.group)
    path = {"customer": "customer_id", "confidence": "confidence", "team": "owner__team_id"}
    found = rows.order_by().values_list(path[filters.by])
    cells = {
        str(key or ""): Cell(*figures)
        for key, *figures in found.annotate(Count("pk"), Sum("amount"), weight=Sum(weighted()))
    }
    return _cut(cells, _names(filters.by, cells))


def _names(by: str, cells: Mapping[str, Cell]) -> dict[str, str]:
    if by == "customer":
        keys = [int(key) for key in cells]
        named = Deal.objects.filter(customer__among=keys).order_by()
        pairs = named.values_list("customer_id", "customer_name").distinct()
        return {str(key): name for key, name in pairs}
    if by == "team":
        return {str(key): name for key, name in Team.objects.values_list("pk", "name")}
    return {}


def _cut(
    cells: Mapping[str, Cell],
    names: Mapping[str, str],
    parts: list[GoodsPart] | None = None,
    rest: Cell | None = None,
) -> CutOut:
    ordered = sorted(cells.items(), key=lambda each: (-each[1].weighted, each[0]))
    others = Cell(0, ZERO, ZERO)
    for _, cell in ordered[NAMED:]:
        others = others.joined(cell)
    return CutOut(
        currency=settings.BASE_CURRENCY,
        cells=[cell_out(key, names.get(key, ""), cell) for key, cell in ordered[:NAMED]],
        others=cell_out("", "", others) if others.count else None,
        parts=parts or [],
        rest=cell_out("", "", rest) if rest and rest.count else None,
    )


def _by_goods(rows: DealQuerySet, group: str) -> CutOut:
    shares = goods_of(rows)
    names = {str(key): name for key, name in ItemGroup.objects.values_list("pk", "name")}
    if not group:
        return _cut(by_goods(shares.values()), names)
    key = "" if group == "none" else group
    mine = {deal: cells[key] for deal, cells in shares.items() if key in cells}
    ordered = sorted(mine.items(), key=lambda each: (-each[1].weighted, each[0]))
    rest = Cell(0, ZERO, ZERO)
    for _, cell in ordered[NAMED:]:
        rest = rest.joined(cell)
    shown = ordered[:NAMED]
    deals = Deal.objects.in_bulk([deal for deal, _ in shown])
    parts = [_part(deals[deal], cell) for deal, cell in shown]
    return _cut(by_goods(shares.values()), names, parts, rest)


def _part(deal: Deal, cell: Cell) -> GoodsPart:
    base = settings.BASE_CURRENCY
    return GoodsPart(
        id=deal.pk,
        title=deal.title,
        customer=deal.customer_name,
        amount=sure_money(cell.amount, base),
        weighted=sure_money(cell.weighted, base),
    )
