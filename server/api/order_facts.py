"""What happened of an order, line by line: deliveries, invoices, returns, changes and what was said to them."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal

from django.db.models import Count, Q, Sum

from api.schemas import Schema
from apps.handover.models import ANSWERED, OrderChange, Replenishment, SelfHandover
from apps.ledger.models import CREDIT, INVOICE, InvoiceLine
from apps.orders.models import Order, OrderLine, Return
from apps.stock.models import Depot
from routecore.casefile.words import plain
from routecore.ordering import LineFacts, stage_of_line


class BackOut(Schema):
    """Goods that came back, and why."""

    number: str
    on: date
    reason: str
    lines: list[str]


class ChangedLine(Schema):
    """A line of a change: what it was and is to become, and what was said to it. Empty where it stays."""

    line: int
    text: str
    unit: str
    was: str
    becomes: str
    was_on: date | None
    becomes_on: date | None
    place: dict[str, str] | None
    depot: str
    outcome: str
    message: str


class OrderChangeOut(Schema):
    """A change of the order. ``state``: waiting, under way, asked (an answer is awaited), answered, refused.

    ``by`` is empty where the back office changed it by itself; ``noticed`` whether somebody of ours has seen the
    answer.
    """

    id: int
    state: str
    by: str
    at: datetime
    reason: str
    tries: int
    next_try_at: datetime
    said: str
    answered_at: datetime | None
    noticed: bool
    lines: list[ChangedLine]


@dataclass(slots=True)
class Done:
    """What was done of a line."""

    shipped: Decimal = Decimal(0)
    returned: Decimal = Decimal(0)
    billed: Decimal = Decimal(0)
    credited: Decimal = Decimal(0)
    open_bills: bool = False


def done_of(lines: Iterable[OrderLine]) -> dict[int, Done]:
    """By line, what was done of it. ``lines`` with their deliveries and returns; one query."""
    found = {
        line.pk: Done(
            shipped=sum((row.quantity for row in line.delivery_lines.all()), Decimal(0)),
            returned=sum((row.quantity for row in line.return_lines.all()), Decimal(0)),
        )
        for line in lines
    }
    bills = InvoiceLine.objects.filter(order_line__in=list(found))
    sums = bills.values_list("order_line", "invoice__kind").annotate(
        sum_=Sum("net"), unpaid=Count("pk", filter=Q(invoice__open_amount__gt=0))
    )
    for pk, kind, net, unpaid in sums:
        if kind == INVOICE:
            found[pk].billed, found[pk].open_bills = net, unpaid > 0
        elif kind == CREDIT:
            found[pk].credited = net
    return found


def stage_of(line: OrderLine, done: Done) -> str:
    """How far a line is."""
    return stage_of_line(
        LineFacts(
            quantity=line.quantity,
            net=line.net - line.discount_share,
            service=line.item.kind == "service",
            promised=line.promised_on is not None,
            missing=line.missing,
            shipped=done.shipped,
            returned=done.returned,
            billed=done.billed,
            open_bills=done.open_bills,
        )
    )


def returns_of(order: Order) -> list[BackOut]:
    """What came back. Two queries."""
    return [
        _back(row) for row in order.returns.prefetch_related("lines__order_line").order_by("pk")
    ]


def _back(row: Return) -> BackOut:
    lines = [f"{plain(each.quantity)} × {each.order_line.text}" for each in row.lines.all()]
    return BackOut(number=row.number, on=row.on, reason=row.reason, lines=lines)


def changes_of(order: Order, lines: Iterable[OrderLine]) -> list[OrderChangeOut]:
    """Its changes, the newest first. One query; one more where lines were to leave from another depot."""
    by_position = {line.position: line for line in lines}
    rows = list(order.changes.select_related("asked_by").order_by("-pk"))
    codes = {each["depot"] for row in rows for each in row.payload["lines"] if each.get("depot")}
    named = Depot.objects.filter(code__in=codes) if codes else Depot.objects.none()
    depots = dict(named.values_list("code", "name"))
    return [_change(row, by_position, depots) for row in rows]


def _change(
    row: OrderChange, lines: dict[int, OrderLine], depots: dict[str, str]
) -> OrderChangeOut:
    answers = {each["line"]: each for each in row.answer}
    return OrderChangeOut(
        id=row.pk,
        state=row.state,
        by=row.asked_by.name if row.asked_by else "",
        at=row.created_at,
        reason=row.reason,
        tries=row.tries,
        next_try_at=row.next_try_at,
        said=row.last_error,
        answered_at=row.answered_at,
        noticed=row.noticed_at is not None,
        lines=[
            _changed(each, lines[each["line"]], answers.get(each["line"], {}), depots)
            for each in row.payload["lines"]
        ],
    )


def _changed(
    row: dict[str, object], line: OrderLine, answer: dict[str, str], depots: dict[str, str]
) -> ChangedLine:
    was = row.get("was")
    before: dict[str, object] = was if isinstance(was, dict) else {}
    place = row.get("delivery_address")
    return ChangedLine(
        line=line.position,
        text=line.text,
        unit=line.unit,
        was=_text(before.get("quantity")),
        becomes=_text(row.get("quantity")),
        was_on=_day(before.get("wanted_on")),
        becomes_on=_day(row.get("wanted_on")),
        place=place if isinstance(place, dict) else None,
        depot=depots.get(_text(row.get("depot")), ""),
        outcome=answer.get("outcome", ""),
        message=answer.get("message", ""),
    )


class GoodsOut(Schema):
    """Goods asked for, for a line: in the item's base unit, and what was said."""

    line: int
    quantity: str
    wanted_on: date | None
    state: str
    receipt: str
    due_on: date | None
    said: str
    by: str
    at: datetime


class BySelfOut(Schema):
    """When the order hands itself over; or that somebody stopped it, or why it did not."""

    due_at: datetime
    stopped_by: str
    held_by: str
    done: bool


def goods_of(order: Order) -> list[GoodsOut]:
    """What was asked for, for its lines. One query."""
    rows = Replenishment.objects.filter(order_line__order=order)
    return [
        GoodsOut(
            line=row.order_line.position,
            quantity=plain(row.quantity) or "",
            wanted_on=row.wanted_on,
            state="turned_down" if row.state == ANSWERED and not row.receipt else row.state,
            receipt=row.receipt,
            due_on=row.due_on,
            said=row.said or row.last_error,
            by=row.asked_by.name,
            at=row.created_at,
        )
        for row in rows.select_related("order_line", "asked_by").order_by("pk")
    ]


def by_itself(order: Order) -> BySelfOut | None:
    """Whether it hands itself over. One query."""
    row = SelfHandover.objects.select_related("stopped_by").filter(order=order).first()
    if row is None:
        return None
    by = row.stopped_by.name if row.stopped_by else ""
    return BySelfOut(due_at=row.due_at, stopped_by=by, held_by=row.held_by, done=row.done)


def _text(value: object) -> str:
    return value if isinstance(value, str) else ""


def _day(value: object) -> date | None:
    return date.fromisoformat(value) if isinstance(value, str) else None
