"""News from the back office becomes deliveries, invoices and payments: each once, in any order.

Each event stands on its own: one that cannot be read, or that does not add up with what is known, is
set apart and holds nothing up. An event that builds on one still to come (a payment for an invoice not
seen yet) waits, and is applied as soon as the other arrives.
"""

from collections.abc import Iterable
from datetime import datetime, timedelta
from decimal import Decimal
import json
import logging
from uuid import UUID

from django.db import transaction
from django.db.models import Q, QuerySet, Sum
from django.db.utils import IntegrityError, OperationalError

from apps.catalogue.models import SERVICE
from apps.customers.payment import payment_of
from apps.handover.changes import take_answer, take_change
from apps.handover.models import (
    APART,
    APPLIED,
    EXPECTANT,
    HELD,
    OPEN_CHANGES,
    REFUSED,
    TAKEN,
    UNDER_WAY,
    WAITING,
    BackOfficeEvent,
    FeedPosition,
    Handover,
)
from apps.handover.reading import (
    MOST_RAW,
    Answered,
    Changed,
    Credited,
    Held,
    Invoiced,
    News,
    Numbered,
    Paid,
    Replenished,
    Returned,
    Shipped,
    Story,
    read_news,
    story_of,
)
from apps.handover.requests import take_request_answer
from apps.ledger.flows import Line as Billed
from apps.ledger.flows import book_invoice, further_terms, settle_up
from apps.ledger.models import CREDIT, INVOICE, Allocation, Invoice, InvoiceLine, Payment
from apps.orders.altering import shipped_of
from apps.orders.models import (
    Delivery,
    DeliveryLine,
    Order,
    OrderLine,
    Return,
    ReturnLine,
)
from apps.regulars.days import forget_day
from apps.told import Unfit, mark_of, raw_text

log = logging.getLogger("vivid.news")
FEED = "backoffice"
#: What partial invoices may come to beyond the order: each rounds its own tax.
ROUNDING = Decimal("0.05")
#: How far a position may lie beyond the one before it, where the feed does not tell its last.
STRIDE = 100_000


class NotYet(Exception):
    """The event waits for another one; with the words for what it waits for."""

    def __init__(self, what: str, **facts: object):
        self.facts = {"what": what, **{name: str(value) for name, value in facts.items()}}
        super().__init__(what)


def take_in_raw(events: Iterable[object], last: int | None = None) -> int:
    """Take in events as they came; how many were new. What cannot be read is set apart."""
    news: list[News] = []
    fresh = 0
    for raw in events:
        try:
            news.append(read_news(raw))
        except Unfit as reason:
            fresh += _set_apart_unread(raw, reason)
    return fresh + take_in(news, last)


def take_in(news: Iterable[News], last: int | None = None) -> int:
    """Keep and apply events, each for itself, and move the feed's position; how many were new."""
    told = list(news)
    known = set(
        BackOfficeEvent.objects.filter(event_id__in=[item.event_id for item in told]).values_list(
            "event_id", flat=True
        )
    )
    fresh = sum(_take_one(item) for item in told if item.event_id not in known)
    _move_on((item.position for item in told), last)
    return fresh


@transaction.atomic
def _take_one(item: News) -> int:
    raw = raw_text(
        {
            "id": str(item.event_id),
            "key": str(item.key),
            "kind": item.kind,
            "occurred_at": item.occurred_at.isoformat(),
            "data": item.data,
        },
        MOST_RAW,
    )
    try:
        story_of(item.kind, item.data)
        data = item.data
    except Unfit:
        data = {}  # as it came it may not even be storable; ``raw`` has it as text
    _, created = BackOfficeEvent.objects.get_or_create(
        event_id=item.event_id,
        defaults={
            "key": item.key,
            "kind": item.kind,
            "occurred_at": item.occurred_at,
            "data": data,
            "raw": raw,
        },
    )
    if created:
        apply_waiting(item.key)
    return int(created)


def _set_apart_unread(raw: object, reason: Unfit) -> int:
    text = raw_text(raw, MOST_RAW)
    _, created = BackOfficeEvent.objects.get_or_create(
        mark=mark_of(text), defaults={"raw": text, "state": APART, "facts": reason.facts}
    )
    return int(created)


