"""What a customer usually buys: how often, how much, and when the next time is due.

Cadence is the median of the days between purchases, at least three of them. Due is the last purchase and a
cadence more; late is more than one and a half cadences without one, stopped more than three. An item of
which two thirds of the purchases of two or more years lie in one quarter of the year is seasonal: due from
the first week of that quarter, never late outside it.

Source: the house's own rules (``LATE``, ``STOPPED``, ``IN_SEASON``); the median is that of
``statistics.median_low`` over whole days.
"""

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction
from itertools import pairwise
from statistics import median_low

from routecore.errors import InvalidInput
from routecore.exact import EXACT, HUNDRED, ZERO, nearest
from routecore.money import in_own_context, sum_of

#: The fewest intervals, and purchases in the median of a usual quantity.
FEWEST_INTERVALS, USUAL_OF = 3, 5
LATE, STOPPED = Fraction(3, 2), Fraction(3)
IN_SEASON = Fraction(2, 3)
FEWEST_YEARS, FEWEST_IN_SEASON = 2, 3
STATES = ("due", "late", "stopped", "not_yet", "out_of_season", "unknown")


@dataclass(frozen=True, slots=True, kw_only=True)
class Purchase:
    """An invoice line: its day, quantity in the base unit, and what was paid for it, net."""

    on: date
    quantity: Decimal
    net: Decimal = ZERO

    def __post_init__(self) -> None:
        if self.quantity <= 0:
            raise InvalidInput("out_of_range", path="quantity", facts={"value": self.quantity})


@dataclass(frozen=True, slots=True, kw_only=True)
class Habit:
    """How an item is bought, as of a day.

    ``state``: ``due``, ``late``, ``stopped``, ``not_yet``, ``out_of_season``, or ``unknown`` where there are
    too few purchases to tell. ``purchases`` is by how many days of purchase it was reached. ``cadence_days``
    is None where it is not known, ``season`` the quarter (1 to 4) of a seasonal item. ``usual`` is the
    usual quantity in whole packs; ``last_price`` the net paid last for a base unit, to six decimals.
    """

    state: str
    purchases: int
    last_on: date
    last_quantity: Decimal
    last_price: Decimal
    usual: Decimal
    cadence_days: int | None = None
    due_on: date | None = None
    season: int | None = None
    days_over: int = 0


def quarter_of(day: date) -> int:
    """The quarter of a day, 1 to 4.

    >>> quarter_of(date(2026, 3, 31)), quarter_of(date(2026, 4, 1))
    (1, 2)
    """
    return (day.month + 2) // 3


@in_own_context
def habit_of(
    purchases: Iterable[Purchase], today: date, *, pack: Decimal = Decimal(1)
) -> Habit | None:
    """How somebody buys an item; None where they never did. What lies after today is not looked at.

    ``pack`` is the multiple in base units that the item is sold in.

    >>> days = (date(2026, 6, 1), date(2026, 7, 1), date(2026, 8, 2), date(2026, 9, 1))
    >>> bought = [Purchase(on=day, quantity=Decimal(95 + n), net=Decimal(200)) for n, day in enumerate(days)]
    >>> one = habit_of(bought, date(2026, 10, 2), pack=Decimal(10))
    >>> one.state, one.cadence_days, one.due_on, str(one.usual)
    ('due', 30, datetime.date(2026, 10, 1), '100')
    """
    if pack <= 0:
        raise InvalidInput("out_of_range", path="pack", facts={"value": pack})
    by_day = _by_day(purchases, today)
    if not by_day:
        return None
    last = by_day[-1]
    found = _found(by_day, today)
    return Habit(
        state=found.state,
        purchases=len(by_day),
        last_on=last.on,
        last_quantity=last.quantity,
        last_price=nearest(last.net, last.quantity, Decimal("0.000001")),
        usual=_in_packs(_median([row.quantity for row in by_day[-USUAL_OF:]]), pack),
        cadence_days=found.cadence,
        due_on=found.due,
        season=found.season,
        days_over=max(0, (today - found.due).days) if found.due else 0,
    )


@dataclass(frozen=True, slots=True)
class _Found:
    state: str
    cadence: int | None = None
    due: date | None = None
    season: int | None = None


