"""The buyer changes an order: less of a line, later, elsewhere, from another depot, or nothing of it any more.

As long as the back office does not have the order, a change is done at once. Afterwards it is asked for, line by line,
and the back office's answer decides: what it has done already cannot be undone by asking.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from apps.catalogue.models import SERVICE
from apps.customers.addresses import addresses_of, delivery_address
from apps.errors import Invalid, Missing, Refused, check_version
from apps.handover.models import (
    ANSWERED,
    OPEN_CHANGES,
    REFUSED,
    UNDER_WAY,
    WAITING,
    Handover,
    OrderChange,
)
from apps.handover.payload import payload_of
from apps.journal.flows import record_changes
from apps.orders.altering import Altered, alter, by_answer, shipped_of
from apps.orders.models import Order, OrderLine
from apps.orders.offers import require_packs
from apps.orders.promises import promise_anew, promise_moved
from apps.orders.queries import state_of
from apps.people.access import owned, pick, pick_locked, sells
from apps.people.models import User
from apps.quotes.models import Quote
from apps.stock.models import Depot
from apps.told import Unfit
from routecore.casefile.words import plain

Json = dict[str, Any]


@dataclass(frozen=True, slots=True, kw_only=True)
class Wish:
    """What the buyer wants of a line instead; None for what stays. ``quantity`` nothing: not any more."""

    line_id: int
    quantity: Decimal | None = None
    wanted_on: date | None = None
    address_id: int | None = None
    depot_id: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Head:
    """What changes of the whole order, as long as the back office does not have it; None for what stays."""

    buyer_reference: str | None = None
    requested_on: date | None = None
    address_id: int | None = None

    @property
    def says(self) -> bool:
        """Whether anything is to change."""
        return (self.buyer_reference, self.requested_on, self.address_id) != (None, None, None)


def lock_order(who: User, order_id: int) -> Order:
    """An order of theirs, locked after its quotes, as writing an order does."""
    mine = Order.objects.filter(owned(who))
    known = pick(mine, order_id, "order")
    keys = quotes_of(known)
    list(Quote.objects.select_for_update().filter(pk__in=keys).order_by("pk").values_list("pk"))
    rows = mine.select_related("customer", "revision")
    return pick_locked(rows.defer("revision__priced", "revision__case"), order_id, "order")


def quotes_of(order: Order) -> list[int]:
    """The quotes that an order takes from."""
    quotes = Quote.objects.filter(revisions__acceptances__order=order)
    return list(quotes.values_list("pk", flat=True).distinct())


def mend_payload(order: Order) -> None:
    """What was turned down is sent as the order is now, once it is sent again."""
    entry = Handover.objects.filter(order=order, state=REFUSED).first()
    if entry is not None:
        entry.payload = payload_of(order)
        entry.save(update_fields=["payload"])


def with_them(order: Order) -> bool:
    """Whether the back office has the order; refused while it is on its way there."""
    entry = Handover.objects.select_for_update().filter(order=order).first()
    if entry is None or entry.state == REFUSED:
        return False
    if entry.state in (WAITING, UNDER_WAY):
        raise Refused("on_its_way", facts={"number": order.number})
    return True


@transaction.atomic
def change_order(
    who: User,
    order_id: int,
    version: int,
    *,
    wishes: Sequence[Wish],
    head: Head | None = None,
    reason: str,
    today: date,
    now: datetime,
) -> OrderChange:
    """Change an order, or ask the back office to where it has it.

    One change at a time. Refused below what has left, beyond what was ordered (that is another order), for a day gone
    by, and where nothing would change.
    """
    sells(who)
    order = lock_order(who, order_id)
    check_version(order.version, version, "order")
    theirs = _may_change(order, head, reason)
    rows = _rows(order, wishes, today)
    if not rows and not (head is not None and head.says):
        raise Invalid("nothing_changes", path="lines")
    change = OrderChange(
        order=order, asked_by=who, reason=reason.strip(), next_try_at=now,
        payload={"order_number": order.number, "reason": reason.strip(), "lines": rows},
    )  # fmt: skip
    if theirs:
        change.save()
        record_changes(who, "order", order.pk, {"change": ("", "asked")}, change.reason)
        return change
    change.state, change.answered_at, change.noticed_at = ANSWERED, now, now
    change.answer = [{"line": row["line"], "outcome": "taken", "message": ""} for row in rows]
    change.save()
    _do(order, rows, head, who, change.reason, today=today, now=now)
    return change


def _may_change(order: Order, head: Head | None, reason: str) -> bool:
    """Whether the back office has to be asked; refused where the order cannot be changed now."""
    if order.cancelled_at is not None:
        raise Refused("cancelled")
    if not reason.strip():
        raise Invalid("required", path="reason", facts={"what": "change"})
    theirs = with_them(order)
    if OrderChange.objects.filter(order=order, state__in=OPEN_CHANGES).exists():
        raise Refused("change_open")
    if theirs and head is not None and head.says:
        raise Refused("head_is_theirs", path="head")
    return theirs


def _rows(order: Order, wishes: Sequence[Wish], today: date) -> list[Json]:
    """The lines of a change, each with what it was; only what differs."""
    lines = {line.pk: line for line in order.lines.select_related("item", "depot")}
    left = shipped_of(order)
    places = addresses_of(order.customer, (w.address_id for w in wishes if w.address_id))
    codes = _depots({w.depot_id for w in wishes if w.depot_id})
    if len({wish.line_id for wish in wishes}) < len(wishes):
        raise Invalid("double_id", path="lines")
    rows = []
    for n, wish in enumerate(wishes):
        line = lines.get(wish.line_id)
        if line is None:
            raise Missing("not_found", facts={"what": "line"})
        place = places.get(wish.address_id or 0)
        row = _row(line, wish, place, left.get(line.pk, Decimal(0)), n, today)
        if wish.depot_id and wish.depot_id != line.depot_id and line.item.kind != SERVICE:
            row["depot"] = codes[wish.depot_id]
        if len(row) > 1 and left.get(line.pk, Decimal(0)) >= line.quantity > 0:
            raise Refused("has_left", path=f"lines[{n}]", facts={"text": line.text})
        if len(row) > 1:
            row["was"] = {name: _was(line, name) for name in row if name != "line"}
            rows.append(row)
    return rows


def _depots(keys: set[int]) -> dict[int, str]:
    """The codes of these depots; refused where one is not there."""
    codes = dict(Depot.objects.filter(pk__in=keys).values_list("pk", "code")) if keys else {}
    if len(codes) < len(keys):
        raise Missing("not_found", facts={"what": "depot"})
    return codes


def _row(
    line: OrderLine, wish: Wish, place: dict[str, str] | None, left: Decimal, n: int, today: date
) -> Json:
    row: Json = {"line": line.position}
    if wish.quantity is not None and wish.quantity != line.quantity:
        _fits(line, wish.quantity, left, n)
        row["quantity"] = plain(wish.quantity)
    if wish.wanted_on is not None and wish.wanted_on != line.wanted_on:
        if wish.wanted_on < today:
            raise Invalid("date_gone_by", path=f"lines[{n}].wanted_on")
        row["wanted_on"] = wish.wanted_on.isoformat()
    if place is not None and place != (line.delivery_address or line.order.delivery_address):
        row["delivery_address"] = place
    return row


def _was(line: OrderLine, name: str) -> object:
    if name == "depot":
        return line.depot.code if line.depot else None
    value = getattr(line, name)
    if isinstance(value, Decimal):
        return plain(value)
    if isinstance(value, date):
        return value.isoformat()
    return value or (line.order.delivery_address if name == "delivery_address" else None)


def _fits(line: OrderLine, quantity: Decimal, left: Decimal, n: int) -> None:
    """No more than was ordered, no less than has left, whole packs."""
    path = f"lines[{n}].quantity"
    facts = {"text": line.text, "quantity": plain(line.quantity), "left": plain(left)}
    if quantity < 0 or quantity > line.quantity:
        raise Invalid("more_is_another_order", path=path, facts=facts)
    if quantity < left:
        raise Refused("has_left_more", path=path, facts=facts)
    if quantity in (0, left):
        return
    require_packs(line.item, line.unit, quantity, path=path, text=line.text)


def wished(rows: Sequence[Mapping[str, Any]]) -> dict[int, Altered]:
    """The lines of a change by position, as they are to become."""
    return {
        row["line"]: Altered(
            quantity=None if row.get("quantity") is None else Decimal(row["quantity"]),
            wanted_on=date.fromisoformat(row["wanted_on"]) if row.get("wanted_on") else None,
            delivery_address=row.get("delivery_address"),
            depot=row.get("depot"),
            net=row.get("net"),
        )
        for row in rows
    }


def _do(
    order: Order,
    rows: Sequence[Mapping[str, Any]],
    head: Head | None,
    who: User | None,
    reason: str,
    *,
    today: date,
    now: datetime,
) -> None:
    """Change the order: lines, sums, the whole of it; it is cancelled where nothing is left of it."""
    changes = alter(order, wished(rows))
    if head is not None and head.says:
        changes |= _take_head(order, head)
    gone = not order.lines.filter(quantity__gt=0).exists()
    if gone:
        changes["state"] = (state_of(order), "cancelled")
        order.cancelled_at, order.cancelled_by, order.cancel_reason = now, who, reason
    order.version += 1
    order.save()
    entry = Handover.objects.filter(order=order).first()
    if not gone and (entry is None or entry.state == REFUSED):
        promise_anew(order, [row["line"] for row in rows], today=today, now=now)
    elif not gone:
        promise_moved(
            order, [row["line"] for row in rows if row.get("depot")], today=today, now=now
        )
    mend_payload(order)
    record_changes(who, "order", order.pk, changes, reason)


def _take_head(order: Order, head: Head) -> dict[str, tuple[object, object]]:
    changes: dict[str, tuple[object, object]] = {}
    if head.buyer_reference is not None:
        changes["buyer_reference"] = (order.buyer_reference, head.buyer_reference.strip())
        order.buyer_reference = head.buyer_reference.strip()
    if head.requested_on is not None:
        changes["requested_on"] = (order.requested_on, head.requested_on)
        order.requested_on = head.requested_on
    if head.address_id is not None:
        place = delivery_address(order.customer, head.address_id)
        assert place is not None
        changes["delivery_address"] = (
            (order.delivery_address or {}).get("street"),
            place["street"],
        )
        order.delivery_address = place
    return changes


def _not_below_what_left(order: Order, rows: Sequence[Mapping[str, Any]]) -> None:
    """Set an answer apart that takes back what has left: somebody has to look at it."""
    left = shipped_of(order)
    lines = {line.position: left.get(line.pk, Decimal(0)) for line in order.lines.all()}
    for row in rows:
        quantity = row.get("quantity")
        if quantity is not None and Decimal(quantity) < lines[row["line"]]:
            raise Unfit("below_what_left", line=row["line"], left=plain(lines[row["line"]]))


def take_answer(
    order: Order,
    key: UUID,
    told: Mapping[int, tuple[bool, str]],
    now: datetime,
    *,
    nets: Mapping[int, Decimal] | None = None,
) -> None:
    """The back office answered a change, line by line: what it took is done, the rest stays as it was.

    ``nets`` is what it will bill for lines: our sums follow, so that both sides come to the same.
    """
    change = OrderChange.objects.select_for_update().filter(order=order, key=key).first()
    if change is None:
        raise Unfit("unknown_change")
    if change.state == ANSWERED:
        return
    rows = [row for row in change.payload["lines"] if told.get(row["line"], (False, ""))[0]]
    _not_below_what_left(order, rows)
    change.answer = [
        {
            "line": row["line"],
            "outcome": "taken" if told.get(row["line"], (False, ""))[0] else "refused",
            "message": told.get(row["line"], (False, ""))[1],
        }
        for row in change.payload["lines"]
    ]
    change.state, change.answered_at, change.leased_until = ANSWERED, now, None
    change.version += 1
    change.save()
    if rows:
        with by_answer():
            on = timezone.localdate(now)
            _do(order, _billed(rows, nets), None, None, change.reason, today=on, now=now)


def _billed(rows: Sequence[Json], nets: Mapping[int, Decimal] | None) -> list[Json]:
    """The rows, with what the back office told that it bills for them."""
    return [{**row, "net": (nets or {}).get(row["line"])} for row in rows]


def take_change(
    order: Order,
    told: Mapping[int, tuple[Decimal, str]],
    reason: str,
    now: datetime,
    *,
    nets: Mapping[int, Decimal] | None = None,
) -> None:
    """The back office changed quantities by itself: that is so, and people read of it."""
    lines = {line.position: line for line in order.lines.all()}
    rows: list[Json] = []
    for position, (quantity, _) in told.items():
        line = lines.get(position)
        if line is None:
            raise Unfit("unknown_line", line=position)
        if quantity > line.quantity:
            raise Unfit("more_than_ordered", line=position)
        if quantity != line.quantity:
            row = {"line": position, "quantity": plain(quantity)}
            rows.append({**row, "was": {"quantity": plain(line.quantity)}})
    if not rows:
        return
    _not_below_what_left(order, rows)
    said = reason or next((words for _, words in told.values() if words), "")
    OrderChange.objects.create(
        order=order,
        reason=said[:200],
        state=ANSWERED,
        next_try_at=now,
        answered_at=now,
        payload={"order_number": order.number, "reason": said, "lines": rows},
        answer=[
            {"line": row["line"], "outcome": "taken", "message": told[row["line"]][1]}
            for row in rows
        ],
    )
    with by_answer():
        on = timezone.localdate(now)
        _do(order, _billed(rows, nets), None, None, said, today=on, now=now)


@transaction.atomic
def notice(who: User, change_id: int, *, now: datetime) -> OrderChange:
    """Somebody of ours has seen what the back office answered."""
    sells(who)
    row = pick_locked(OrderChange.objects.filter(owned(who, "order__owner")), change_id, "change")
    if row.answered_at is not None and row.noticed_at is None:
        row.noticed_at = now
        row.save(update_fields=["noticed_at"])
    return row
