"""What is promised of an order's lines when it is written: its day, or a named shortage.

Two orders that ask for the same goods in the same moment follow each other: the stock of the items is
locked before it is counted, so that the second one sees what the first was promised.
"""

from collections.abc import Sequence
from datetime import date, datetime
from decimal import Decimal

from apps.orders.models import Order, OrderLine, Outlook
from apps.stock.models import Level
from apps.stock.promising import Ordered, Wanted, factors_of, held_promises, promises


def store_promised(order: Order, lines: Sequence[OrderLine], *, today: date, now: datetime) -> None:
    """Store an order's new lines, each with its depot, its day and what is short of it."""
    items = sorted({line.item_id for line in lines})
    # In one order, whoever asks: no two wait for each other.
    list(Level.objects.select_for_update().filter(item_id__in=items).order_by("pk").values("pk"))
    found = promises(_asked(order, lines), buyer_country=_country(order), today=today, now=now)
    for line in lines:
        promised = found[str(line.position)]
        line.depot_id = promised.depot
        answer = promised.answer
        if answer is None:
            continue
        line.missing = answer.missing
        if answer.whole is not None:
            line.promised_on, line.arrives_on = answer.whole.leaves, answer.whole.arrives
    OrderLine.objects.bulk_create(lines)


def promise_anew(order: Order, positions: Sequence[int], *, today: date, now: datetime) -> None:
    """Lines of an order that changed: what is promised of them now, with everybody served in turn."""
    rows = list(order.lines.filter(position__in=positions, quantity__gt=0))
    items = sorted({line.item_id for line in rows})
    list(Level.objects.select_for_update().filter(item_id__in=items).order_by("pk").values("pk"))
    OrderLine.objects.filter(pk__in=[row.pk for row in rows]).update(promised_on=None)
    factors = factors_of(items)
    lines = [
        Ordered(
            key=str(line.pk),
            item=line.item_id,
            depot=line.depot_id,
            quantity=line.quantity * factors.get((line.item_id, line.unit), 1),
            by=line.wanted_on or order.requested_on,
            country=(line.delivery_address or {}).get("country", ""),
        )
        for line in rows
    ]
    found = held_promises(order.number, lines, buyer_country=_country(order), today=today, now=now)
    for line in rows:
        answer = found[str(line.pk)].answer
        whole = answer.whole if answer else None
        line.missing = answer.missing if answer else line.missing
        line.promised_on = whole.leaves if whole else None
        line.arrives_on = whole.arrives if whole else None
    OrderLine.objects.bulk_update(rows, ["missing", "promised_on", "arrives_on"])
    # What was told of the day before is of no line any more.
    Outlook.objects.filter(order_line__in=rows).delete()


def promise_moved(order: Order, positions: Sequence[int], *, today: date, now: datetime) -> None:
    """Lines that the back office keeps in another depot now: their day there, before it tells that depot's stock."""
    rows = list(order.lines.filter(position__in=positions, quantity__gt=0))
    if not rows:
        return
    found = promises(_asked(order, rows), buyer_country=_country(order), today=today, now=now)
    for line in rows:
        answer = found[str(line.position)].answer
        whole = answer.whole if answer else None
        line.missing = answer.missing if answer else Decimal(0)
        line.promised_on = whole.leaves if whole else None
        line.arrives_on = whole.arrives if whole else None
    OrderLine.objects.bulk_update(rows, ["missing", "promised_on", "arrives_on"])
    Outlook.objects.filter(order_line__in=rows).delete()


def _country(order: Order) -> str:
    return str((order.delivery_address or {}).get("country", ""))


def _asked(order: Order, lines: Sequence[OrderLine]) -> list[Wanted]:
    """The lines as they ask for goods, by their position, in the item's base unit."""
    factors = factors_of({line.item_id for line in lines})
    return [
        Wanted(
            key=str(line.position),
            item=line.item_id,
            quantity=line.quantity * factors.get((line.item_id, line.unit), 1),
            depot=line.depot_id,
            on=line.wanted_on or order.requested_on,
            country=(line.delivery_address or {}).get("country", ""),
        )
        for line in lines
    ]
