"""Keeping standing orders, and answering them: a day becomes a draft that a person orders, or is left out."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from decimal import Decimal
import uuid

from django.db import transaction

from apps.catalogue.models import Item
from apps.customers.addresses import delivery_address
from apps.customers.models import Customer
from apps.errors import Invalid, Refused, check_version
from apps.journal.flows import record_changes
from apps.people.access import owned, pick, pick_locked, sells
from apps.people.models import User
from apps.quotes.flows.saving import put_lines
from apps.quotes.flows.starting import start_quote
from apps.quotes.models import Quote, Revision
from apps.quotes.pricing.question import DraftLine
from apps.standing_orders.models import StandingLine, StandingOrder, StandingTurn
from apps.stock.calendars import workdays
from routecore.errors import CoreError
from routecore.repeat import Repetition, read_rule

MOST_LINES = 200
#: A standing order without an end is looked at so far ahead.
HORIZON = timedelta(days=3 * 366)


@dataclass(frozen=True, slots=True, kw_only=True)
class Each:
    """So much of an item each time, in one of its units."""

    item_id: int
    quantity: Decimal
    unit: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Wish:
    """A standing order as a person writes it down."""

    title: str
    repetition: Repetition
    begins: date
    ends: date | None
    notice_days: int
    buyer_reference: str
    delivery_address_id: int | None
    lines: Sequence[Each]


@transaction.atomic
def add_standing_order(who: User, customer_id: int, wish: Wish, *, today: date) -> StandingOrder:
    """A new one for a customer; its first day is the first that is not gone by."""
    sells(who)
    customer = pick(Customer.objects.active().filter(owned(who)), customer_id, "customer")
    row = StandingOrder(customer=customer, made_by=who)
    _write(row, wish, today)
    record_changes(
        who, "standing_order", row.pk, {"title": ("", row.title), "rule": ("", row.rule)}
    )
    return row


@transaction.atomic
def change_standing_order(
    who: User, pk: int, version: int, wish: Wish, *, today: date
) -> StandingOrder:
    """Another wish in the place of the one that was seen; days that were answered stay answered."""
    sells(who)
    row = _own(who, pk, version)
    before = {name: getattr(row, name) for name in ("title", "rule", "begins", "ends")}
    row.version += 1
    _write(row, wish, today)
    changes = {name: (was, getattr(row, name)) for name, was in before.items()}
    record_changes(who, "standing_order", row.pk, changes)
    return row


@transaction.atomic
def end_standing_order(who: User, pk: int, version: int, *, now: datetime) -> StandingOrder:
    """It asks no more. What was ordered by it stays."""
    sells(who)
    row = _own(who, pk, version)
    row.ended_at, row.next_on, row.ask_on = now, None, None
    row.version += 1
    row.save()
    record_changes(who, "standing_order", row.pk, {"ended": ("", now.isoformat())})
    return row


@transaction.atomic
def begin_turn(
    who: User, pk: int, version: int, on: date, *, today: date, now: datetime
) -> Revision:
    """A draft for a day: today's prices, everything filled in; ordered by whoever looks it through."""
    sells(who)
    row = _own(who, pk, version)
    turn = _turn(row, on)
    made = start_quote(who, today=today, customer_id=row.customer_id)
    made.buyer_reference, made.requested_on = row.buyer_reference, wanted_day(row, on, today)
    if row.delivery_address_id:
        address = delivery_address(row.customer, row.delivery_address_id)
        made.deliver_to = {"id": row.delivery_address_id, **(address or {})}
    put_lines(who, made, [_draft_line(line) for line in row.lines.all()], today)
    turn.quote, turn.answered_by, turn.answered_at = made.quote, who, now
    _answered(row, turn, today)
    return made


@transaction.atomic
def leave_out(
    who: User, pk: int, version: int, on: date, *, reason: str, today: date, now: datetime
) -> StandingOrder:
    """Nothing is ordered for this day, and why."""
    sells(who)
    row = _own(who, pk, version)
    turn = _turn(row, on)
    turn.left_out, turn.reason, turn.answered_by, turn.answered_at = True, reason[:200], who, now
    _answered(row, turn, today)
    record_changes(who, "standing_order", row.pk, {"left out": ("", on.isoformat())}, reason)
    return row


