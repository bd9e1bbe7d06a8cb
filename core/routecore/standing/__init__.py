"""Where a customer stands: ageing, exposure and the verdict with its reasons."""

from routecore.standing.ageing import Ageing, OpenItem, age_open_items, days_to_pay
from routecore.standing.verdict import Reason, Standing, judge_standing

__all__ = [
    "Ageing",
    "OpenItem",
    "Reason",
    "Standing",
    "age_open_items",
    "days_to_pay",
    "judge_standing",
]
