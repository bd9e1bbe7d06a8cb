"""News from the back office becomes deliveries, invoices and payments: each once, in any order.

An event that builds on one still to come (a payment for an invoice not seen yet) is kept and
applied as soon as the other arrives.
"""

from collections.abc import Iterable
from datetime import date, datetime, timedelta
from decimal import Decimal, InvalidOperation
from uuid import UUID

from django.conf import settings
from django.db import IntegrityError, transaction
from django.db.models import Q

from apps.catalogue.queries import rate_on
from apps.handover.gateway import News
from apps.handover.models import (
    HELD,
    REFUSED,
    TAKEN,
    UNDER_WAY,
    WAITING,
    BackOfficeEvent,
    FeedPosition,
    Handover,
)
from apps.ledger.models import Allocation, Invoice, InvoiceLine, Payment
from apps.orders.models import Delivery, DeliveryLine, Order

FEED = "backoffice"


class NotYet(Exception):
    """The event waits for another one."""


@transaction.atomic
def take_in(news: Iterable[News]) -> int:
    """Keep and apply events, and move the feed's position, all or nothing; how many were new."""
    position, _ = FeedPosition.objects.get_or_create(feed=FEED)
    position = FeedPosition.objects.select_for_update().get(feed=FEED)
    fresh = 0
    for item in news:
        _, created = BackOfficeEvent.objects.get_or_create(
            event_id=item.event_id,
            defaults={
                "key": item.key,
                "kind": item.kind,
                "occurred_at": item.occurred_at,
                "data": item.data,
            },
        )
        if created:
            fresh += 1
            _apply_waiting(item.key)
        position.position = max(position.position, item.position)
    position.save()
    return fresh


def note_read(now: datetime) -> None:
    """The back office was asked and answered; written once a minute."""
    rows = FeedPosition.objects.filter(feed=FEED)
    fresh = now - timedelta(minutes=1)
    if not rows.filter(Q(read_at__isnull=True) | Q(read_at__lt=fresh)).update(read_at=now):
        FeedPosition.objects.get_or_create(feed=FEED, defaults={"read_at": now})


def feed_position() -> int:
    """How far the feed has been read."""
    row = FeedPosition.objects.filter(feed=FEED).first()
    return row.position if row else 0


def _apply_waiting(key: UUID) -> None:
    entry = Handover.objects.select_for_update().filter(key=key).first()
    waiting = list(
        BackOfficeEvent.objects.filter(key=key, applied=False).order_by("occurred_at", "pk")
    )
    moved = True
    while moved:
        moved = False
        for event in list(waiting):
            if _applied(event, entry):
                waiting.remove(event)
                moved = True


def _applied(event: BackOfficeEvent, entry: Handover | None) -> bool:
    try:
        if entry is None:
            raise NotYet("no such order here")
        with transaction.atomic():
            _apply(event, entry)
    except NotYet as reason:
        event.problem = str(reason)[:200]
        event.save(update_fields=["problem"])
        return False
    except (KeyError, TypeError, ValueError, InvalidOperation, IntegrityError) as error:
        event.problem = f"cannot be taken in: {error!r}"[:200]
        event.applied = True
        event.save(update_fields=["problem", "applied"])
        return True
    event.applied, event.problem = True, ""
    event.save(update_fields=["applied", "problem"])
    return True


def _apply(event: BackOfficeEvent, entry: Handover) -> None:
    match event.kind:
        case "taken" | "released":
            _set_state(entry, TAKEN, event)
        case "held":
            _set_state(entry, HELD, event)
        case "shipped":
            _ship(event, entry.order)
        case "invoiced":
            _invoice(event, entry.order)
        case "paid":
            _pay(event, entry.order)
        case other:
            raise ValueError(f"unknown kind {other}")


def _set_state(entry: Handover, state: str, event: BackOfficeEvent) -> None:
    """The newest of taken, held, released wins, whichever arrives last."""
    kinds = ("taken", "held", "released")
    later = BackOfficeEvent.objects.filter(
        key=entry.key, kind__in=kinds, applied=True, occurred_at__gt=event.occurred_at
    )
    entry.backoffice_number = entry.backoffice_number or str(event.data["number"])
    if not later.exists() and entry.state in (TAKEN, HELD, WAITING, UNDER_WAY, REFUSED):
        entry.state = state
        entry.last_error = str(event.data.get("reason", "")) if state == HELD else ""
        entry.taken_at = entry.taken_at or event.occurred_at
    entry.version += 1
    entry.save()


def _ship(event: BackOfficeEvent, order: Order) -> None:
    delivery = Delivery.objects.create(
        order=order, number=event.data["number"], on=date.fromisoformat(event.data["on"])
    )
    rows = {row.position: row for row in order.lines.all()}
    for line in event.data["lines"]:
        DeliveryLine.objects.create(
            delivery=delivery,
            order_line=rows[int(line["line"])],
            quantity=Decimal(line["quantity"]),
        )


def _invoice(event: BackOfficeEvent, order: Order) -> None:
    data = event.data
    on = date.fromisoformat(data["on"])
    invoice = Invoice.objects.create(
        number=data["number"],
        customer_id=order.customer_id,
        order=order,
        on=on,
        due_on=date.fromisoformat(data["due_on"]),
        currency=order.currency,
        net=Decimal(data["net"]),
        gross=Decimal(data["gross"]),
        base_rate=rate_on(order.currency, on) if order.currency != settings.BASE_CURRENCY else 1,
    )
    rows = {row.position: row for row in order.lines.all()}
    shipped = {
        row.order_line_id: row
        for row in DeliveryLine.objects.filter(order_line__order=order).order_by("pk")
    }
    for line in data["lines"]:
        row = rows[int(line["line"])]
        InvoiceLine.objects.create(
            invoice=invoice,
            order_line=row,
            delivery_line=shipped.get(row.pk),
            text=row.text,
            net=Decimal(line["net"]),
        )


def _pay(event: BackOfficeEvent, order: Order) -> None:
    data = event.data
    invoice = Invoice.objects.filter(number=data["invoice"]).first()
    if invoice is None:
        raise NotYet(f"invoice {data['invoice']} has not arrived")
    payment = Payment.objects.create(
        number=data["number"],
        customer_id=order.customer_id,
        on=date.fromisoformat(data["on"]),
        currency=order.currency,
        amount=Decimal(data["amount"]),
    )
    Allocation.objects.create(payment=payment, invoice=invoice, amount=payment.amount)
