"""Handing an order over: the outbox entry, its life, and sending it again.

An entry is ``waiting`` until a worker takes it (``under_way``), then ``taken`` with the back
office's number, ``refused`` with its reason, or ``waiting`` again with a growing pause. The back
office may put a taken one on ``held``.
"""

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import TypeVar

from django.db import transaction
from django.db.models import Manager
from django.utils import timezone

from apps.customers.addresses import delivery_address
from apps.errors import Refused, check_version
from apps.handover.clearing import require_clearance
from apps.handover.models import (
    ASKED,
    REFUSED,
    TAKEN,
    UNDER_WAY,
    WAITING,
    Errand,
    Handover,
    OrderChange,
    Replenishment,
)
from apps.handover.payload import payload_of
from apps.handover.queries import lost_there
from apps.journal.flows import record_changes
from apps.orders.flows import order_mark
from apps.orders.models import Order
from apps.people.access import fulfils, owned, pick_locked, read_for_fulfilment, sells
from apps.people.models import User
from apps.quotes.seen import Seen, refuse_unseen
from routecore.casefile.words import plain
from routecore.money import minor_digits

E = TypeVar("E", bound=Errand)
Q = TypeVar("Q", OrderChange, Replenishment)
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
    """Try a refused or waiting entry now; the key stays, so the order cannot arrive twice.

    One that was taken, too, where the newest comparison found that the back office does not know it any more.
    """
    fulfils(who)
    own = Handover.objects.filter(read_for_fulfilment(who, "order__owner"))
    entry = pick_locked(own, handover_id, "handover")
    check_version(entry.version, version, "handover")
    if entry.state not in (REFUSED, WAITING) and not lost_there(entry):
        raise Refused("not_waiting")
    record_changes(who, "order", entry.order_id, {"handover": (entry.state, WAITING)}, "sent again")
    if Order.objects.filter(pk=entry.order_id, cancelled_at__isnull=False).exists():
        raise Refused("cancelled")
    entry.state = WAITING
    entry.next_try_at = now
    entry.version += 1
    entry.save()
    return entry


def claim_next(now: datetime) -> Handover | None:
    """Take the next order that is due, for this worker alone."""
    return _claim(Handover, now)


def claim_change(now: datetime) -> OrderChange | None:
    """Take the next change of an order that is due, for this worker alone."""
    return _claim(OrderChange, now)


@transaction.atomic
def claim_request(now: datetime) -> Replenishment | None:
    """Take the next request for goods that is due, for this worker alone."""
    return _claim(Replenishment, now)


@transaction.atomic
def _claim(errands: type[E], now: datetime) -> E | None:
    """Rows that another worker holds are skipped. The lease frees an entry whose worker died."""
    every: Manager[E] = errands._default_manager
    due = every.filter(state=WAITING, next_try_at__lte=now)
    lost = every.filter(state=UNDER_WAY, leased_until__lt=now)
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
    if not _is_told(entry, outcome, tries):
        return entry
    if isinstance(outcome, Taken):
        entry.state, entry.backoffice_number = TAKEN, outcome.number
        entry.taken_at, entry.last_error = now, ""
    else:
        _put_off(entry, outcome, now)
    entry.version += 1
    entry.save()
    record_changes(
        None, "order", entry.order_id, {"handover": (UNDER_WAY, entry.state)}, entry.last_error
    )
    return entry


@transaction.atomic
def settle_change(
    change_id: int, outcome: Outcome, *, now: datetime, tries: int | None = None
) -> OrderChange:
    """The same for a change: once the back office has it, its answer is awaited as news."""
    row = OrderChange.objects.select_for_update().get(pk=change_id)
    return _await_answer(row, outcome, now, tries)


@transaction.atomic
def settle_request(
    request_id: int, outcome: Outcome, *, now: datetime, tries: int | None = None
) -> Replenishment:
    """The same for a request for goods."""
    row = Replenishment.objects.select_for_update().get(pk=request_id)
    return _await_answer(row, outcome, now, tries)


def _await_answer(row: Q, outcome: Outcome, now: datetime, tries: int | None) -> Q:
    if not _is_told(row, outcome, tries):
        return row
    if isinstance(outcome, Taken):
        row.state, row.last_error = ASKED, ""
    else:
        _put_off(row, outcome, now)
    if row.state == REFUSED:
        row.answered_at = now
    row.version += 1
    row.save()
    return row


def _is_told(entry: Errand, outcome: Outcome, tries: int | None) -> bool:
    """Whether an answer counts: of the try that is under way, or that it has arrived."""
    arrived = isinstance(outcome, Taken) and entry.state in (UNDER_WAY, WAITING, REFUSED)
    own = entry.state == UNDER_WAY and (tries is None or tries == entry.tries)
    if arrived or own:
        entry.leased_until = None
    return arrived or own


def _put_off(entry: Errand, outcome: TurnedDown | NotNow, now: datetime) -> None:
    entry.last_error = outcome.reason[:300]
    entry.state = REFUSED
    if isinstance(outcome, NotNow):
        entry.state, entry.next_try_at = WAITING, now + pause_after(entry.tries)


def pause_after(tries: int) -> timedelta:
    """1, 2, 4, … seconds, at most five minutes.

    >>> [pause_after(n).seconds for n in (1, 2, 5, 30)]
    [1, 2, 16, 300]
    """
    return min(timedelta(seconds=2 ** min(tries - 1, 20)), LONGEST_PAUSE)