@transaction.atomic
def _move_on(positions: Iterable[int], last: int | None) -> None:
    FeedPosition.objects.get_or_create(feed=FEED)
    row = FeedPosition.objects.select_for_update().get(feed=FEED)
    most = row.position + STRIDE if last is None else last
    reached = max((p for p in positions if p <= most), default=0)
    if reached > row.position:
        row.position = reached
        row.save(update_fields=["position"])


def feed() -> FeedPosition:
    """How far the feed has been read."""
    return FeedPosition.objects.get_or_create(feed=FEED)[0]


def feed_position() -> int:
    """The position up to which the feed has been read."""
    row = FeedPosition.objects.filter(feed=FEED).first()
    return row.position if row else 0


def begin_anew(epoch: str) -> None:
    """The feed counts from its beginning again; events that are known stay known."""
    FeedPosition.objects.filter(feed=FEED).update(epoch=epoch, position=0)


def note_epoch(epoch: str) -> None:
    """The feed tells which count it is, for the first time."""
    FeedPosition.objects.filter(feed=FEED, epoch="").update(epoch=epoch)


def note_read(now: datetime) -> None:
    """The back office was asked and answered; written once a minute, or where it was silent."""
    rows = FeedPosition.objects.filter(feed=FEED)
    fresh = now - timedelta(minutes=1)
    due = Q(read_at__isnull=True) | Q(read_at__lt=fresh) | ~Q(problem="")
    values = {"read_at": now, "problem": "", "status": 0, "failing_since": None}
    if not rows.filter(due).update(**values):
        FeedPosition.objects.get_or_create(feed=FEED, defaults={"read_at": now})


def note_silence(what: str, status: int, now: datetime) -> None:
    """There is no news, and why; written where it was not so before."""
    FeedPosition.objects.get_or_create(feed=FEED)
    rows = FeedPosition.objects.filter(feed=FEED)
    rows.exclude(problem=what, status=status).update(problem=what, status=status)
    rows.filter(failing_since__isnull=True).update(failing_since=now)


def apply_waiting(key: UUID) -> None:
    """Apply what is there of an order's news, as far as it goes."""
    entry = Handover.objects.select_for_update().filter(key=key).first()
    waiting = list(
        BackOfficeEvent.objects.filter(key=key, state=EXPECTANT).order_by("occurred_at", "pk")
    )
    moved = True
    while moved:
        moved = False
        for event in list(waiting):
            if _settled(event, entry):
                waiting.remove(event)
                moved = True


def _settled(event: BackOfficeEvent, entry: Handover | None) -> bool:
    """Whether the event is done with: applied, or set apart."""
    try:
        if entry is None:
            raise Unfit("unknown_order")
        _apply_once(event, entry)
        event.state, event.facts = APPLIED, {}
        forget_day(entry.order.customer_id)
    except NotYet as reason:
        if event.facts != reason.facts:
            event.facts = reason.facts
            event.save(update_fields=["facts"])
        return False
    except Unfit as reason:
        event.state, event.facts = APART, reason.facts
    except IntegrityError:
        event.state, event.facts = APART, {"what": "taken_number"}
    except OperationalError:
        raise
    except Exception:
        log.exception("an event of the back office could not be applied: %s", event.pk)
        event.state, event.facts = APART, {"what": "unexpected"}
    event.save(update_fields=["state", "facts"])
    return True


def _apply_once(event: BackOfficeEvent, entry: Handover) -> None:
    """Its invoice or payment may come by the accounts in the same moment: then it is there the second time."""
    try:
        with transaction.atomic():
            _apply(event, entry)
    except IntegrityError:
        with transaction.atomic():
            _apply(event, entry)


def _apply(event: BackOfficeEvent, entry: Handover) -> None:
    read = story_of(event.kind, event.data) if event.data else story_from_raw(event)
    match read:
        case Numbered() | Held():
            _set_state(entry, event, read)
        case Shipped():
            _ship(read, entry.order)
        case Invoiced():
            _invoice(read, entry.order)
        case Paid():
            _pay(read, entry.order)
        case Credited():
            _credit(read, entry.order)
        case Returned():
            _take_back(read, entry.order)
        case Answered():
            take_answer(_locked(entry), read.change, read.lines, _at(event), nets=read.nets)
        case Replenished():
            answer = (read.taken, read.message, read.receipt, read.on)
            take_request_answer(_locked(entry), read.request, answer, _at(event))
        case Changed():
            take_change(_locked(entry), read.lines, read.reason, _at(event), nets=read.nets)


