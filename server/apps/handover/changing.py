"""What can change of an order before it is handed over: it is priced again, or cancelled."""

from datetime import date, datetime

from django.db import transaction

from apps.errors import Invalid, Refused, check_version
from apps.handover.changes import lock_order, mend_payload, quotes_of
from apps.handover.models import REFUSED, Handover
from apps.journal.flows import record_changes
from apps.orders.carrying import sums_of, take_sums
from apps.orders.models import Order, OrderLine
from apps.orders.queries import state_of
from apps.orders.repricing import Again, priced_again
from apps.people.access import sells
from apps.people.models import User
from apps.quotes.models import Quote
from apps.quotes.pricing.excesses import kept_excess
from apps.quotes.seen import Seen, refuse_unseen
from routecore.casefile.words import plain
from routecore.money import minor_digits

Changes = dict[str, tuple[object, object]]


def _locked(who: User, order_id: int, what: str) -> tuple[Order, list[int]]:
    """An order that the back office does not have, locked after its quotes; and these."""
    sells(who)
    order = lock_order(who, order_id)
    if order.cancelled_at is not None:
        raise Refused("cancelled")
    entry = Handover.objects.select_for_update().filter(order=order).first()
    if entry is not None and entry.state != REFUSED:
        raise Refused("handed_over", facts={"what": what})
    return order, quotes_of(order)


@transaction.atomic
def price_order_again(who: User, order_id: int, version: int, *, seen: Seen, today: date) -> Order:
    """Today's prices in place of the locked ones, as they were ``seen``; each change is recorded.

    Refused where a line has no price any more. What goes beyond a limit is signed off before it is handed over.
    """
    order, _ = _locked(who, order_id, "price")
    check_version(order.version, version, "order")
    found = priced_again(who, order, today)
    if found.totals is None:
        raise Refused("needs_price", path="take")
    payable = plain(found.totals.payable, minor_digits(order.currency)) or ""
    if (seen.mark, seen.payable) != (found.mark, payable):
        refuse_unseen(seen.payable, payable, order.currency)
    changes = _take_prices(order, found)
    for name, value in sums_of(found.totals, order.currency, order.revision.base_rate).items():
        setattr(order, name, value)
    order.version += 1
    order.save()
    mend_payload(order)
    record_changes(who, "order", order.pk, changes, "priced again")
    return order


def _take_prices(order: Order, found: Again) -> Changes:
    """The lines and what was taken of each offer, at the new prices; what changed, as text."""
    shares = [share for part in found.parts for share in part.shares]
    changes: Changes = {}
    for row, share in zip(found.rows, shares, strict=True):
        line = row.line
        name = f"line {line.position} {line.item.code}: price"
        if row.differs:
            changes[name] = (plain(line.price), plain(row.now.price))
        line.price, line.per = row.now.price or line.price, row.now.per or line.per
        line.price_unit, line.net, line.discount_share = row.now.unit, row.now.net, share
    columns = ["price", "per", "price_unit", "net", "discount_share"]
    OrderLine.objects.bulk_update([row.line for row in found.rows], columns)
    each = zip(found.acceptances, found.parts, found.excesses, strict=True)
    for acceptance, part, beyond in each:
        take_sums(acceptance, part)
        acceptance.excesses = [kept_excess(row) for row in beyond]
        acceptance.save()
    return changes


@transaction.atomic
def cancel_order(who: User, order_id: int, version: int, *, reason: str, now: datetime) -> Order:
    """Cancel it, and say why. Its offers can be ordered from again, its agreements have it back.

    Refused once it was handed over. The offers are locked first, as writing an order does.
    """
    order, keys = _locked(who, order_id, "cancel")
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
