"""A receipt slips or comes sooner: the orders that ride on it, with the day that was promised and the day of now.

Looked at whenever the back office tells an item's stock anew. What lies in the depot already is in time, whatever day
was promised.
"""

from collections.abc import Iterable, Sequence
from datetime import date, datetime
from decimal import Decimal

from django.db import transaction
from django.db.models import Sum
from django.utils import timezone

from apps.errors import Missing, Refused
from apps.journal.flows import record_changes
from apps.orders.altering import by_answer
from apps.orders.models import Order, OrderLine, Outlook, OutlookDue
from apps.people.access import owned, pick_locked, sells
from apps.people.models import User
from apps.stock.intake import AFTER
from apps.stock.promising import Ordered, Promised, factors_of, held_promises
from routecore.promise import IN_STOCK

#: So many orders are looked at while the news is read; where an item is on more, they are looked at later.
AT_ONCE = 5
#: So many orders are looked at in a round of the worker: orders are handed over between them.
A_ROUND = 10


def renew_outlook(items: Iterable[int], *, today: date, now: datetime) -> int:
    """Look anew at the lines of these items that have a day and have not left; how many have another day."""
    return _renew(_waiting(items), today=today, now=now)


def renew_some(today: date, now: datetime) -> int:
    """The same for an item that is on many orders, a few of them at a time; how many were looked at.

    Told anew before it is through, it begins again once it is.
    """
    due = OutlookDue.objects.order_by("pk").first()
    if due is None:
        return 0
    lines = [line for line in _waiting([due.item_id]) if line.pk > due.after_line]
    lines.sort(key=lambda line: line.pk)
    part = lines[:A_ROUND]
    _renew(part, today=today, now=now)
    rows = OutlookDue.objects.filter(pk=due.pk)
    if len(part) < len(lines):
        rows.update(after_line=part[-1].pk)
    elif not rows.filter(again=False).delete()[0]:
        rows.update(after_line=0, again=False)
    return len(part)


def _renew(lines: Sequence[OrderLine], *, today: date, now: datetime) -> int:
    by_order: dict[int, list[OrderLine]] = {}
    for line in lines:
        by_order.setdefault(line.order_id, []).append(line)
    factors = factors_of({line.item_id for line in lines})
    found: dict[int, Promised] = {}
    for group in by_order.values():
        order = group[0].order
        asked = [_asked(line, order, factors) for line in group]
        country = (order.delivery_address or {}).get("country", "")
        held = held_promises(order.number, asked, buyer_country=country, today=today, now=now)
        found |= {line.pk: held[str(line.pk)] for line in group}
    differing = [
        Outlook(order_line=line, leaves_on=day[0], arrives_on=day[1], since=now)
        for line in lines
        if line.pk in found and (day := _other_day(line, found[line.pk])) is not None
    ]
    _store(list(found), differing)
    return len(differing)


def _waiting(items: Iterable[int]) -> list[OrderLine]:
    """Lines of these items that were promised a day and have not left. Two queries."""
    rows = (
        OrderLine.objects.filter(
            item_id__among=set(items),
            order__to_ship=True,
            order__cancelled_at=None,
            promised_on__isnull=False,
            quantity__gt=0,
        )
        .select_related("order")
        .annotate(left=Sum("delivery_lines__quantity"))
        .order_by("promised_on", "pk")
    )
    return [row for row in rows if (row.left or Decimal(0)) < row.quantity]


def _asked(line: OrderLine, order: Order, factors: dict[tuple[int, str], Decimal]) -> Ordered:
    return Ordered(
        key=str(line.pk),
        item=line.item_id,
        depot=line.depot_id,
        quantity=line.quantity * factors.get((line.item_id, line.unit), Decimal(1)),
        by=line.wanted_on or order.requested_on,
        country=(line.delivery_address or {}).get("country", ""),
    )


def _other_day(line: OrderLine, promised: Promised) -> tuple[date | None, date | None] | None:
    """The day of now, where it is another than the promised one; (None, None) where there is none any more."""
    answer = promised.answer
    if answer is None:
        return None
    if answer.whole is None:
        return (None, None)
    leaves, there = answer.whole.leaves, answer.kind == IN_STOCK
    assert line.promised_on is not None
    if leaves == line.promised_on or (there and leaves >= line.promised_on):
        return None
    return leaves, answer.whole.arrives


@transaction.atomic
def _store(looked_at: Sequence[int], differing: Sequence[Outlook]) -> None:
    """What differs in place of what was known of these lines; what stays the same keeps its moment."""
    known = {row.order_line_id: row for row in Outlook.objects.filter(order_line__in=looked_at)}
    same = {
        row.order_line_id
        for row in differing
        if (before := known.get(row.order_line_id)) is not None
        and before.leaves_on == row.leaves_on
    }
    Outlook.objects.filter(order_line__in=looked_at).exclude(order_line__in=same).delete()
    Outlook.objects.bulk_create(
        [row for row in differing if row.order_line_id not in same], ignore_conflicts=True
    )


@transaction.atomic
def promise_new_day(who: User, line_id: int, *, now: datetime) -> Order:
    """The buyer knows: the day of now is the promised one. Recorded."""
    sells(who)
    known = OrderLine.objects.filter(owned(who, "order__owner"), pk=line_id)
    order_id = known.values_list("order_id", flat=True).first()
    if order_id is None:
        raise Missing("not_found", facts={"what": "line"})
    order = pick_locked(Order.objects.filter(owned(who)), order_id, "order")
    line = order.lines.select_related("item").get(pk=line_id)
    outlook = Outlook.objects.filter(order_line=line).first()
    if outlook is None or outlook.leaves_on is None:
        raise Refused("no_new_day")
    field = f"line {line.position} {line.item.code}: promised"
    record_changes(who, "order", order.pk, {field: (line.promised_on, outlook.leaves_on)})
    line.promised_on, line.arrives_on = outlook.leaves_on, outlook.arrives_on
    with by_answer():
        line.save(update_fields=["promised_on", "arrives_on"])
    outlook.delete()
    return order


def _after(items: set[int]) -> None:
    """At once where few orders are concerned; of the items of many it is noted that they are due."""
    now = timezone.now()
    lines = _waiting(items)
    if len({line.order_id for line in lines}) <= AT_ONCE:
        _renew(lines, today=timezone.localdate(now), now=now)
        return
    busy = {line.item_id for line in lines}
    OutlookDue.objects.filter(item__in=busy).update(again=True)
    OutlookDue.objects.bulk_create([OutlookDue(item_id=key) for key in busy], ignore_conflicts=True)


AFTER.append(_after)
