"""What can change of an order before it is handed over: it is priced again, or cancelled."""

from datetime import date, datetime

from django.db import transaction

from apps.errors import Invalid, Refused, check_version
from apps.handover.models import Handover
from apps.journal.flows import record_changes
from apps.orders.carrying import sums_of, take_sums
from apps.orders.models import Order, OrderLine
from apps.orders.queries import state_of
from apps.orders.repricing import Again, priced_again
from apps.people.access import owned, pick, pick_locked, sells
from apps.people.models import User
from apps.quotes.models import Quote
from apps.quotes.seen import Seen, refuse_unseen
from routecore.casefile.words import plain
from routecore.money import minor_digits

Changes = dict[str, tuple[object, object]]


def _locked(who: User, order_id: int, what: str) -> tuple[Order, list[int]]:
    """An order that was not handed over, locked after its quotes, as writing an order does; and these."""
    sells(who)
    mine = Order.objects.filter(owned(who))
    known = pick(mine, order_id, "order")
    quotes = Quote.objects.filter(revisions__acceptances__order=known)
    keys = list(quotes.values_list("pk", flat=True).distinct())
    list(Quote.objects.select_for_update().filter(pk__in=keys).order_by("pk").values_list("pk"))
    order = pick_locked(mine.select_related("customer"), order_id, "order")
    if order.cancelled_at is not None:
        raise Refused("cancelled")
    if Handover.objects.filter(order=order).exists():
        raise Refused("handed_over", facts={"what": what})
    return order, keys


@transaction.atomic
def price_order_again(who: User, order_id: int, version: int, *, seen: Seen, today: date) -> Order:
    """Today's prices in place of the locked ones, as they were ``seen``; each change is recorded.

    Refused where a line has no price any more, and beyond a limit that nobody signed off.
    """
    order, _ = _locked(who, order_id, "price")
    check_version(order.version, version, "order")
    found = priced_again(who, order, today)
    if found.totals is None:
        raise Refused("needs_price", path="take")
    payable = plain(found.totals.payable, minor_digits(order.currency)) or ""
    if (seen.mark, seen.payable) != (found.mark, payable):
        refuse_unseen(seen.payable, payable, order.currency)
    if found.excesses:
        raise Refused("beyond_limits", path="take")
    changes = _take_prices(order, found)
    for name, value in sums_of(found.totals, order.currency, order.revision.base_rate).items():
        setattr(order, name, value)
    order.version += 1
    order.save()
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
    for acceptance, part in zip(found.acceptances, found.parts, strict=True):
        take_sums(acceptance, part)
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
