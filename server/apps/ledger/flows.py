"""Booking: what an invoice says of its parts and of paying early, and what its payments settle."""

from collections.abc import Iterable
from datetime import date
from decimal import Decimal
from typing import Any, NamedTuple, Protocol

from django.conf import settings

from apps.catalogue.queries import rate_on
from apps.ledger.models import Allocation, Invoice, InvoiceLine
from apps.orders.models import DeliveryLine, OrderLine
from routecore.casefile.words import plain
from routecore.errors import CoreError
from routecore.money import minor_digits
from routecore.payment import Due, EarlyPayment, PaymentTerms, open_dues, settle


def further_terms(payment: PaymentTerms, gross: Decimal, currency: str, on: date) -> dict[str, Any]:
    """What an invoice of a day keeps of payment terms beside the day by which all of it is due."""
    parts = payment.schedule(gross, currency, on) if payment.instalments else ()
    digits = minor_digits(currency)
    kept: dict[str, Any] = {
        "dues": [{"on": p.on.isoformat(), "amount": plain(p.amount, digits)} for p in parts]
    }
    if payment.early:
        kept["early_percent"] = payment.early.percent
        kept["early_until"] = payment.early.last_day(on)
    return kept


class Line(NamedTuple):
    """A line to be booked: what it bills of an order, in words, net; how much, where that is told."""

    of: OrderLine | None
    text: str
    net: Decimal
    quantity: Decimal | None = None


def book_invoice(invoice: Invoice, lines: Iterable[Line]) -> Invoice:
    """Store an invoice at its day's rate, with its lines.

    A line of an order that has left is told with what left last.
    """
    if invoice.currency != settings.BASE_CURRENCY:
        invoice.base_rate = rate_on(invoice.currency, invoice.on)
    invoice.save()
    shipped = {
        row.order_line_id: row
        for row in DeliveryLine.objects.filter(order_line__order=invoice.order_id).order_by("pk")
    }
    InvoiceLine.objects.bulk_create(
        InvoiceLine(
            invoice=invoice,
            order_line=line.of,
            delivery_line=shipped.get(line.of.pk) if line.of else None,
            text=line.text,
            quantity=line.quantity,
            net=line.net,
        )
        for line in lines
    )
    return invoice


def early_of(invoice: Invoice) -> EarlyPayment | None:
    """The early payment that an invoice offers; None without one, or for one that cannot be."""
    if invoice.early_percent is None or invoice.early_until is None:
        return None
    try:
        return EarlyPayment(
            percent=invoice.early_percent, days=(invoice.early_until - invoice.on).days
        )
    except CoreError:
        return None


class Billed(Protocol):
    """What is read of an invoice to know what is open of it: the invoice, or a row of these columns."""

    @property
    def gross(self) -> Decimal:
        """What it comes to."""

    @property
    def open_amount(self) -> Decimal:
        """What is not settled of it."""

    @property
    def due_on(self) -> date:
        """The last day on which it is due."""

    @property
    def dues(self) -> list[dict[str, str]]:
        """Its instalments; empty for one day."""


def dues_of(invoice: Billed) -> tuple[Due, ...]:
    """What of an invoice falls due when, whatever was paid of it."""
    parts = [Due(date.fromisoformat(row["on"]), Decimal(row["amount"])) for row in invoice.dues]
    return tuple(parts) or (Due(invoice.due_on, invoice.gross),)


def open_parts(invoice: Billed) -> tuple[Due, ...]:
    """What is open of an invoice, by the days on which it falls due."""
    if not invoice.dues:  # most of them: all of it on one day
        return (Due(invoice.due_on, invoice.open_amount),) if invoice.open_amount else ()
    return open_dues(dues_of(invoice), invoice.gross - invoice.open_amount)


def paid_on_days(invoices: Iterable[int]) -> dict[int, list[tuple[date, Decimal]]]:
    """By invoice, what was paid of it on which day. One query."""
    rows = Allocation.objects.filter(invoice_id__in=list(invoices), payment__isnull=False)
    found: dict[int, list[tuple[date, Decimal]]] = {}
    for invoice, on, amount in rows.values_list("invoice_id", "payment__on", "amount"):
        found.setdefault(invoice, []).append((on, amount))
    return found


def settle_up(invoices: Iterable[Invoice]) -> None:
    """Write what is given for paying early, as the payments of these invoices tell it now."""
    offering = {row.pk: (row, early) for row in invoices if (early := early_of(row)) is not None}
    paid = paid_on_days(offering)
    for pk, (row, early) in offering.items():
        found = settle(row.gross, row.currency, paid.get(pk, ()), invoiced=row.on, early=early)
        if found.discount != row.discount:
            Invoice.objects.filter(pk=pk).update(discount=found.discount)
