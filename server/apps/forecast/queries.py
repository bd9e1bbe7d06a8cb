"""What was won and may be won, month by month, against what is to be won."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal
from functools import lru_cache

from django.db.models import Sum

from apps.deals.models import DealQuerySet
from apps.deals.queries import won_on, won_within
from apps.forecast.called import Called, open_chances
from apps.forecast.targets import ZERO, Counted, targets_within
from routecore.dates import month_end, months_from, quarter_of
from routecore.forecast import Chance, Spread, spread_of

#: This month and so many after it.
AHEAD = 5


@dataclass(frozen=True, slots=True, kw_only=True)
class Period:
    """A month or a quarter: its days, what was won in it, the open deals that are to be decided in it, the target."""

    first: date
    last: date
    won: Decimal
    count: int
    spread: Spread
    target: Decimal | None

    @property
    def quarter(self) -> bool:
        """Whether it is three months."""
        return self.last - self.first > timedelta(days=31)

    def reached(self, share: float) -> Decimal:
        """What is not exceeded with this probability, with what is won already."""
        return self.won + self.spread.quantile(share)

    @property
    def chance(self) -> float | None:
        """The probability that the target is reached; None without one."""
        return None if self.target is None else self.spread.reaches(self.target - self.won)


def periods_of(
    rows: DealQuerySet, counted: Counted, *, today: date, called: Called
) -> list[Period]:
    """This month and those ahead, then this quarter and the next. Three queries.

    ``rows`` are the deals of a view, open and closed; deals whose day has gone by are in no period.
    """
    months = months_from(today, AHEAD + 1)
    spans = [(month, month_end(month)) for month in months]
    this = quarter_of(today)
    spans += [this, quarter_of(this[1] + timedelta(days=1))]
    first, last = this[0], max(end for _, end in spans)
    open_ = open_chances(rows, today, last, called)
    won = won_by_month(rows, first, today)
    targets = targets_within(counted, first, last)
    return [
        _period(span, open_, won, targets, season_percent=called.season_percent) for span in spans
    ]


def _period(
    span: tuple[date, date],
    open_: Sequence[tuple[date, Chance]],
    won: Mapping[date, Decimal],
    targets: Mapping[date, Decimal],
    *,
    season_percent: Decimal,
) -> Period:
    first, last = span
    deals = [chance for on, chance in open_ if first <= on <= last]
    set_ = [amount for month, amount in targets.items() if first <= month <= last]
    return Period(
        first=first,
        last=last,
        won=sum((amount for on, amount in won.items() if first <= on <= last), ZERO),
        count=len(deals),
        spread=_spread(tuple(deals), season_percent),
        target=sum(set_, ZERO) if set_ else None,
    )


@lru_cache(maxsize=64)
def _spread(deals: tuple[Chance, ...], season_percent: Decimal) -> Spread:
    """``spread_of``, computed once while the deals stay as they are: a change counts anew where it falls alone."""
    return spread_of(deals, season_percent=season_percent)


def won_by_month(rows: DealQuerySet, first: date, today: date) -> dict[date, Decimal]:
    """What was won from the month of ``first`` to today, by the first days of months, by the house's clock. One query."""
    months = [month for month in months_from(first, 3) if month <= today]
    sums = {
        f"from_{month:%Y_%m}": Sum("amount", filter=won_on(month, min(today, month_end(month))))
        for month in months
    }
    found = won_within(rows, first, today).order_by().aggregate(**sums) if sums else {}
    return {month: amount or ZERO for month, amount in zip(months, found.values(), strict=True)}