def _locked(entry: Handover) -> Order:
    """Its order, to be changed: locked, with what its sums follow from."""
    rows = Order.objects.select_for_update().select_related("customer", "revision")
    return rows.defer("revision__priced", "revision__case").get(pk=entry.order_id)


def _at(event: BackOfficeEvent) -> datetime:
    return event.occurred_at or event.received_at


def story_from_raw(event: BackOfficeEvent) -> Story:
    """What an event says that was kept as text only."""
    try:
        data = json.loads(event.raw)["data"]
    except (ValueError, KeyError, TypeError) as error:
        raise Unfit("unreadable", field="data") from error
    return story_of(event.kind, data if isinstance(data, dict) else {})


def _set_state(entry: Handover, event: BackOfficeEvent, told: Numbered | Held) -> None:
    """The newest of taken, held, released wins, whichever arrives last."""
    if entry.backoffice_number and told.number != entry.backoffice_number:
        raise Unfit("other_number", number=told.number, known=entry.backoffice_number)
    kinds = ("taken", "held", "released")
    later = BackOfficeEvent.objects.filter(
        key=entry.key, kind__in=kinds, state=APPLIED, occurred_at__gt=event.occurred_at
    )
    entry.backoffice_number = told.number
    if not later.exists() and entry.state in (TAKEN, HELD, WAITING, UNDER_WAY, REFUSED):
        entry.state = HELD if isinstance(told, Held) else TAKEN
        entry.last_error = told.reason if isinstance(told, Held) else ""
        entry.taken_at = entry.taken_at or event.occurred_at
    entry.version += 1
    entry.save()


def _rows(order: Order, positions: Iterable[int]) -> dict[int, OrderLine]:
    rows = {row.position: row for row in order.lines.select_related("item")}
    for position in positions:
        if position not in rows:
            raise Unfit("unknown_line", line=position)
    return rows


def _ship(told: Shipped, order: Order) -> None:
    rows = _rows(order, told.lines)
    before = dict(
        DeliveryLine.objects.filter(order_line__order=order)
        .values_list("order_line")
        .annotate(Sum("quantity"))
    )
    if Delivery.objects.filter(number=told.number).exists():
        raise Unfit("known_number", number=told.number)
    delivery = Delivery.objects.create(order=order, number=told.number, on=told.on)
    for position, quantity in told.lines.items():
        row = rows[position]
        if not quantity:
            continue
        if before.get(row.pk, Decimal(0)) + quantity > row.quantity:
            _may_still_change(order)
            raise Unfit("shipped_too_much", line=position, number=told.number)
        DeliveryLine.objects.create(delivery=delivery, order_line=row, quantity=quantity)


def _may_still_change(order: Order) -> None:
    """While a change is open, what does not add up waits for its answer."""
    if order.changes.filter(state__in=OPEN_CHANGES).exists():
        raise NotYet("change_open")


def _take_back(told: Returned, order: Order) -> None:
    """Goods came back: no more of a line than has left."""
    rows = _rows(order, told.lines)
    if Return.objects.filter(number=told.number).exists():
        raise Unfit("known_number", number=told.number)
    left = shipped_of(order)
    back = dict(
        ReturnLine.objects.filter(order_line__order=order)
        .values_list("order_line")
        .annotate(Sum("quantity"))
    )
    made = Return.objects.create(order=order, number=told.number, on=told.on, reason=told.reason)
    for position, quantity in told.lines.items():
        row = rows[position]
        if back.get(row.pk, Decimal(0)) + quantity > left.get(row.pk, Decimal(0)):
            raise NotYet("delivery_missing", line=position)
        if quantity:
            ReturnLine.objects.create(back=made, order_line=row, quantity=quantity)


def _credit(told: Credited, order: Order) -> None:
    """A credit note on an invoice of the order. What it settles is the account's to say: it may be paid already."""
    rows = _rows(order, told.lines)
    of = Invoice.objects.select_for_update().filter(number=told.invoice).first()
    if of is None:
        raise NotYet("invoice_missing", invoice=told.invoice)
    if of.order_id != order.pk:
        raise Unfit("other_order", invoice=told.invoice)
    if told.gross > of.gross:
        raise Unfit("credited_too_much", number=told.number, gross=told.gross, of=of.gross)
    there = Invoice.objects.filter(number=told.number).first()
    booked = (there.order_id, there.gross) if there is not None and there.change else None
    if booked == (order.pk, told.gross):
        return  # told whole before its event came
    if there is not None:
        raise Unfit("known_number", number=told.number)
    book_invoice(
        Invoice(
            number=told.number,
            customer_id=order.customer_id,
            order=order,
            kind=CREDIT,
            on=told.on,
            due_on=told.on,
            currency=order.currency,
            net=told.net,
            gross=told.gross,
        ),
        _billed(told, rows),
    )


