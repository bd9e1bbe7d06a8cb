"""What is billed by month: invoiced, ordered and not billed yet, and weighted deals as long after their decision as
it usually takes."""

from datetime import date, timedelta
from decimal import Decimal

from django.conf import settings
from django.db.models import QuerySet
from django.http import HttpRequest
from ninja import Query, Router

from api.forecast.outlook import counted_beside
from api.forecast.weighted import ForecastFilters, narrowed
from api.schemas import Schema
from api.shapes import sure_money, today, who
from apps.deals.queries import family_of
from apps.forecast.revenue import (
    ZERO,
    Backlog,
    backlog_of,
    billed_by_day,
    billed_days_of,
    invoices_of,
    kept_by_day,
    lead_of,
    of_people,
    revenue_of,
)
from apps.forecast.targets import targets_within
from apps.ledger.models import Invoice
from apps.people.access import members_of
from apps.people.models import User
from routecore.dates import month_end, months_from
from routecore.forecast import RevenueMonth
from routecore.money import round_amount

router = Router(tags=["forecast"])
#: Months before this one, and from this one on.
BACK, AHEAD = 5, 7


class RevenueMonthOut(Schema):
    """A month: invoiced, backlog by the day it leaves, open deals weighted; ``decided_since`` to ``decided_until`` are
    the days on which those deals are decided, None where none can be."""

    month: str
    invoiced: str
    backlog: str
    weighted: str
    total: str
    target: str | None
    decided_since: date | None
    decided_until: date | None


class UsualLead(Schema):
    """Days from the order to its invoice, in the middle of so many invoices; ``own``: of these, not of the house's."""

    days: int
    invoices: int
    own: bool


class RevenueOut(Schema):
    """Revenue in the base currency, without tax. ``later`` is after the last month, from ``later_since`` on decided;
    ``undated`` backlog of which no day is known; ``year`` what was invoiced since the first of January."""

    currency: str
    months: list[RevenueMonthOut]
    year: str
    later_backlog: str
    later_weighted: str
    later_since: date
    undated: str
    lead: UsualLead


def billed_of(person: User, filters: ForecastFilters) -> QuerySet[Invoice]:
    """The invoices of a view."""
    rows = invoices_of(person)
    people = _people(filters)
    rows = rows if people is None else of_people(rows, people)
    return rows.filter(customer_id__among=_customers(filters)) if filters.customer else rows


def ordered_of(person: User, filters: ForecastFilters) -> Backlog:
    """The backlog of a view."""
    rows = backlog_of(person)
    people = _people(filters)
    if people is not None:
        rows = rows.filter(order__owner_id__among=people)
    return rows.filter(order__customer_id__among=_customers(filters)) if filters.customer else rows


def _people(filters: ForecastFilters) -> set[int] | None:
    """Of whom; None for everybody. One query for a team's."""
    people = set(members_of(filters.team)) if filters.team else None
    if filters.owner:
        return {filters.owner} if people is None else people & {filters.owner}
    return people


def _customers(filters: ForecastFilters) -> list[int]:
    customer = filters.customer or 0
    return family_of(customer) if filters.family else [customer]


def shown_months(on: date) -> list[date]:
    """The first days of the months that are shown."""
    first = on.replace(day=1)
    for _ in range(BACK):
        first = (first - timedelta(days=1)).replace(day=1)
    return months_from(first, BACK + AHEAD)


@router.get("/forecast/revenue", response=RevenueOut, operation_id="get_revenue")
def revenue(request: HttpRequest, filters: Query[ForecastFilters]) -> RevenueOut:
    """Revenue by month against the targets. At most nine queries."""
    on, person, base = today(), who(request), settings.BASE_CURRENCY
    months = shown_months(on)
    last = month_end(months[-1])
    mine = billed_of(person, filters)
    lead = lead_of(mine, on)
    new_year = date(on.year, 1, 1)
    invoiced = _invoiced(person, filters, min(new_year, months[0]), on)
    found = revenue_of(
        months,
        invoiced=invoiced,
        backlog=ordered_of(person, filters),
        deals=narrowed(person, filters, on, state="open"),
        lead_days=lead.days,
        today=on,
    )
    targets = targets_within(counted_beside(person, filters), months[0], last)
    since_january = sum((amount for day, amount in invoiced if day >= new_year), ZERO)

    def money(value: Decimal) -> str:
        return sure_money(round_amount(value, base), base)

    return RevenueOut(
        currency=base,
        months=[_month(row, targets.get(row.first)) for row in found.months],
        year=money(since_january),
        later_backlog=money(found.later_backlog),
        later_weighted=money(found.later_weighted),
        later_since=max(on, last + timedelta(days=1 - lead.days)),
        undated=money(found.undated),
        lead=UsualLead(days=lead.days, invoices=lead.invoices, own=lead.own),
    )


def _invoiced(
    person: User, filters: ForecastFilters, first: date, last: date
) -> list[tuple[date, Decimal]]:
    """By day: added up from what is kept by day and person; of a customer, from its invoices."""
    if filters.customer:
        return billed_by_day(billed_of(person, filters), first, last)
    return kept_by_day(billed_days_of(person, _people(filters)), first, last)


def _month(row: RevenueMonth, target: Decimal | None) -> RevenueMonthOut:
    base = settings.BASE_CURRENCY

    def money(value: Decimal) -> str:
        return sure_money(round_amount(value, base), base)

    return RevenueMonthOut(
        month=f"{row.first:%Y-%m}",
        invoiced=money(row.invoiced),
        backlog=money(row.backlog),
        weighted=money(row.weighted),
        total=money(row.total),
        target=None if target is None else money(target),
        decided_since=row.decided[0] if row.decided else None,
        decided_until=row.decided[1] if row.decided else None,
    )
