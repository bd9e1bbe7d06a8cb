"""Invoices, deliveries and payments as sheets of their own, with their lines."""

from datetime import date
from decimal import Decimal

from django.db.models import QuerySet
from django.http import HttpRequest, HttpResponse
from ninja import Router

from api.customers.documents import invoice_state
from api.customers.scope import customers_of
from api.customers.sheet import DueOut, EarlyOut, early_out, signed
from api.routes import RouteStop, route_out
from api.schemas import Schema
from api.shapes import PathId, sure_money, today, who
from apps.catalogue.queries import unit_names
from apps.ledger.flows import open_parts
from apps.ledger.models import Allocation, Invoice, InvoiceLine, Payment
from apps.ledger.ubl import invoice_document
from apps.orders.models import Delivery
from apps.people.access import pick
from apps.people.models import User
from apps.route.queries import route_of_order
from routecore.casefile.words import plain

router = Router(tags=["ledger"])


class InvoiceLineOut(Schema):
    """A line of an invoice: what it bills, how much of it where goods left, and its net."""

    text: str
    item: str
    item_id: int | None
    quantity: str | None
    unit: str
    net: str


class SettledOut(Schema):
    """What a payment, or a credit note, settles of an invoice; ``id`` is of that document."""

    kind: str
    id: int
    number: str
    on: date
    amount: str


class InvoiceSheet(Schema):
    """An invoice or credit note, whole; ``tax`` is gross less net, ``discount`` what was given for paying early."""

    id: int
    number: str
    kind: str
    state: str
    customer_id: int
    customer: str
    order_id: int | None
    order: str
    on: date
    due_on: date
    days_late: int
    currency: str
    net: str
    tax: str
    gross: str
    paid: str
    discount: str
    open: str
    dues: list[DueOut]
    early: EarlyOut | None
    lines: list[InvoiceLineOut]
    payments: list[SettledOut]
    settles: list[SettledOut]
    unit_names: dict[str, str]
    route: list[RouteStop]


def _own(person: User) -> QuerySet[Invoice]:
    rows = Invoice.objects.filter(customer__in=customers_of(person))
    return rows.select_related("customer", "order")


@router.get("/invoices/{invoice_id}", response=InvoiceSheet, operation_id="get_invoice")
def invoice(request: HttpRequest, invoice_id: PathId) -> InvoiceSheet:
    """An invoice with its lines and what settles it. A constant number of queries."""
    on = today()
    row = pick(_own(who(request)), invoice_id, "invoice")
    lines = row.lines.select_related("order_line__item", "delivery_line").order_by("pk")
    settled = list(row.allocations.select_related("payment", "credit").order_by("pk"))
    parts = open_parts(row) if row.open_amount else ()
    late = (on - parts[0].on).days if parts else 0
    return InvoiceSheet(
        **_sums(row),
        id=row.pk,
        number=row.number,
        kind=row.kind,
        state=invoice_state(row),
        customer_id=row.customer_id,
        customer=row.customer.name,
        order_id=row.order_id,
        order=row.order.number if row.order else "",
        on=row.on,
        due_on=row.due_on,
        days_late=max(0, late),
        currency=row.currency,
        dues=_dues(row, on),
        early=early_out(
            row, [(each.payment.on, each.amount) for each in settled if each.payment], on
        ),
        lines=[_line(each, row.currency) for each in lines],
        payments=[_settled(each, row.currency) for each in settled],
        settles=_settles(row),
        unit_names=unit_names(),
        route=route_out(route_of_order(row.order)) if row.order else [],
    )


def _settles(row: Invoice) -> list[SettledOut]:
    """What a credit note settles."""
    return [
        SettledOut(
            kind="invoice",
            id=each.invoice_id,
            number=each.invoice.number,
            on=each.invoice.on,
            amount=sure_money(each.amount, row.currency),
        )
        for each in row.spent.select_related("invoice").order_by("pk")
    ]


def _settled(row: Allocation, currency: str) -> SettledOut:
    source = row.payment or row.credit
    assert source is not None  # one of both: the database holds it
    return SettledOut(
        kind="payment" if row.payment else "credit",
        id=source.pk,
        number=source.number,
        on=source.on,
        amount=sure_money(row.amount, currency),
    )


def _sums(row: Invoice) -> dict[str, str]:
    return {
        "net": signed(row, row.net),
        "tax": signed(row, row.gross - row.net),
        "gross": signed(row, row.gross),
        "paid": signed(row, row.settled),
        "discount": signed(row, row.discount),
        "open": signed(row, row.open_amount),
    }


