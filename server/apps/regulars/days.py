"""Making a customer's day: the verdict of its standing, and what of its regulars is due or stopped."""

from collections.abc import Iterable, Mapping, Sequence
from datetime import date
from decimal import Decimal
from typing import Any

from django.db.models import Q

from apps.catalogue.models import Item
from apps.customers.models import Customer
from apps.customers.standing import standings
from apps.errors import FlowError
from apps.regulars.buying import USUAL_PERIOD, Bought, bought_each
from apps.regulars.models import CustomerDay
from routecore.dates import months_back
from routecore.errors import CoreError
from routecore.regulars import Habit, habit_of
from routecore.standing import Standing

#: So many customers in one go.
BATCH = 50
#: An item is told as stopped for so many days after it was noticed; then it is the past.
TOLD_DAYS = 365
AT_LIMIT = ("over_limit", "near_limit")
FIELDS = ("on", "verdict", "at_limit", "overdue", "due", "stopped", "stopped_purchases")


def renew(today: date, *, age_hours: int = 0, most: int = BATCH) -> int:
    """Make some of the days that are not of today; how many. A constant number of queries."""
    stale = Q(day__isnull=True) | Q(day__on__isnull=True) | Q(day__on__lt=today)
    rows = list(Customer.objects.filter(stale).order_by("pk")[:most])
    if rows:
        try:
            _make(rows, today, age_hours)
        except (FlowError, CoreError):
            _one_by_one(rows, today, age_hours)
    return len(rows)


def _one_by_one(rows: Sequence[Customer], today: date, age_hours: int) -> None:
    """One that cannot be judged, as for want of a rate, is a caution and holds up nobody else."""
    for row in rows:
        try:
            _make([row], today, age_hours)
        except (FlowError, CoreError):
            CustomerDay.objects.update_or_create(
                customer=row, defaults={"on": today, "verdict": "caution"}
            )


def _make(rows: Sequence[Customer], today: date, age_hours: int) -> None:
    stand = standings(rows, today, age_hours=age_hours)
    goods = bought_each([row.pk for row in rows], months_back(today, USUAL_PERIOD), today)
    named = {item for each in goods.values() for item in each}
    names = dict(Item.objects.filter(pk__in=named).values_list("pk", "name"))
    made = [
        CustomerDay(customer=row, **_facts(stand[row.pk], goods.get(row.pk, {}), names, today))
        for row in rows
    ]
    CustomerDay.objects.bulk_create(made, update_conflicts=True, update_fields=list(FIELDS))


def forget_day(customer: int) -> None:
    """Something has changed: the customer's day is to be made anew."""
    CustomerDay.objects.filter(customer_id=customer).update(on=None)


def _facts(
    standing: Standing, goods: Mapping[int, Bought], names: Mapping[int, str], today: date
) -> dict[str, Any]:
    habits = {
        item: habit_of(each.purchases, today, pack=each.item.pack_multiple or Decimal(1))
        for item, each in goods.items()
    }
    known = {item: habit for item, habit in habits.items() if habit is not None}
    stopped = _stopped(known, names, today)
    return {
        "on": today,
        "verdict": standing.verdict,
        "at_limit": any(reason.code in AT_LIMIT for reason in standing.reasons),
        "overdue": standing.ageing.overdue > 0,
        "due": sum(habit.state in ("due", "late") for habit in known.values()),
        "stopped": stopped,
        "stopped_purchases": stopped[0]["purchases"] if stopped else 0,
    }


def _stopped(
    habits: Mapping[int, Habit], names: Mapping[int, str], today: date
) -> list[dict[str, Any]]:
    """The items that are not bought any more, those bought most often first."""
    found: Iterable[tuple[int, Habit]] = [
        (item, habit)
        for item, habit in habits.items()
        if habit.state == "stopped" and (today - habit.last_on).days <= TOLD_DAYS
    ]
    ordered = sorted(found, key=lambda pair: (-pair[1].purchases, pair[0]))
    return [
        {
            "item": item,
            "name": names[item],
            "last_on": habit.last_on.isoformat(),
            "purchases": habit.purchases,
        }
        for item, habit in ordered
    ]
