"""The sign-off of an order that something holds: asked with a reason, answered by somebody who may.

What holds it is the customer on Halt, a margin under its floor, a discount over its limit. It is for exactly the
order that was seen, and for the reasons of that moment: a reason that is new since, or a figure that is worse,
asks anew.
"""

from collections.abc import Sequence
from dataclasses import dataclass
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
#: Reasons whose figure may not grow after the sign-off, and one that may not fall; days go by for everybody.
GROWS = ("over_limit", "document_discount", "line_discount")
FALLS = "margin_floor"


@dataclass(frozen=True, slots=True, kw_only=True)
class Hold:
    """Why an order waits for a sign-off: a reason of its customer's standing, or a limit that it exceeds.

    ``of`` is whose limit (the group's, the parent's), or the offer and the key of its line; ``amount``
    the figure behind it: an amount, or a percent.
    """

    code: str
    of: str
    amount: Decimal | None
    days: int | None = None


def holds_of(order: Order, today: date, now: datetime) -> list[Hold]:
    """All that holds an order now, with itself counted. Nothing where it can be handed over."""
    return holds_in(halts_of(order, today, now), order)


def holds_in(halts: Sequence[Reason], order: Order) -> list[Hold]:
    """The same, of a customer whose halts are known. One query."""
    found = [Hold(code=e.code, of=e.of, amount=e.amount, days=e.days) for e in halts]
    for acceptance in order.acceptances.only("revision_id", "excesses"):
        for row in acceptance.excesses:
            amount = None if row["found"] is None else Decimal(row["found"])
            of = f"{acceptance.revision_id}:{row['line']}"
            found.append(Hold(code=row["code"], of=of, amount=amount))
    return found


def halts_of(order: Order, today: date, now: datetime) -> list[Reason]:
    """Why the customer of an order stands on Halt now, with this order counted; nothing where they do not."""
    customer = order.customer
    found = standings([customer], today, age_hours=figures_age_hours(now))[customer.pk]
    return halts_in(found)


def halts_in(standing: Standing) -> list[Reason]:
    """The reasons of a standing that stop an order."""
    return [reason for reason in standing.reasons if reason.verdict == HALT]


def sign_off_of_order(order: Order, holds: Sequence[Hold]) -> OrderSignOff | None:
    """The newest sign-off that is for the order as it stands, and for all that holds it. One query."""
    mark = order_mark(order, order.lines.all())
    for row in order.sign_offs.select_related("asked_by", "answered_by").order_by("-pk"):
        if row.mark == mark and _covered(row, holds):
            return row
    return None


def _covered(row: OrderSignOff, holds: Sequence[Hold]) -> bool:
    seen = {(each["code"], each["of"]): each["amount"] for each in row.reasons}
    for hold in holds:
        if (hold.code, hold.of) not in seen:
            return False
        before, now = Decimal(seen[hold.code, hold.of] or 0), hold.amount
        if now and hold.code in GROWS and before < now:
            return False
        if now is not None and hold.code == FALLS and before > now:
            return False
    return True


def require_clearance(order: Order, today: date, now: datetime) -> None:
    """Refuse to hand over an order that something holds unless somebody signed exactly this off."""
    halts = halts_of(order, today, now)
    holds = holds_in(halts, order)
    if not holds:
        return
    found = sign_off_of_order(order, holds)
    if found is None or found.answer != GRANTED:
        if halts:
            raise Refused("halt_needs_sign_off", facts={"name": order.customer.name})
        raise Refused("limit_needs_sign_off")


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
    holds = holds_of(order, today, now)
    if not holds:
        raise Refused("nothing_to_sign")
    if not reason.strip():
        raise Invalid("required", path="reason", facts={"what": "sign_off"})
    known = sign_off_of_order(order, holds)
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
            for each in holds
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
