"""Due dates from payment terms.

Source: the forms of terms named in common trade use (net n days; n days end of month), no
published standard; the ageing example is checked in ``tests/core/test_dates.py``.
"""

from calendar import monthrange
from dataclasses import dataclass
from datetime import date, timedelta

from routecore.errors import InvalidInput


@dataclass(frozen=True, slots=True, kw_only=True)
class Terms:
    """Payment terms: net ``days``; with ``end_of_month`` the month is finished first counted out.

    ``end_of_month`` "after": n days, then to the end of that month; "before": the end of the
    invoice's month, then n days.
    """

    days: int
    end_of_month: str = ""

    def __post_init__(self) -> None:
        if not 0 <= self.days <= 365:
            raise InvalidInput("out_of_range", path="days", facts={"value": self.days})
        if self.end_of_month not in ("", "after", "before"):
            raise InvalidInput(
                "unknown_choice", path="end_of_month", facts={"value": self.end_of_month}
            )

    def due(self, invoiced: date) -> date:
        """The day on which an invoice of this date falls due.

        >>> Terms(days=30).due(date(2026, 1, 31))
        datetime.date(2026, 3, 2)
        """
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


def month_start(day: date) -> date:
    """The first day of the month."""
    return day.replace(day=1)
