"""Where a customer stands: ageing, exposure and the verdict with its reasons; groups; payments."""

from routecore.standing.ageing import Ageing, OpenItem, age_open_items, days_to_pay
from routecore.standing.allocation import Account, Invoiced, Paid, settle_account
from routecore.standing.group import Group, group_of
from routecore.standing.reason import Reason
from routecore.standing.verdict import Standing, exposure_of, judge_standing

__all__ = [
    "Account",
    "Ageing",
    "Group",
    "Invoiced",
    "OpenItem",
    "Paid",
    "Reason",
    "Standing",
    "age_open_items",
    "days_to_pay",
    "exposure_of",
    "group_of",
    "judge_standing",
    "settle_account",
]
