"""Handing an order over: the outbox entry, its life, and sending it again.

An entry is ``waiting`` until a worker takes it (``under_way``), then ``taken`` with the back
office's number, ``refused`` with its reason, or ``waiting`` again with a growing pause. The back
office may put a taken one on ``held``.
"""

from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db import transaction
from django.utils import timezone

from apps.customers.addresses import delivery_address
from apps.errors import Refused, check_version
from apps.handover.clearing import require_clearance
from apps.handover.models import REFUSED, TAKEN, UNDER_WAY, WAITING, Handover
from apps.handover.payload import payload_of
from apps.journal.flows import record_changes
from apps.orders.flows import order_mark
from apps.orders.models import Order
from apps.people.access import fulfils, owned, pick_locked, read_for_fulfilment, sells
from apps.people.models import User
from apps.quotes.seen import Seen, refuse_unseen
from routecore.casefile.words import plain
from routecore.money import minor_digits

LEASE = timedelta(seconds=30)
LONGEST_PAUSE = timedelta(minutes=5)


@dataclass(frozen=True, slots=True)
class Taken:
    """The back office has the order, under this number."""

    number: str


@dataclass(frozen=True, slots=True)
class TurnedDown:
    """The back office will not take the order as it is; sending it again changes nothing."""

    reason: str


@dataclass(frozen=True, slots=True)
class NotNow:
    """No answer, or one that says to try again."""

    reason: str


Outcome = Taken | TurnedDown | NotNow


@transaction.atomic
def hand_over(
    who: User, order_id: int, version: int, *, now: datetime, seen: Seen | None = None
) -> Handover:
    """Put the order, as it was ``seen``, into the outbox. A second time answers the same entry."""
    sells(who)
    order = pick_locked(
        Order.objects.filter(owned(who)).select_related("customer"), order_id, "order"
    )
    there = Handover.objects.filter(order=order).first()
    if there is not None:
        return there
    if seen is not None and seen.mark != order_mark(order, order.lines.all()):
        payable = plain(order.payable, minor_digits(order.currency)) or ""
        refuse_unseen(seen.payable, payable, order.currency)
    if order.cancelled_at is not None:
        raise Refused("cancelled")
    check_version(order.version, version, "order")
    order.delivery_address = order.delivery_address or delivery_address(order.customer)
    if order.delivery_address is None:
        raise Refused("no_address", path="delivery_address")
    require_clearance(order, timezone.localdate(now), now)
    order.version += 1
    order.save(update_fields=["version", "delivery_address"])
    entry = Handover.objects.create(order=order, payload=payload_of(order), next_try_at=now)
    record_changes(who, "order", order.pk, {"handover": ("", WAITING)})
    return entry


@transaction.atomic
def send_again(who: User, handover_id: int, version: int, *, now: datetime) -> Handover:
    """Try a refused or waiting entry now; the key stays, so the order cannot arrive twice."""
    fulfils(who)
    own = Handover.objects.filter(read_for_fulfilment(who, "order__owner"))
    entry = pick_locked(own, handover_id, "handover")
    check_version(entry.version, version, "handover")
    if entry.state not in (REFUSED, WAITING):
        raise Refused("not_waiting")
    record_changes(who, "order", entry.order_id, {"handover": (entry.state, WAITING)}, "sent again")
    entry.state = WAITING
    entry.next_try_at = now
    entry.version += 1
    entry.save()
    return entry


@transaction.atomic
def claim_next(now: datetime) -> Handover | None:
    """Take the next entry that is due, for this worker alone.

    Rows that another worker holds are skipped. The lease frees an entry whose worker died.
    """
    due = Handover.objects.filter(state=WAITING, next_try_at__lte=now)
    lost = Handover.objects.filter(state=UNDER_WAY, leased_until__lt=now)
    entry = None
    for rows in (due, lost):
        entry = rows.select_for_update(skip_locked=True).order_by("next_try_at", "pk").first()
        if entry is not None:
            break
    if entry is None:
        return None
    entry.state = UNDER_WAY
    entry.tries += 1
    entry.leased_until = now + LEASE
    entry.save(update_fields=["state", "tries", "leased_until"])
    return entry


@transaction.atomic
def settle(
    handover_id: int, outcome: Outcome, *, now: datetime, tries: int | None = None
) -> Handover:
    """Write down what the back office answered to the try of that number.

    An answer that comes late changes nothing, as the lease ran out and another worker has it; but
    that the order is there is true whenever it is told.
    """
    entry = Handover.objects.select_for_update().get(pk=handover_id)
    arrived = isinstance(outcome, Taken) and entry.state in (UNDER_WAY, WAITING, REFUSED)
    own = entry.state == UNDER_WAY and (tries is None or tries == entry.tries)
    if not (arrived or own):
        return entry
    entry.leased_until = None
    match outcome:
        case Taken(number):
            entry.state, entry.backoffice_number = TAKEN, number
            entry.taken_at, entry.last_error = now, ""
        case TurnedDown(reason):
            entry.state, entry.last_error = REFUSED, reason[:300]
        case NotNow(reason):
            entry.state, entry.last_error = WAITING, reason[:300]
            entry.next_try_at = now + pause_after(entry.tries)
    entry.version += 1
    entry.save()
    record_changes(
        None, "order", entry.order_id, {"handover": (UNDER_WAY, entry.state)}, entry.last_error
    )
    return entry


def pause_after(tries: int) -> timedelta:
    """1, 2, 4, … seconds, at most five minutes.

    >>> [pause_after(n).seconds for n in (1, 2, 5, 30)]
    [1, 2, 16, 300]
    """
    return min(timedelta(seconds=2 ** min(tries - 1, 20)), LONGEST_PAUSE)