def _own(who: User, pk: int, version: int) -> StandingOrder:
    rows = StandingOrder.objects.filter(owned(who, "customer__owner")).select_related("customer")
    row = pick_locked(rows, pk, "standing_order")
    check_version(row.version, version, "standing_order")
    if row.ended_at is not None:
        raise Refused("standing_order_ended")
    return row


def _turn(row: StandingOrder, on: date) -> StandingTurn:
    """The answer of a day that waits for one."""
    known = row.turns.filter(on=on).first()
    if known is not None and known.quote_id is None and not known.left_out:
        return known
    if known is not None or on != row.next_on:
        raise Refused("turn_answered", facts={"on": on})
    return StandingTurn(standing_order=row, on=on)


def _answered(row: StandingOrder, turn: StandingTurn, today: date) -> None:
    turn.save()
    row.version += 1
    _look_ahead(row, today)
    row.save()


def _write(row: StandingOrder, wish: Wish, today: date) -> None:
    if not wish.title.strip():
        raise Invalid("required", path="title", facts={"what": "standing_title"})
    if wish.ends and wish.ends < wish.begins:
        raise Invalid("out_of_order", path="ends")
    _check_lines(wish.lines)
    if wish.delivery_address_id:
        delivery_address(row.customer, wish.delivery_address_id)
    row.title, row.rule = wish.title.strip()[:80], wish.repetition.rule
    row.begins, row.ends, row.notice_days = wish.begins, wish.ends, wish.notice_days
    row.buyer_reference = wish.buyer_reference
    row.delivery_address_id = wish.delivery_address_id
    _look_ahead(row, today)
    if row.next_on is None:
        raise Invalid("no_day_left", path="rule")
    row.save()
    row.lines.all().delete()
    StandingLine.objects.bulk_create(
        StandingLine(
            standing_order=row,
            position=n,
            item_id=each.item_id,
            quantity=each.quantity,
            unit=each.unit,
        )
        for n, each in enumerate(wish.lines, start=1)
    )


def _check_lines(lines: Sequence[Each]) -> None:
    if not lines:
        raise Invalid("required", path="lines", facts={"what": "line"})
    if len(lines) > MOST_LINES:
        raise Invalid("too_many", path="lines", facts={"what": "lines", "most": MOST_LINES})
    items = Item.objects.prefetch_related("units").in_bulk({each.item_id for each in lines})
    for n, each in enumerate(lines):
        item = items.get(each.item_id)
        if item is None or not item.active:
            raise Invalid("unknown", path=f"lines[{n}].item_id", facts={"value": each.item_id})
        known = {item.base_unit_id, *(unit.unit_id for unit in item.units.all())}
        if each.unit not in known:
            raise Invalid("unknown_unit", path=f"lines[{n}].unit")
        if each.quantity <= 0:
            raise Invalid("not_positive", path=f"lines[{n}].quantity")


def _look_ahead(row: StandingOrder, today: date) -> None:
    """Its next day: the first after those that were answered; of a new one, the first that is not gone by."""
    last = row.turns.order_by("-on").values_list("on", flat=True).first() if row.pk else None
    after = last if last is not None else today - timedelta(days=1)
    until = row.ends or max(today, row.begins) + HORIZON
    try:
        row.next_on = read_rule(row.rule).next_after(row.begins, until, after)
    except CoreError as error:
        raise Invalid.of(error, path="rule") from error
    row.ask_on = row.next_on and row.next_on - timedelta(days=row.notice_days)


def wanted_day(row: StandingOrder, on: date, today: date) -> date:
    """The working day of the buyer's country on or after a day; never one that is gone by."""
    address = row.delivery_address or row.customer.addresses.active().first()
    calendar = workdays(address.country if address else "", "", today)
    return calendar.first_from(max(on, today))


def _draft_line(line: StandingLine) -> DraftLine:
    return DraftLine(
        key=str(uuid.uuid4()), item_id=line.item_id, quantity=line.quantity, unit=line.unit
    )


def standing_title_of(quote: Quote) -> str:
    """Of which standing order a quote is; empty for none."""
    turn = StandingTurn.objects.filter(quote=quote).select_related("standing_order").first()
    return turn.standing_order.title if turn else ""
