"""Days that payment terms speak of: when an amount falls due.

Source: the forms of terms named in common trade use, no published standard; the ageing example of
31 January is checked in ``tests/core/test_dates.py``.
"""

from calendar import monthrange
from dataclasses import dataclass
from datetime import date, timedelta

from routecore.errors import InvalidInput


@dataclass(frozen=True, slots=True, kw_only=True)
class Terms:
    """When one amount falls due: net ``days``, a month finished first or after, or a fixed day.

    ``end_of_month`` "after": n days, then to the end of that month; "before": the end of the
    invoice's month, then n days. ``fixed_day``: that day of the month after the invoice's (its last,
    where the month is shorter); days are then 0.
    """

    days: int = 0
    end_of_month: str = ""
    fixed_day: int | None = None

    def __post_init__(self) -> None:
        if not 0 <= self.days <= 365:
            raise InvalidInput("out_of_range", path="days", facts={"value": self.days})
        if self.end_of_month not in ("", "after", "before"):
            raise InvalidInput(
                "unknown_choice", path="end_of_month", facts={"value": self.end_of_month}
            )
        if self.fixed_day is None:
            return
        if not 1 <= self.fixed_day <= 31:
            raise InvalidInput("out_of_range", path="fixed_day", facts={"value": self.fixed_day})
        if self.days or self.end_of_month:
            raise InvalidInput("fixed_day_alone", path="fixed_day")

    def due(self, invoiced: date) -> date:
        """The day on which an invoice of this date falls due.

        >>> Terms(days=30).due(date(2026, 1, 31)), Terms(fixed_day=31).due(date(2026, 1, 5))
        (datetime.date(2026, 3, 2), datetime.date(2026, 2, 28))
        """
        if self.fixed_day is not None:
            following = month_end(invoiced) + timedelta(days=1)
            return following.replace(day=min(self.fixed_day, month_end(following).day))
        if self.end_of_month == "before":
            return month_end(invoiced) + timedelta(days=self.days)
        due = invoiced + timedelta(days=self.days)
        return month_end(due) if self.end_of_month == "after" else due


def month_end(day: date) -> date:
    """The last day of the month.

    >>> month_end(date(2028, 2, 3))
    datetime.date(2028, 2, 29)
    """
    return day.replace(day=monthrange(day.year, day.month)[1])


def months_back(day: date, months: int) -> date:
    """The same day so many months before, or the last of a shorter month.

    >>> months_back(date(2026, 3, 31), 1), months_back(date(2026, 1, 15), 24)
    (datetime.date(2026, 2, 28), datetime.date(2024, 1, 15))
    """
    years, month = divmod(day.year * 12 + day.month - 1 - months, 12)
    first = date(years, month + 1, 1)
    return first.replace(day=min(day.day, month_end(first).day))


def month_start(day: date) -> date:
    """The first day of the month."""
    return day.replace(day=1)


def months_from(first: date, many: int) -> list[date]:
    """The first days of so many months, from that of ``first`` on."""
    found = [month_start(first)]
    while len(found) < many:
        found.append(month_end(found[-1]) + timedelta(days=1))
    return found


def quarter_of(day: date) -> tuple[date, date]:
    """The first and the last day of its quarter of the year.

    >>> quarter_of(date(2026, 11, 28))
    (datetime.date(2026, 10, 1), datetime.date(2026, 12, 31))
    """
    first = date(day.year, (day.month - 1) // 3 * 3 + 1, 1)
    return first, month_end(months_from(first, 3)[-1])
