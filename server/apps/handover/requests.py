"""Goods are asked for from a line that is short: a request, the back office's answer, and the line rides on the receipt."""

from datetime import date, datetime
from decimal import Decimal
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from apps.errors import Forbidden, Invalid, Missing, Refused
from apps.handover.models import ANSWERED, HELD, OPEN_CHANGES, TAKEN, Replenishment
from apps.journal.flows import record_changes
from apps.orders.altering import by_answer, shipped_of
from apps.orders.models import Order, OrderLine
from apps.orders.promises import promise_anew
from apps.people.access import owned, pick_locked, sells
from apps.people.models import User
from apps.stock.promising import factors_of
from apps.told import Unfit
from routecore.casefile.words import plain


@transaction.atomic
def ask_for_goods(
    who: User,
    line_id: int,
    *,
    quantity: Decimal | None = None,
    wanted_on: date | None = None,
    today: date,
    now: datetime,
) -> Replenishment:
    """Ask the back office for what an order line is short of, or for so much (in the item's base unit).

    Refused without the right, for a line that has left or is not of goods, and while a request is open.
    """
    sells(who)
    order, line = _line(who, line_id)
    if not who.replenishes:
        raise Forbidden("not_for_role", facts={"what": "replenish"})
    wanted = quantity or _short_of(order, line)
    _may_be_asked(order, line, wanted)
    if wanted_on is not None and wanted_on < today:
        raise Invalid("date_gone_by", path="wanted_on")
    by = wanted_on or line.wanted_on or order.requested_on
    made = Replenishment.objects.create(
        order_line=line,
        quantity=wanted,
        wanted_on=by,
        asked_by=who,
        next_try_at=now,
        payload={
            "item": line.item.code,
            "depot": line.depot.code if line.depot else None,
            "quantity": plain(wanted),
            "wanted_on": by.isoformat() if by else None,
            "order_number": order.number,
            "line": line.position,
        },
    )
    field = f"goods asked for {line.item.code}"
    record_changes(who, "order", order.pk, {field: ("", plain(wanted))})
    return made


def _line(who: User, line_id: int) -> tuple[Order, OrderLine]:
    """A line of an order of theirs; the order is locked."""
    known = OrderLine.objects.filter(owned(who, "order__owner"), pk=line_id)
    order_id = known.values_list("order_id", flat=True).first()
    if order_id is None:
        raise Missing("not_found", facts={"what": "line"})
    order = pick_locked(Order.objects.filter(owned(who)), order_id, "order")
    return order, order.lines.select_related("item", "depot").get(pk=line_id)


def _may_be_asked(order: Order, line: OrderLine, wanted: Decimal) -> None:
    if order.handover_state not in (TAKEN, HELD):
        raise Refused("not_with_them")
    if order.cancelled_at is not None or line.item.kind == "service" or not wanted:
        raise Refused("nothing_short")
    if line.replenishments.filter(state__in=OPEN_CHANGES).exists():
        raise Refused("asked_already")


def _short_of(order: Order, line: OrderLine) -> Decimal:
    """What is missing of a line, no more than has not left of it."""
    factor = factors_of([line.item_id]).get((line.item_id, line.unit), Decimal(1))
    left = shipped_of(order).get(line.pk, Decimal(0))
    short: list[Decimal] = [line.missing, (line.quantity - left) * factor]
    return min(short)


def take_request_answer(
    order: Order, key: UUID, told: tuple[bool, str, str, date | None], now: datetime
) -> None:
    """The back office answered a request: refused with a word, or a receipt with its day; the promise follows."""
    row = Replenishment.objects.select_for_update().filter(key=key, order_line__order=order).first()
    if row is None:
        raise Unfit("unknown_request")
    if row.state == ANSWERED:
        return
    taken, row.said, receipt, due = told
    row.state, row.answered_at, row.leased_until = ANSWERED, now, None
    if taken:
        row.receipt, row.due_on = receipt, due
    row.version += 1
    row.save()
    if taken and due is not None:
        with by_answer():
            _ride(row, due, now)


def _ride(row: Replenishment, due: date, now: datetime) -> None:
    """The line rides on the receipt: its day is the receipt's, unless what is known of stock says another."""
    line = row.order_line
    promise_anew(line.order, [line.position], today=timezone.localdate(now), now=now)
    line.refresh_from_db()
    if line.missing or line.promised_on is None:
        # The receipt itself is still on its way here, with the news of stock.
        line.missing = max(line.missing - row.quantity, Decimal(0))
        line.promised_on = line.promised_on or due
        line.save(update_fields=["missing", "promised_on"])
