"""Whose promise a commitment is: the order behind it, told to those who may see that order."""

from collections.abc import Iterable
from dataclasses import dataclass

from django.db.models import QuerySet

from apps.orders.models import Order, OrderLine
from apps.people.access import read_for_fulfilment
from apps.people.models import User
from apps.stock.plans import Plan

OURS = "ours:"


@dataclass(frozen=True, slots=True, kw_only=True)
class Holder:
    """An order that holds a promise, and its customer, one of ``priority`` or not. ``order_line`` where the back office does not keep it yet."""

    order: int
    number: str
    customer: str
    priority: bool = False
    order_line: int | None = None


def holders_of(person: User, plans: Iterable[Plan]) -> dict[str, Holder]:
    """By the name of a commitment: those of orders that this person may see and change. Two queries."""
    mine = Order.objects.filter(read_for_fulfilment(person))
    return _own_lines(mine, plans) | _kept(mine, plans)


def _own_lines(mine: QuerySet[Order], plans: Iterable[Plan]) -> dict[str, Holder]:
    names = {row.line for plan in plans for row in plan.stock.commitments}
    keys = [int(name.removeprefix(OURS)) for name in names if name.startswith(OURS)]
    rows = OrderLine.objects.filter(pk__in=keys, order__in=mine).values_list(
        "pk",
        *("order_id", "order__number", "order__customer__name", "order__customer__priority"),
    )
    return {
        f"{OURS}{pk}": Holder(
            order=order, number=number, customer=customer, priority=priority, order_line=pk
        )
        for pk, order, number, customer, priority in rows
    }


def _kept(mine: QuerySet[Order], plans: Iterable[Plan]) -> dict[str, Holder]:
    """Those that the back office keeps for an order of ours."""
    kept = [
        (number, line) for plan in plans for number, all_ in plan.kept_for.items() for line in all_
    ]
    rows = mine.filter(number__in={number for number, _ in kept})
    known = {
        number: Holder(order=pk, number=number, customer=customer, priority=priority)
        for pk, number, customer, priority in rows.values_list(
            "pk", "number", "customer__name", "customer__priority"
        )
    }
    return {line: known[number] for number, line in kept if number in known}
