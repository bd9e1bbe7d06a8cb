"""Taking in what the back office tells of customers' accounts: each thing whole, the newest wins.

What is booked stays as it is booked; an invoice or a payment that is told otherwise is set aside. What settles
what is the back office's to say, and is told anew.
"""

from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from decimal import Decimal

from django.conf import settings
from django.db import connection

from apps.catalogue.queries import rate_on
from apps.customers.models import Customer
from apps.customers.upkeep import CHANGED
from apps.ledger.flows import settle_up
from apps.ledger.models import CREDIT, Allocation, Invoice, InvoiceLine, Payment
from apps.ledger.reading import (
    AccountTold,
    InvoiceTold,
    PaymentTold,
    read_account,
    read_invoice,
    read_payment,
)
from apps.orders.models import Order
from apps.stock.intake import APPLY, NUMBERED, WAITS
from apps.stock.reading import READERS, Change
from apps.told import Unfit
from routecore.casefile.words import plain
from routecore.money import minor_digits, sum_of

#: While this is set in a session, what settles what may be told anew.
ANEW = "@settled_anew"


def _customer(number: str) -> Customer:
    """The customer of a number, or whom they have become."""
    row = Customer.objects.select_related("merged_into").filter(number=number).first()
    if row is None:
        raise Unfit("unknown_customer", customer=number)
    return row.merged_into or row


def _tell(*customers: int) -> None:
    for tell in CHANGED:
        tell(customers)


def _account(change: Change) -> int:
    told = change.told
    assert isinstance(told, AccountTold)
    known = _customer(told.customer)
    row = Customer.objects.select_for_update().get(pk=known.pk)
    if row.change >= change.number:
        return 0
    row.held, row.change = told.held, change.number
    row.save(update_fields=["held", "change"])
    _tell(row.pk)
    return 1


def _invoice(change: Change) -> int:
    told = change.told
    assert isinstance(told, InvoiceTold)
    customer = _customer(told.customer)
    row = Invoice.objects.select_for_update().filter(number=told.number).first()
    if row is not None and row.change >= change.number:
        return 0
    if row is None:
        row = _book(told, customer)
    elif (row.kind, row.on, row.currency, row.net, row.gross) != (
        told.kind,
        told.on,
        told.currency,
        told.net,
        told.gross,
    ):
        raise Unfit("booked_otherwise", number=told.number)
    if told.kind == CREDIT:
        _settle(told.settles, credit=row)
    Invoice.objects.filter(pk=row.pk).update(change=change.number)
    _tell(row.customer_id)
    return 1


def _book(told: InvoiceTold, customer: Customer) -> Invoice:
    order = Order.objects.filter(number=told.order_number).first() if told.order_number else None
    if told.order_number and order is None:
        raise Unfit("unknown_order_number", order=told.order_number)
    digits = minor_digits(told.currency)
    foreign = told.currency != settings.BASE_CURRENCY
    row = Invoice.objects.create(
        number=told.number,
        customer=customer,
        order=order,
        kind=told.kind,
        on=told.on,
        due_on=told.due_on,
        currency=told.currency,
        net=told.net,
        gross=told.gross,
        base_rate=rate_on(told.currency, told.on) if foreign else 1,
        dues=[{"on": on.isoformat(), "amount": plain(amount, digits)} for on, amount in told.dues],
        early_percent=told.early[0] if told.early else None,
        early_until=told.early[1] if told.early else None,
    )
    lines = {line.position: line for line in order.lines.all()} if order else {}
    InvoiceLine.objects.bulk_create(
        InvoiceLine(invoice=row, order_line=lines.get(each.line or 0), text=each.text, net=each.net)
        for each in told.lines
    )
    return row


def _payment(change: Change) -> int:
    told = change.told
    assert isinstance(told, PaymentTold)
    customer = _customer(told.customer)
    row = Payment.objects.select_for_update().filter(number=told.number).first()
    if row is not None and row.change >= change.number:
        return 0
    if row is None:
        row = Payment.objects.create(
            number=told.number,
            customer=customer,
            on=told.on,
            currency=told.currency,
            amount=told.amount,
        )
    elif (row.on, row.currency, row.amount) != (told.on, told.currency, told.amount):
        raise Unfit("booked_otherwise", number=told.number)
    _settle(told.settles, payment=row)
    Payment.objects.filter(pk=row.pk).update(change=change.number)
    _tell(row.customer_id)
    return 1


def _settle(
    settles: Mapping[str, Decimal], *, payment: Payment | None = None, credit: Invoice | None = None
) -> None:
    """What a payment or a credit note settles, in place of what it settled before."""
    source = payment or credit
    assert source is not None
    rows = {
        row.number: row for row in Invoice.objects.select_for_update().filter(number__in=settles)
    }
    own = (
        Allocation.objects.filter(payment=payment)
        if payment
        else Allocation.objects.filter(credit=credit)
    )
    before = list(own.select_related("invoice"))
    for number, amount in settles.items():
        invoice = rows.get(number)
        if invoice is None:
            raise Unfit("unknown_invoice", invoice=number)
        if invoice.currency != source.currency or invoice.kind == CREDIT:
            raise Unfit("other_currency", number=number)
        others = sum_of(row.amount for row in invoice.allocations.all() if row not in before)
        if others + amount > invoice.gross:
            raise Unfit("paid_too_much", number=source.number, amount=amount)
    with _anew():
        own.delete()
    Allocation.objects.bulk_create(
        Allocation(payment=payment, credit=credit, invoice=rows[number], amount=amount)
        for number, amount in settles.items()
    )
    touched = {row.pk for row in rows.values()} | {row.invoice_id for row in before}
    settle_up(Invoice.objects.filter(pk__in=touched))


@contextmanager
def _anew() -> Iterator[None]:
    with connection.cursor() as cursor:
        cursor.execute(f"SET {ANEW} = 1")
        try:
            yield
        finally:
            cursor.execute(f"SET {ANEW} = NULL")


READERS |= {"account": read_account, "invoice": read_invoice, "payment": read_payment}
APPLY |= {AccountTold: _account, InvoiceTold: _invoice, PaymentTold: _payment}
WAITS += [
    ("unknown_customer", "customer", lambda: Customer.objects.values_list("number", flat=True)),
    ("unknown_invoice", "invoice", lambda: Invoice.objects.values_list("number", flat=True)),
    ("unknown_order_number", "order", lambda: Order.objects.values_list("number", flat=True)),
]
NUMBERED += [Customer, Invoice, Payment]
