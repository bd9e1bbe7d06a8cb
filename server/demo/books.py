"""The back office's books as it takes them over: orders at work, accounts, open items, what touches them.

In the form in which it will tell them itself (``docs/back-office/change.schema.json``), so that what is told is
what is known. What is settled for good stays out, as in any opening balance.
"""

from decimal import Decimal
import json
from pathlib import Path
from typing import Any
import uuid

from django.db.models import Q, QuerySet

from apps.customers.models import Customer
from apps.handover.models import HELD, TAKEN, Handover
from apps.ledger.models import INVOICE, Allocation, Invoice, Payment
from routecore.casefile.words import plain
from routecore.money import minor_digits

Json = dict[str, Any]


def opening_books() -> Json:
    """Orders at work, every account, and what is open with all that it hangs together with."""
    invoices, payments = _connected()
    settled = _settled()
    return {
        "orders": [_order(entry) for entry in _at_work()],
        "accounts": [
            {"customer": row.number, "name": row.name, "held": row.held_itself}
            for row in Customer.objects.order_by("number")
        ],
        "invoices": [
            _invoice(row, settled)
            for row in Invoice.objects.filter(pk__in=invoices)
            .select_related("customer", "order")
            .prefetch_related("lines__order_line")
            .order_by("on", "pk")
        ],
        "payments": [
            _payment(row, settled)
            for row in Payment.objects.filter(pk__in=payments)
            .select_related("customer")
            .order_by("on", "pk")
        ],
    }


def _at_work() -> QuerySet[Handover]:
    """What was taken and is not billed whole yet."""
    taken = Handover.objects.filter(state__in=(TAKEN, HELD), order__billed=False)
    lines = ("order__lines__delivery_lines", "order__invoices__lines__order_line")
    return taken.select_related("order").prefetch_related(*lines).order_by("pk")


def _order(entry: Handover) -> Json:
    """An order as it was handed over, and what has left and was billed of it."""
    order = entry.order
    digits = minor_digits(order.currency)
    left = {
        line.position: sum(row.quantity for row in line.delivery_lines.all())
        for line in order.lines.all()
    }
    bills = [row for row in order.invoices.all() if row.kind == INVOICE]
    billed = [
        {
            "line": row.order_line.position,
            "net": plain(row.net, digits),
            "quantity": plain(row.quantity or row.order_line.quantity),
        }
        for bill in bills
        for row in bill.lines.all()
        if row.order_line
    ]
    return {
        "number": order.backoffice_number,
        "key": str(entry.key),
        "state": "taken",
        "held": entry.state == HELD,
        "shipped": [{"line": n, "quantity": plain(many)} for n, many in left.items() if many],
        "invoiced": billed,
        "gross": plain(Decimal(sum(bill.gross for bill in bills)), digits),
        "order": entry.payload,
    }


def _connected() -> tuple[set[int], set[int]]:
    """Open invoices and credit notes, payments with something left, and whatever these settle or are settled by."""
    invoices = set(Invoice.objects.exclude(open_amount=0).values_list("pk", flat=True))
    payments = set(Payment.objects.filter(unused__gt=0).values_list("pk", flat=True))
    while True:
        rows = Allocation.objects.filter(
            Q(invoice__in=invoices) | Q(credit__in=invoices) | Q(payment__in=payments)
        ).values_list("invoice_id", "credit_id", "payment_id")
        found = list(rows)
        more = {row[0] for row in found} | {row[1] for row in found if row[1]}
        paying = {row[2] for row in found if row[2]}
        if more <= invoices and paying <= payments:
            return invoices, payments
        invoices, payments = invoices | more, payments | paying


def _settled() -> dict[tuple[str, int], list[Json]]:
    """By what settles: the invoices and how much of each."""
    found: dict[tuple[str, int], list[Json]] = {}
    for row in Allocation.objects.select_related("invoice").order_by("pk"):
        key = ("payment", row.payment_id) if row.payment_id else ("credit", row.credit_id or 0)
        amount = plain(row.amount, minor_digits(row.invoice.currency))
        found.setdefault(key, []).append({"invoice": row.invoice.number, "amount": amount})
    return found


def _invoice(row: Invoice, settled: dict[tuple[str, int], list[Json]]) -> Json:
    digits = minor_digits(row.currency)
    early = None
    if row.early_percent is not None and row.early_until is not None:
        early = {"percent": plain(row.early_percent), "until": row.early_until.isoformat()}
    return {
        "number": row.number,
        "customer": row.customer.number,
        "kind": row.kind,
        "order_number": row.order.number if row.order else "",
        "on": row.on.isoformat(),
        "due_on": row.due_on.isoformat(),
        "currency": row.currency,
        "net": plain(row.net, digits),
        "gross": plain(row.gross, digits),
        "dues": row.dues,
        "early": early,
        "lines": [
            {
                "line": line.order_line.position if line.order_line else None,
                "text": line.text,
                "net": plain(line.net, digits),
            }
            for line in row.lines.all()
        ],
        "settles": settled.get(("credit", row.pk), []),
    }


def _payment(row: Payment, settled: dict[tuple[str, int], list[Json]]) -> Json:
    return {
        "number": row.number,
        "customer": row.customer.number,
        "on": row.on.isoformat(),
        "currency": row.currency,
        "amount": plain(row.amount, minor_digits(row.currency)),
        "settles": settled.get(("payment", row.pk), []),
    }


def write_books(file: Path) -> None:
    """Write them for the back office to begin with: whole or not at all, under a mark of their own."""
    file.parent.mkdir(parents=True, exist_ok=True)
    fresh = file.with_suffix(".new")
    fresh.write_text(json.dumps({"mark": str(uuid.uuid4()), **opening_books()}), encoding="utf-8")
    fresh.replace(file)
