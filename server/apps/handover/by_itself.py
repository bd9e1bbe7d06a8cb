"""An accepted order hands itself over, by a rule of the house: off unless the settings give an amount.

The rule holds for an order whose customer stands on Clear, that comes to no more than the amount, has no sign-off open
and every line promised. It is looked at when the order is written, told on the order, and looked at again when its
moment has come; until then one click stops it.
"""

from datetime import datetime, timedelta

from django.conf import settings
from django.db import transaction
from django.utils import timezone

from apps.customers.standing import standings
from apps.errors import FlowError, Refused
from apps.handover.clearing import holds_in
from apps.handover.flows import hand_over
from apps.handover.models import Handover, SelfHandover
from apps.handover.queries import figures_age_hours
from apps.journal.flows import record_changes
from apps.orders.models import Order
from apps.people.access import owned, pick_locked, sells
from apps.people.models import User

MOST_A_ROUND = 20


def against(order: Order, now: datetime) -> str:
    """Why an order does not hand itself over, in a word; nothing where it may."""
    most = settings.SELF_HANDOVER["most"]
    if not most:
        return "off"
    if order.base_payable > most:
        return "amount"
    if holds_in((), order) or order.sign_offs.filter(answer="").exists():
        return "sign_off"
    lines = order.lines.select_related("item").filter(quantity__gt=0)
    if any(
        line.missing or (line.item.kind != "service" and not line.promised_on) for line in lines
    ):
        return "promise"
    on = timezone.localdate(now)
    found = standings([order.customer], on, age_hours=figures_age_hours(now))
    return "" if found[order.customer_id].verdict == "clear" else "standing"


def plan_self_handover(order: Order, now: datetime) -> SelfHandover | None:
    """Let an order that was just written hand itself over in some minutes, where the rule holds."""
    if against(order, now):
        return None
    due = now + timedelta(minutes=float(settings.SELF_HANDOVER["minutes"]))
    return SelfHandover.objects.create(order=order, due_at=due)


@transaction.atomic
def stop_self_handover(who: User, order_id: int, *, now: datetime) -> Order:
    """One click before it leaves: the order waits for somebody to hand it over."""
    sells(who)
    order = pick_locked(Order.objects.filter(owned(who)), order_id, "order")
    row = SelfHandover.objects.select_for_update().filter(order=order, done=False).first()
    if row is None:
        raise Refused("not_by_itself")
    row.stopped_at, row.stopped_by, row.done = now, who, True
    row.save()
    record_changes(who, "order", order.pk, {"handover by itself": (row.due_at, "stopped")})
    return order


def hand_over_due(now: datetime) -> int:
    """Hand over what is due; how many. An order of which the rule does not hold any more waits for somebody."""
    due = SelfHandover.objects.filter(done=False, due_at__lte=now)
    keys = list(due.order_by("due_at").values_list("pk", flat=True)[:MOST_A_ROUND])
    return sum(_hand_over(key, now) for key in keys)


@transaction.atomic
def _hand_over(key: int, now: datetime) -> int:
    rows = SelfHandover.objects.select_for_update(skip_locked=True)
    row = rows.filter(pk=key, done=False).first()
    if row is None:
        return 0
    order = Order.objects.select_related("customer", "owner").get(pk=row.order_id)
    row.done = True
    row.held_by = "cancelled" if order.cancelled_at else against(order, now)
    if not row.held_by and not Handover.objects.filter(order=order).exists():
        try:
            hand_over(order.owner, order.pk, order.version, now=now)
            # The rule did it, not the person whose order it is.
            record_changes(None, "order", order.pk, {"handover by itself": (row.due_at, now)})
        except FlowError as refusal:
            row.held_by = refusal.code[:40]
    row.save()
    return int(not row.held_by)
