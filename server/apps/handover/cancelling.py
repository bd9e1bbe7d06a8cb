"""An order is cancelled before it was handed over: what it took is left of its offers again."""

from datetime import datetime

from django.db import transaction

from apps.errors import Invalid, Refused, check_version
from apps.handover.models import Handover
from apps.journal.flows import record_changes
from apps.orders.models import Order
from apps.orders.queries import state_of
from apps.people.access import owned, pick, pick_locked, sells
from apps.people.models import User
from apps.quotes.models import Quote


@transaction.atomic
def cancel_order(who: User, order_id: int, version: int, *, reason: str, now: datetime) -> Order:
    """Cancel it, and say why. Its offers can be ordered from again, its agreements have it back.

    Refused once it was handed over. The offers are locked first, as writing an order does.
    """
    sells(who)
    mine = Order.objects.filter(owned(who))
    known = pick(mine, order_id, "order")
    quotes = Quote.objects.filter(revisions__acceptances__order=known).order_by("pk")
    keys = list(quotes.values_list("pk", flat=True).distinct())
    list(Quote.objects.select_for_update().filter(pk__in=keys).order_by("pk").values_list("pk"))
    order = pick_locked(mine, order_id, "order")
    if order.cancelled_at is not None:
        raise Refused("cancelled")
    if Handover.objects.filter(order=order).exists():
        raise Refused("handed_over", facts={"what": "cancel"})
    check_version(order.version, version, "order")
    if not reason.strip():
        raise Invalid("required", path="reason", facts={"what": "cancel"})
    before = state_of(order)
    order.cancelled_at, order.cancelled_by, order.cancel_reason = now, who, reason.strip()
    order.version += 1
    order.save(update_fields=["cancelled_at", "cancelled_by", "cancel_reason", "version"])
    order.lines.filter(called_off__isnull=False).update(called_off=None)
    Quote.objects.filter(pk__in=keys).update(
        rest_closed_at=None, rest_closed_by=None, rest_reason=""
    )
    record_changes(who, "order", order.pk, {"state": (before, "cancelled")}, reason.strip())
    return order
