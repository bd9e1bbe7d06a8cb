"""What is billed by month: invoiced so far, the backlog by promised delivery, open deals later by the usual lead time.

Every amount is in the base currency and was rounded by itself, so that a month adds up to the invoices, order lines
and deals behind it. Goods that should have left, or have left and are not billed, are expected today; order lines
without a known day stand apart, as do deals whose decision day has gone by.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal

from routecore.dates import month_end
from routecore.errors import InvalidInput
from routecore.exact import EXACT
from routecore.money import ZERO, in_own_context

#: Fewer invoices than these say nothing about how long it usually takes.
ENOUGH = 10


@dataclass(frozen=True, slots=True, kw_only=True)
class RevenueMonth:
    """A month from its first day; the days on which deals are decided that are billed in it, None where none are."""

    first: date
    last: date
    invoiced: Decimal
    backlog: Decimal
    weighted: Decimal
    decided: tuple[date, date] | None

    @property
    def total(self) -> Decimal:
        """All three."""
        return EXACT.add(EXACT.add(self.invoiced, self.backlog), self.weighted)


@dataclass(frozen=True, slots=True, kw_only=True)
class Revenue:
    """Months in their order, and what is in none of them: ``later`` ones, order lines without a day."""

    months: tuple[RevenueMonth, ...]
    later_backlog: Decimal
    later_weighted: Decimal
    undated: Decimal


def usual_lead(days: Iterable[int]) -> int | None:
    """Days from the order to its invoice in the middle of all, the lower of two; None for fewer than ``ENOUGH``.

    An invoice before its order counts as none.

    >>> usual_lead([3, 40, 12, 9, 9, 14, 20, 15, 8, 11]), usual_lead([5, 6])
    (11, None)
    """
    known = sorted(max(0, each) for each in days)
    return known[(len(known) - 1) // 2] if len(known) >= ENOUGH else None


@in_own_context
def revenue_by_month(
    firsts: Sequence[date],
    *,
    invoiced: Iterable[tuple[date, Decimal]],
    backlog: Iterable[tuple[date | None, Decimal]],
    deals: Iterable[tuple[date, Decimal]],
    today: date,
    lead_days: int,
) -> Revenue:
    """What is billed in each of the months that begin on ``firsts``, which follow each other.

    ``invoiced`` by day, credit notes below zero; ``backlog`` by the day on which it leaves; ``deals``, weighted, by
    their decision day. Invoices of other months, and deals decided before ``today``, count nowhere.
    """
    if lead_days < 0:
        raise InvalidInput("out_of_range", path="lead_days", facts={"value": lead_days})
    last = month_end(firsts[-1])
    lead = timedelta(days=lead_days)
    goods = list(backlog)
    bills, _ = _months(invoiced, last)
    left, later_backlog = _months(((max(on, today), amount) for on, amount in goods if on), last)
    ahead = ((on + lead, amount) for on, amount in deals if on >= today)
    hopes, later_weighted = _months(ahead, last)
    return Revenue(
        months=tuple(
            RevenueMonth(
                first=first,
                last=month_end(first),
                invoiced=bills.get(first, ZERO),
                backlog=left.get(first, ZERO),
                weighted=hopes.get(first, ZERO),
                decided=_decided(first, today, lead),
            )
            for first in firsts
        ),
        later_backlog=later_backlog,
        later_weighted=later_weighted,
        undated=sum((amount for on, amount in goods if on is None), ZERO),
    )


def _months(
    rows: Iterable[tuple[date, Decimal]], last: date
) -> tuple[dict[date, Decimal], Decimal]:
    """By the first day of each month until ``last``, and what comes after it."""
    sums: dict[date, Decimal] = {}
    later = ZERO
    for on, amount in rows:
        if on > last:
            later = EXACT.add(later, amount)
        else:
            first = on.replace(day=1)
            sums[first] = EXACT.add(sums.get(first, ZERO), amount)
    return sums, later


def _decided(first: date, today: date, lead: timedelta) -> tuple[date, date] | None:
    since, until = max(first - lead, today), month_end(first) - lead
    return (since, until) if since <= until else None