def _by_day(purchases: Iterable[Purchase], today: date) -> list[Purchase]:
    """The purchases up to today, those of one day together, in order."""
    days: dict[date, list[Purchase]] = {}
    for row in purchases:
        if row.on <= today:
            days.setdefault(row.on, []).append(row)
    return [
        Purchase(
            on=day,
            quantity=sum_of(row.quantity for row in rows),
            net=sum_of(row.net for row in rows),
        )
        for day, rows in sorted(days.items())
    ]


def _found(rows: Sequence[Purchase], today: date) -> _Found:
    season = season_of([row.on for row in rows])
    if season is not None:
        return _seasonal(season, rows[-1].on, today)
    gaps = [(other.on - one.on).days for one, other in pairwise(rows)]
    if len(gaps) < FEWEST_INTERVALS:
        return _Found("unknown")
    cadence = median_low(gaps)
    since = (today - rows[-1].on).days
    due = rows[-1].on + timedelta(days=cadence)
    if since > STOPPED * cadence:
        state = "stopped"
    elif since > LATE * cadence:
        state = "late"
    else:
        state = "due" if today >= due else "not_yet"
    return _Found(state, cadence, due)


def season_of(days: Sequence[date]) -> int | None:
    """The quarter in which an item is bought, if it is: two thirds of the purchases of two or more years.

    >>> season_of([date(2024, 2, 1), date(2025, 2, 3), date(2025, 3, 1), date(2026, 8, 1)])
    1
    """
    if len({day.year for day in days}) < FEWEST_YEARS:
        return None
    quarter, count = Counter(map(quarter_of, days)).most_common(1)[0]
    in_it = [day for day in days if quarter_of(day) == quarter]
    enough = count >= FEWEST_IN_SEASON and len({day.year for day in in_it}) >= FEWEST_YEARS
    return quarter if enough and Fraction(count, len(days)) >= IN_SEASON else None


def _seasonal(season: int, last: date, today: date) -> _Found:
    """Due from the first day of the season, until it was bought in it; late in its second half."""
    start = date(today.year, 3 * season - 2, 1)
    following = start if today < start else start.replace(year=today.year + 1)
    if quarter_of(today) != season:
        return _Found("out_of_season", due=following, season=season)
    if last >= start:
        return _Found("not_yet", due=following, season=season)
    half = start + timedelta(days=45)
    return _Found("late" if today >= half else "due", due=start, season=season)


def _median(quantities: Sequence[Decimal]) -> Decimal:
    """The middle quantity; of two in the middle the one between."""
    rows = sorted(quantities)
    middle = len(rows) // 2
    if len(rows) % 2:
        return rows[middle]
    return nearest(EXACT.add(rows[middle - 1], rows[middle]), Decimal(2), Decimal("0.000001"))


def _in_packs(quantity: Decimal, pack: Decimal) -> Decimal:
    """The nearest whole number of packs, one at least."""
    return EXACT.multiply(max(nearest(quantity, pack, Decimal(1)), Decimal(1)), pack)


@in_own_context
def unit_price(
    net: Decimal, quantity: Decimal, *, factor: Decimal = Decimal(1), per: Decimal = Decimal(1)
) -> Decimal:
    """What ``per`` of a unit came to, net, where ``quantity`` base units came to ``net``; to four decimals.

    ``factor`` is how many base units one of the unit holds. Raises ``InvalidInput`` for no quantity.

    >>> unit_price(Decimal("36.00"), Decimal(250), factor=Decimal(100))
    Decimal('14.4000')
    """
    if quantity <= 0:
        raise InvalidInput("out_of_range", path="quantity", facts={"value": quantity})
    top = EXACT.multiply(EXACT.multiply(net, factor), per)
    return nearest(top, quantity, Decimal("0.0001"))


def changed_percent(before: Decimal, after: Decimal) -> Decimal | None:
    """By how much a price has changed, in percent, to a tenth; None where there was none.

    >>> changed_percent(Decimal("2.50"), Decimal("2.65"))
    Decimal('6.0')
    """
    if before <= 0:
        return None
    top = EXACT.multiply(EXACT.subtract(after, before), HUNDRED)
    return nearest(top, before, Decimal("0.1"))
