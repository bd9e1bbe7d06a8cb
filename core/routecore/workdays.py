"""Working days: weekends and holidays count for nothing.

Checked in the tests against ``numpy.busday_offset`` and ``numpy.busday_count`` (NumPy's reference). Which
days are holidays is given.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta

from routecore.errors import InvalidInput

SATURDAY, SUNDAY = 5, 6
DAY = timedelta(days=1)
#: A calendar that leaves no working day in so many days is none.
LONGEST_PAUSE = 60


@dataclass(frozen=True, slots=True)
class Workdays:
    """A calendar of working days; ``weekend`` counts from Monday = 0."""

    holidays: frozenset[date] = frozenset()
    weekend: frozenset[int] = frozenset({SATURDAY, SUNDAY})

    def works(self, day: date) -> bool:
        """Whether somebody works on a day."""
        return day.weekday() not in self.weekend and day not in self.holidays

    def first_from(self, day: date) -> date:
        """The first working day on or after a day.

        >>> Workdays().first_from(date(2026, 11, 28))
        datetime.date(2026, 11, 30)
        """
        for ahead in range(LONGEST_PAUSE):
            if self.works(day + ahead * DAY):
                return day + ahead * DAY
        raise InvalidInput("no_working_day", path="calendar", facts={"from": day})

    def last_until(self, day: date) -> date:
        """The last working day on or before a day."""
        for back in range(LONGEST_PAUSE):
            if self.works(day - back * DAY):
                return day - back * DAY
        raise InvalidInput("no_working_day", path="calendar", facts={"from": day})

    def after(self, day: date, days: int) -> date:
        """So many working days after a day; 0 is the first working day on or after it.

        >>> Workdays().after(date(2026, 11, 27), 1), Workdays().after(date(2026, 11, 28), 1)
        (datetime.date(2026, 11, 30), datetime.date(2026, 12, 1))
        """
        if days < 0:
            raise InvalidInput("out_of_range", path="days", facts={"value": days})
        found = self.first_from(day)
        for _ in range(days):
            found = self.first_from(found + DAY)
        return found

    def before(self, day: date, days: int) -> date:
        """So many working days before a day; 0 is the last working day on or before it."""
        if days < 0:
            raise InvalidInput("out_of_range", path="days", facts={"value": days})
        found = self.last_until(day)
        for _ in range(days):
            found = self.last_until(found - DAY)
        return found

    def between(self, start: date, end: date) -> int:
        """The working days from ``start`` on, before ``end``; negative where it lies before.

        >>> Workdays().between(date(2026, 11, 26), date(2026, 12, 1))
        3
        """
        if end < start:
            return -self.between(end, start)
        return sum(self.works(start + n * DAY) for n in range((end - start).days))


def joined(calendars: Iterable[Workdays]) -> Workdays:
    """The days on which all of them work."""
    found = list(calendars)
    return Workdays(
        frozenset().union(*(each.holidays for each in found)),
        frozenset().union(*(each.weekend for each in found)),
    )