def _billed(told: Invoiced | Credited, rows: dict[int, OrderLine]) -> list[Billed]:
    return [
        Billed(rows[position], rows[position].text, net, told.quantities.get(position))
        for position, net in told.lines.items()
    ]


def _invoice(told: Invoiced, order: Order) -> None:
    rows = _rows(order, told.lines)
    there = Invoice.objects.filter(number=told.number).first()
    booked = (
        (there.order_id, there.net, there.gross) if there is not None and there.change else None
    )
    if booked == (order.pk, told.net, told.gross):
        return  # told whole before its event came
    if there is not None:
        raise Unfit("known_number", number=told.number)
    _adds_up(told, order, rows)
    book_invoice(
        Invoice(
            number=told.number,
            customer_id=order.customer_id,
            order=order,
            on=told.on,
            due_on=told.due_on,
            **further_terms(payment_of(order), told.gross, order.currency, told.on),
            currency=order.currency,
            net=told.net,
            gross=told.gross,
        ),
        _billed(told, rows),
    )


def _adds_up(told: Invoiced, order: Order, rows: dict[int, OrderLine]) -> None:
    """No more is invoiced than was ordered: by line, net and gross."""
    if told.due_on < told.on or told.gross < told.net:
        raise Unfit("invoice_odd", number=told.number)
    billed = InvoiceLine.objects.filter(order_line__order=order, invoice__kind=INVOICE)
    before = dict(billed.values_list("order_line").annotate(Sum("net")))
    _has_left(told, order, rows, billed)
    for position, net in told.lines.items():
        row = rows[position]
        if before.get(row.pk, Decimal(0)) + net > row.net + ROUNDING:
            _may_still_change(order)
            raise Unfit("invoiced_too_much", line=position, number=told.number)
    sums = Invoice.objects.filter(order=order, kind=INVOICE).aggregate(Sum("net"), Sum("gross"))
    net = (sums["net__sum"] or Decimal(0)) + told.net
    gross = (sums["gross__sum"] or Decimal(0)) + told.gross
    if net > order.net + ROUNDING or gross > order.payable + ROUNDING:
        raise Unfit("invoiced_beyond", number=told.number, gross=gross, payable=order.payable)


def _has_left(
    told: Invoiced, order: Order, rows: dict[int, OrderLine], billed: QuerySet[InvoiceLine]
) -> None:
    """Goods are invoiced once they left: an invoice that comes before its delivery waits for it."""
    if not told.quantities:
        return
    left = shipped_of(order)
    before = dict(billed.values_list("order_line").annotate(Sum("quantity")))
    for position, quantity in told.quantities.items():
        row = rows[position]
        of = row.quantity if row.item.kind == SERVICE else left.get(row.pk, Decimal(0))
        if (before.get(row.pk) or Decimal(0)) + quantity > of:
            raise NotYet("delivery_missing", line=position)


def _pay(told: Paid, order: Order) -> None:
    invoice = Invoice.objects.select_for_update().filter(number=told.invoice).first()
    if invoice is None:
        raise NotYet("invoice_missing", invoice=told.invoice)
    if invoice.order_id != order.pk:
        raise Unfit("other_order", invoice=told.invoice)
    there = Payment.objects.filter(number=told.number).first()
    booked = (there.customer_id, there.amount) if there is not None and there.change else None
    if booked == (order.customer_id, told.amount):
        return  # told whole before its event came
    if there is not None:
        raise Unfit("known_number", number=told.number)
    settled = invoice.allocations.aggregate(Sum("amount"))["amount__sum"] or Decimal(0)
    if settled + told.amount > invoice.gross:
        open_amount = invoice.gross - settled
        raise Unfit("paid_too_much", number=told.number, open=open_amount, amount=told.amount)
    payment = Payment.objects.create(
        number=told.number,
        customer_id=order.customer_id,
        on=told.on,
        currency=order.currency,
        amount=told.amount,
    )
    Allocation.objects.create(payment=payment, invoice=invoice, amount=payment.amount)
    settle_up([invoice])