def _dues(row: Invoice, on: date) -> list[DueOut]:
    """All parts of an invoice that falls due in several, with what is still open of each."""
    left = {part.on: part.amount for part in open_parts(row)}
    days = [date.fromisoformat(part["on"]) for part in row.dues]
    return [
        DueOut(
            on=day,
            amount=sure_money(left.get(day, Decimal(0)), row.currency),
            days_late=max(0, (on - day).days) if left.get(day) else 0,
        )
        for day in days
    ]


def _line(row: InvoiceLine, currency: str) -> InvoiceLineOut:
    ordered, shipped = row.order_line, row.delivery_line
    quantity = shipped.quantity if shipped else ordered.quantity if ordered else None
    return InvoiceLineOut(
        text=row.text,
        item=ordered.item.code if ordered else "",
        item_id=ordered.item_id if ordered else None,
        quantity=plain(quantity),
        unit=ordered.unit if ordered else "",
        net=sure_money(row.net, currency),
    )


@router.get("/invoices/{invoice_id}/ubl", operation_id="get_invoice_ubl")
def invoice_ubl(request: HttpRequest, invoice_id: PathId) -> HttpResponse:
    """The invoice as a UBL 2.1 Invoice, or the credit note as a CreditNote."""
    row = pick(_own(who(request)), invoice_id, "invoice")
    headers = {"Content-Disposition": f'attachment; filename="{row.number}.xml"'}
    return HttpResponse(invoice_document(row), content_type="application/xml", headers=headers)


class DeliveryLineOut(Schema):
    """A line of a delivery: of ``ordered``, ``quantity`` left with it."""

    text: str
    item: str
    item_id: int
    quantity: str
    ordered: str
    unit: str


class DeliverySheet(Schema):
    """Goods that left for a customer."""

    id: int
    number: str
    on: date
    customer_id: int
    customer: str
    order_id: int
    order: str
    address: dict[str, str] | None
    lines: list[DeliveryLineOut]
    unit_names: dict[str, str]
    route: list[RouteStop]


@router.get("/deliveries/{delivery_id}", response=DeliverySheet, operation_id="get_delivery")
def delivery(request: HttpRequest, delivery_id: PathId) -> DeliverySheet:
    """A delivery with its lines. A constant number of queries."""
    rows = Delivery.objects.filter(order__customer__in=customers_of(who(request)))
    row = pick(rows.select_related("order__customer"), delivery_id, "delivery")
    lines = row.lines.select_related("order_line__item").order_by("order_line__position")
    return DeliverySheet(
        id=row.pk,
        number=row.number,
        on=row.on,
        customer_id=row.order.customer_id,
        customer=row.order.customer.name,
        order_id=row.order_id,
        order=row.order.number,
        address=row.order.delivery_address,
        lines=[
            DeliveryLineOut(
                text=each.order_line.text,
                item=each.order_line.item.code,
                item_id=each.order_line.item_id,
                quantity=plain(each.quantity) or "",
                ordered=plain(each.order_line.quantity) or "",
                unit=each.order_line.unit,
            )
            for each in lines
        ],
        unit_names=unit_names(),
        route=route_out(route_of_order(row.order)),
    )


class UsedOut(Schema):
    """The part of a payment that settles an invoice; ``discount`` was given on it for paying early."""

    id: int
    number: str
    on: date
    due_on: date
    gross: str
    amount: str
    discount: str
    days: int


class PaymentSheet(Schema):
    """Money received: what it settles, and what is left of it on account."""

    id: int
    number: str
    on: date
    customer_id: int
    customer: str
    currency: str
    amount: str
    used: str
    unused: str
    settles: list[UsedOut]


@router.get("/payments/{payment_id}", response=PaymentSheet, operation_id="get_payment")
def payment(request: HttpRequest, payment_id: PathId) -> PaymentSheet:
    """A payment and the invoices it settles. A constant number of queries."""
    rows = Payment.objects.filter(customer__in=customers_of(who(request)))
    row = pick(rows.select_related("customer"), payment_id, "payment")
    return PaymentSheet(
        id=row.pk,
        number=row.number,
        on=row.on,
        customer_id=row.customer_id,
        customer=row.customer.name,
        currency=row.currency,
        amount=sure_money(row.amount, row.currency),
        used=sure_money(row.used, row.currency),
        unused=sure_money(row.unused, row.currency),
        settles=[
            UsedOut(
                id=each.invoice_id,
                number=each.invoice.number,
                on=each.invoice.on,
                due_on=each.invoice.due_on,
                gross=sure_money(each.invoice.gross, row.currency),
                amount=sure_money(each.amount, row.currency),
                discount=sure_money(each.invoice.discount, row.currency),
                days=(row.on - each.invoice.on).days,
            )
            for each in row.allocations.select_related("invoice").order_by("invoice__on", "pk")
        ],
    )
