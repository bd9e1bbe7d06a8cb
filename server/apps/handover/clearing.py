"""The sign-off of an order whose customer stands on Halt: asked with a reason, answered by somebody who may.

It is for exactly the order that was seen, and for the reasons of that moment: a reason that is new since, or an
amount that has grown, asks anew.
"""

from collections.abc import Sequence
from datetime import date, datetime
from decimal import Decimal

from django.db import transaction

from apps.customers.standing import standings
from apps.errors import Forbidden, Invalid, Refused
from apps.handover.models import Handover
from apps.handover.queries import figures_age_hours
from apps.journal.flows import record_changes
from apps.orders.flows import order_mark
from apps.orders.models import Order, OrderSignOff
from apps.people.access import owned, pick, pick_locked, sells
from apps.people.models import ADMIN, LEAD, User
from apps.quotes.flows.signing import GRANTED, REFUSED
from apps.quotes.seen import Seen, refuse_unseen
from routecore.casefile.words import plain
from routecore.money import minor_digits
from routecore.standing import Reason, Standing

HALT = "halt"
#: Reasons whose amount may not grow after the sign-off; days go by for everybody.
GROWS = "over_limit"


def halts_of(order: Order, today: date, now: datetime) -> list[Reason]:
    """Why the customer of an order stands on Halt now, with this order counted; nothing where they do not."""
    customer = order.customer
    found = standings([customer], today, age_hours=figures_age_hours(now))[customer.pk]
    return halts_in(found)


def halts_in(standing: Standing) -> list[Reason]:
    """The reasons of a standing that stop an order."""
    return [reason for reason in standing.reasons if reason.verdict == HALT]


def sign_off_of_order(order: Order, halts: Sequence[Reason]) -> OrderSignOff | None:
    """The newest sign-off that is for the order as it stands, and for all of these reasons. One query."""
    mark = order_mark(order, order.lines.all())
    for row in order.sign_offs.select_related("asked_by", "answered_by").order_by("-pk"):
        if row.mark == mark and _covered(row, halts):
            return row
    return None


def _covered(row: OrderSignOff, halts: Sequence[Reason]) -> bool:
    seen = {(each["code"], each["of"]): each["amount"] for each in row.reasons}
    for reason in halts:
        if (reason.code, reason.of) not in seen:
            return False
        before = seen[reason.code, reason.of]
        if reason.code == GROWS and reason.amount and Decimal(before or 0) < reason.amount:
            return False
    return True


def require_clearance(order: Order, today: date, now: datetime) -> None:
    """Refuse to hand over an order of a customer on Halt unless somebody signed exactly this off."""
    halts = halts_of(order, today, now)
    if not halts:
        return
    found = sign_off_of_order(order, halts)
    if found is None or found.answer != GRANTED:
        raise Refused("halt_needs_sign_off", facts={"name": order.customer.name})


def _order(who: User, order_id: int, seen: Seen | None) -> Order:
    rows = Order.objects.filter(owned(who)).select_related("customer")
    order = pick_locked(rows, order_id, "order")
    if seen is not None and seen.mark != order_mark(order, order.lines.all()):
        payable = plain(order.payable, minor_digits(order.currency)) or ""
        refuse_unseen(seen.payable, payable, order.currency)
    if order.cancelled_at is not None:
        raise Refused("cancelled")
    if Handover.objects.filter(order=order).exists():
        raise Refused("handed_over")
    return order


@transaction.atomic
def ask_order_sign_off(
    who: User, order_id: int, reason: str, *, today: date, now: datetime, seen: Seen | None = None
) -> OrderSignOff:
    """Ask for exactly what was ``seen``. A second time for the same changes the reason."""
    sells(who)
    order = _order(who, order_id, seen)
    halts = halts_of(order, today, now)
    if not halts:
        raise Refused("nothing_to_sign")
    if not reason.strip():
        raise Invalid("required", path="reason", facts={"what": "sign_off"})
    known = sign_off_of_order(order, halts)
    if known is not None and not known.answer:
        known.reason = reason.strip()
        known.save(update_fields=["reason"])
        return known
    return OrderSignOff.objects.create(
        order=order,
        mark=order_mark(order, order.lines.all()),
        reason=reason.strip(),
        reasons=[
            {"code": each.code, "of": each.of, "amount": plain(each.amount), "days": each.days}
            for each in halts
        ],
        asked_by=who,
        asked_at=now,
    )


@transaction.atomic
def answer_order_sign_off(
    who: User,
    sign_off_id: int,
    *,
    granted: bool,
    comment: str,
    now: datetime,
    seen: Seen | None = None,
) -> OrderSignOff:
    """Grant or refuse; by a lead of the team, never by the one who asked or whose order it is."""
    if who.role not in (LEAD, ADMIN):
        raise Forbidden("not_for_role", facts={"what": "sign"})
    known = OrderSignOff.objects.filter(owned(who, "order__owner"))
    row = pick(known, sign_off_id, "sign-off")
    order = _order(who, row.order_id, seen)
    row = pick_locked(known, sign_off_id, "sign-off")
    if row.asked_by_id == who.pk:
        raise Forbidden("own_request")
    if order.owner_id == who.pk:
        raise Forbidden("own_order")
    if row.answer:
        raise Refused("answered")
    if row.mark != order_mark(order, order.lines.all()):
        raise Refused("changed")
    row.answer = GRANTED if granted else REFUSED
    row.answered_by, row.answered_at, row.comment = who, now, comment.strip()
    row.save()
    record_changes(who, "order", order.pk, {"sign_off": ("asked", row.answer)}, comment.strip())
    return row
