"""How early the forecast of a month was right: what earlier snapshots said of it, against what came."""

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from decimal import Decimal

from django.utils import timezone

from apps.deals.models import OPEN, WON, Deal
from apps.forecast.models import Seen, Snapshot
from apps.forecast.seen import View, day_of
from apps.forecast.targets import ZERO
from apps.forecast.words import said_until
from routecore.dates import month_end, months_from
from routecore.forecast import Chance, Foretold, held, right_since, spread_of

MONTHS = 12
#: Days from a month's first at which it is looked at.
POINTS = (-90, -60, -30, 0, 14)
#: From this middle on the forecast counts as right.
WITHIN_PERCENT = 10


@dataclass(frozen=True, slots=True, kw_only=True)
class Month:
    """A month that is over: what was foretold of it at each of ``POINTS`` (None where nothing was kept yet), what
    people had committed to as it began, what came; ``right`` is the day from which on the middle was right."""

    first: date
    foretold: list[Foretold | None]
    committed: Decimal | None
    came: Decimal
    right: date | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Backtest:
    """The months, oldest first; of how many ranges, of those foretold from its first day on, how many held what came.

    What is not in the pipeline yet is in no range: earlier ones are lower than what comes.
    """

    months: list[Month]
    held: int
    of: int


@dataclass(frozen=True, slots=True)
class _Row:
    since: datetime
    until: datetime
    decision: date
    chance: Chance


def backtest(view: View, today: date) -> Backtest:
    """Of the twelve months before this one. Four queries."""
    begun = months_from(_months_back(today, MONTHS), MONTHS)
    first, last = begun[0], month_end(begun[-1])
    moments = list(
        Snapshot.objects.filter(at__gte=_moment(first + timedelta(days=POINTS[0] - 40)))
        .order_by("at")
        .values_list("at", flat=True)
    )
    rows = _rows(view, first, last)
    won = _won(view, first, last)
    # What people commit to is of all their deals.
    words = said_until(view.owners, begun) if view.whole else {}
    months = [_month(each, moments, rows, won, words.get(each)) for each in begun]
    pairs = [
        (told, row.came)
        for row in months
        for n, told in zip(POINTS, row.foretold, strict=True)
        if told and n >= 0
    ]
    kept, of = held(pairs)
    return Backtest(months=months, held=kept, of=of)


def _months_back(today: date, many: int) -> date:
    at = today.year * 12 + today.month - 1 - many
    return date(at // 12, at % 12 + 1, 1)


def _moment(day: date) -> datetime:
    """The end of a day by the house's clock."""
    return timezone.make_aware(datetime.combine(day, datetime.max.time()))


def _rows(view: View, first: date, last: date) -> list[_Row]:
    found = Seen.objects.filter(
        view.of_seen, outcome=OPEN, decision_on__range=(first, last)
    ).order_by()
    return [
        _Row(since, until, decision, Chance(amount=amount, probability_percent=percent))
        for since, until, decision, amount, percent in found.values_list(
            "since", "until", "decision_on", "amount", "probability"
        )
    ]


def _won(view: View, first: date, last: date) -> list[tuple[datetime, Decimal]]:
    since = timezone.make_aware(datetime.combine(first, datetime.min.time()))
    found = Deal.objects.filter(
        view.of_deals, outcome=WON, closed_at__gte=since, closed_at__lte=_moment(last)
    ).order_by()
    return [(at, amount) for at, amount in found.values_list("closed_at", "amount") if at]


def _month(
    first: date,
    moments: Sequence[datetime],
    rows: Sequence[_Row],
    won: Sequence[tuple[datetime, Decimal]],
    committed: Decimal | None,
) -> Month:
    last = month_end(first)
    its = [row for row in rows if first <= row.decision <= last]
    came = [(at, amount) for at, amount in won if first <= day_of(at) <= last]
    told = [_foretold(first + timedelta(days=n), moments, its, came) for n in POINTS]
    total = sum((amount for _, amount in came), ZERO)
    known = [row for row in told if row]
    right = right_since(known, total, WITHIN_PERCENT) if known else None
    return Month(first=first, foretold=told, committed=committed, came=total, right=right)


def _foretold(
    day: date,
    moments: Sequence[datetime],
    rows: Sequence[_Row],
    came: Sequence[tuple[datetime, Decimal]],
) -> Foretold | None:
    """What the last snapshot until the end of a day said: won by then, and the range of what was open."""
    found = bisect_right(moments, _moment(day))
    if not found:
        return None
    moment = moments[found - 1]
    on = day_of(moment)
    open_ = [r.chance for r in rows if r.since <= moment < r.until and r.decision >= on]
    spread = spread_of(open_)
    won = sum((amount for at, amount in came if at <= moment), ZERO)
    low, middle, high = (won + spread.quantile(share) for share in (0.1, 0.5, 0.9))
    return Foretold(on=on, low=low, middle=middle, high=high)
