"""Taking in what the back office tells of customers' accounts: each thing whole, the newest wins.

What is booked stays as it is booked; an invoice or a payment that is told otherwise is set aside. What settles
what is the back office's to say, and is told anew.
"""

from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from decimal import Decimal

from django.db import connection
from django.db.models import Q, Sum

from apps.customers.models import Customer
from apps.customers.upkeep import CHANGED
from apps.ledger.balances import texts
from apps.ledger.flows import Line, book_invoice, settle_up
from apps.ledger.models import CREDIT, Account, Allocation, Invoice, Payment
from apps.ledger.reading import (
    AccountTold,
    InvoiceTold,
    PaymentTold,
    read_account,
    read_invoice,
    read_payment,
)
from apps.orders.models import Order
from apps.stock.intake import APPLY, WAITS
from apps.stock.progress import NUMBERED
from apps.stock.reading import READERS, Change
from apps.told import Unfit
from routecore.casefile.words import plain
from routecore.money import minor_digits

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
    head = _customer(told.customer)
    both = Customer.objects.select_for_update().filter(Q(pk=head.pk) | Q(merged_into=head))
    rows = {row.number: row for row in both.order_by("pk")}
    row = rows[told.customer]
    if row.change >= change.number:
        return 0
    row.held_itself, row.change = told.held, change.number
    row.save(update_fields=["held_itself", "change"])
    if told.balances is None:
        Account.objects.filter(customer=row).delete()
    else:
        facts = {"told": texts(told.balances), "told_at": change.at, "checked_at": None}
        Account.objects.update_or_create(customer=row, defaults=facts)
    held = any(each.held_itself for each in rows.values())
    Customer.objects.filter(pk=head.pk).update(held=held)
    _tell(head.pk)
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
    if order is not None and order.customer_id != customer.pk:
        raise Unfit("other_customer", number=told.number)
    digits = minor_digits(told.currency)
    rows = {line.position: line for line in order.lines.all()} if order else {}
    return book_invoice(
        Invoice(
            number=told.number,
            customer=customer,
            order=order,
            kind=told.kind,
            on=told.on,
            due_on=told.due_on,
            currency=told.currency,
            net=told.net,
            gross=told.gross,
            dues=[
                {"on": on.isoformat(), "amount": plain(amount, digits)} for on, amount in told.dues
            ],
            early_percent=told.early[0] if told.early else None,
            early_until=told.early[1] if told.early else None,
        ),
        [Line(rows.get(each.line or 0), each.text, each.net, each.quantity) for each in told.lines],
    )


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
    own = Allocation.objects.filter(payment=payment, credit=credit)
    before = set(own.values_list("invoice_id", flat=True))
    others = dict(
        Allocation.objects.filter(invoice__in=rows.values())
        .exclude(pk__in=list(own.values_list("pk", flat=True)))
        .values_list("invoice")
        .annotate(Sum("amount"))
    )
    for number, amount in settles.items():
        invoice = rows.get(number)
        if invoice is None:
            raise Unfit("unknown_invoice", invoice=number)
        if invoice.currency != source.currency or invoice.kind == CREDIT:
            raise Unfit("other_currency", number=number)
        if others.get(invoice.pk, Decimal(0)) + amount > invoice.gross:
            raise Unfit("paid_too_much", number=source.number, amount=amount)
    with _anew():
        own.delete()
    Allocation.objects.bulk_create(
        Allocation(payment=payment, credit=credit, invoice=rows[number], amount=amount)
        for number, amount in settles.items()
    )
    settle_up(Invoice.objects.filter(pk__in=before | {row.pk for row in rows.values()}))


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
NUMBERED |= {"account": Customer, "invoice": Invoice, "payment": Payment}
