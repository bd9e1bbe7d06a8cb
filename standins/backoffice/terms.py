"""When an invoice is due, by the back office's own reckoning."""

from collections.abc import Sequence
from datetime import date, timedelta
from typing import Any


def due_day(
    invoiced: date,
    days: int,
    end_of_month: str,
    fixed_day: int | None = None,
    instalments: Sequence[dict[str, Any]] = (),
    early: dict[str, Any] | None = None,
) -> date:
    """When all of the invoice is due; paying early moves nothing."""

    def last(day: date) -> date:
        return (day.replace(day=28) + timedelta(days=4)).replace(day=1) - timedelta(days=1)

    if instalments:
        return max(invoiced + timedelta(days=int(part["days"])) for part in instalments)
    if fixed_day is not None:
        following = last(invoiced) + timedelta(days=1)
        return following.replace(day=min(fixed_day, last(following).day))
    if end_of_month == "before":
        return last(invoiced) + timedelta(days=days)
    due = invoiced + timedelta(days=days)
    return last(due) if end_of_month == "after" else due
