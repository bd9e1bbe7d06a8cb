"""Every document of a customer: quotes, orders, deliveries, invoices, credit notes, payments."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from datetime import date
from typing import Annotated, Any, Literal

from django.db.models import CharField, DateField, Exists, F, OuterRef, Q, QuerySet, Value
from django.db.models.functions import Coalesce
from django.http import HttpRequest
from ninja import Query, Router
from pydantic import Field

from api.customers.scope import customers_of
from api.schemas import Schema
from api.shapes import Day, Paged, PathId, Words, sure_money, today, who
from apps.customers.models import Customer
from apps.ledger.models import CREDIT, INVOICE, Invoice, InvoiceLine, Payment
from apps.listing import MOST, Span
from apps.orders.models import Delivery, DeliveryLine, Order, OrderLine
from apps.orders.queries import state_of as order_state
from apps.people.access import pick
from apps.people.models import CLERK
from apps.quotes.models import Quote, QuoteLine
from apps.quotes.queries import quote_state

router = Router(tags=["customers"])
SIZE = 20
Kind = Literal["", "open", "quote", "order", "delivery", "invoice", "credit", "payment"]


class DocumentsIn(Schema):
    """What is looked for: words in numbers, titles and lines; from a day, to a day; a kind, or what is open."""

    kind: Kind = ""
    words: Words = ""
    since: Day | None = None
    until: Day | None = None
    page: Annotated[int, Field(ge=1, le=1_000)] = 1


class DocumentOut(Schema):
    """A document; ``amount`` is empty for a delivery, ``state`` is in the words of its kind."""

    kind: str
    number: str
    on: date
    amount: str
    currency: str
    state: str
    to: str


class DocumentPage(Paged):
    """A page of documents, the newest first."""

    rows: list[DocumentOut]


@dataclass(frozen=True, slots=True)
class DocumentKind:
    """Where documents of a kind lie, which of them are open, and which hold a word; ``told``: they left the house, or
    came."""

    rows: QuerySet[Any]
    customer: str
    on: Any
    open: Q
    holds: Callable[[str], Q]
    shown: Callable[[Any, date], DocumentOut]
    told: Q = field(default_factory=Q)


def _quote(row: Quote, on: date) -> DocumentOut:
    return DocumentOut(
        kind="quote",
        number=f"{row.number} {row.letter}",
        on=row.on or on,
        amount=sure_money(row.payable, row.currency),
        currency=row.currency,
        state=quote_state(row, on),
        to=f"/quotes/{row.revision_id}",
    )


def _order(row: Order, _on: date) -> DocumentOut:
    return DocumentOut(
        kind="order",
        number=row.number,
        on=row.accepted_on,
        amount=sure_money(row.payable, row.currency),
        currency=row.currency,
        state=order_state(row),
        to=f"/orders/{row.pk}",
    )


def _delivery(row: Delivery, _on: date) -> DocumentOut:
    return DocumentOut(
        kind="delivery",
        number=row.number,
        on=row.on,
        amount="",
        currency="",
        state="left",
        to=f"/deliveries/{row.pk}",
    )


def _invoice(row: Invoice, _on: date) -> DocumentOut:
    sign = -1 if row.kind == CREDIT else 1
    return DocumentOut(
        kind=row.kind,
        number=row.number,
        on=row.on,
        amount=sure_money(sign * row.gross, row.currency),
        currency=row.currency,
        state=invoice_state(row),
        to=f"/invoices/{row.pk}",
    )


def invoice_state(row: Invoice) -> str:
    """Open, part paid or paid, or the same by credit notes alone; a credit note is used instead."""
    paid = row.settled + row.discount > row.credited
    if not row.open_amount:
        return "used" if row.kind == CREDIT else "paid" if paid else "credited"
    if row.settled > row.credited:
        return "part_paid"
    return "part_credited" if row.credited else "open"


def _payment(row: Payment, _on: date) -> DocumentOut:
    return DocumentOut(
        kind="payment",
        number=row.number,
        on=row.on,
        amount=sure_money(row.amount, row.currency),
        currency=row.currency,
        state="on_account" if row.unused else "used",
        to=f"/payments/{row.pk}",
    )


def _line(model: Any, **by: str) -> Callable[[str], Exists]:
    """Whether a document has a line with a word."""
    refs = {name: OuterRef(of) for name, of in by.items()}
    column = "order_line__text" if model is DeliveryLine else "text"
    return lambda word: Exists(model.objects.filter(**refs, **{f"{column}__icontains": word}))


QUOTE_LINE = _line(QuoteLine, revision_id="revision_id")
ORDER_LINE = _line(OrderLine, order_id="pk")
DELIVERY_LINE = _line(DeliveryLine, delivery_id="pk")
INVOICE_LINE = _line(InvoiceLine, invoice_id="pk")


def _invoices(kind: str) -> DocumentKind:
    return DocumentKind(
        Invoice.objects.filter(kind=kind),
        "customer",
        F("on"),
        ~Q(open_amount=0),
        lambda w: Q(number__icontains=w) | Q(order__number__icontains=w) | Q(INVOICE_LINE(w)),
        _invoice,
    )


def _quotes(on: date) -> DocumentKind:
    live = Q(declined_at__isnull=True, order_number="")
    return DocumentKind(
        Quote.objects.all(),
        "customer",
        Coalesce(F("on"), Value(on, output_field=DateField())),
        live & (Q(valid_until__isnull=True) | Q(valid_until__gte=on)),
        lambda w: Q(number__icontains=w) | Q(deal__title__icontains=w) | Q(QUOTE_LINE(w)),
        _quote,
        Q(issued_at__isnull=False),
    )


ORDERS = DocumentKind(
    Order.objects.all(),
    "customer",
    F("accepted_on"),
    Q(paid=False),
    lambda w: (
        Q(number__icontains=w)
        | Q(buyer_reference__icontains=w)
        | Q(backoffice_number__icontains=w)
        | Q(ORDER_LINE(w))
    ),
    _order,
)
DELIVERIES = DocumentKind(
    Delivery.objects.all(),
    "order__customer",
    F("on"),
    Q(Exists(Order.objects.filter(pk=OuterRef("order_id"), billed=False))),
    lambda w: Q(number__icontains=w) | Q(order__number__icontains=w) | Q(DELIVERY_LINE(w)),
    _delivery,
)
PAYMENTS = DocumentKind(
    Payment.objects.all(),
    "customer",
    F("on"),
    ~Q(unused=0),
    lambda w: Q(number__icontains=w) | Q(allocations__invoice__number__icontains=w),
    _payment,
)


def kinds_on(on: date) -> dict[str, DocumentKind]:
    """The kinds of documents, as they are asked for on a day."""
    return {
        "quote": _quotes(on),
        "order": ORDERS,
        "delivery": DELIVERIES,
        "invoice": _invoices(INVOICE),
        "credit": _invoices(CREDIT),
        "payment": PAYMENTS,
    }


def _keys(name: str, kind: DocumentKind, customer: Customer, asked: DocumentsIn) -> QuerySet[Any]:
    rows = kind.rows.filter(**{kind.customer: customer}).order_by().annotate(day=kind.on)
    if asked.kind == "open":
        rows = rows.filter(kind.open)
    if asked.since:
        rows = rows.filter(day__gte=asked.since)
    if asked.until:
        rows = rows.filter(day__lte=asked.until)
    for word in asked.words.split():
        rows = rows.filter(kind.holds(word))
    what = Value(name, output_field=CharField())
    keys: QuerySet[Any] = rows.annotate(what=what).values_list("what", "pk", "day").distinct()
    return keys


def documents_of(
    customer: Customer, asked: DocumentsIn, on: date, *, quotes: bool
) -> tuple[list[DocumentOut], dict[str, Any]]:
    """A page of them and its facts. Two queries, and one for each kind on the page."""
    kinds = {name: kind for name, kind in kinds_on(on).items() if quotes or name != "quote"}
    if asked.kind not in ("", "open"):
        kinds = {name: kind for name, kind in kinds.items() if name == asked.kind}
    parts = [_keys(name, kind, customer, asked) for name, kind in kinds.items()]
    if not parts:
        return [], {"count": 0, "page": 1, "pages": 1}
    together = parts[0].union(*parts[1:], all=True) if len(parts) > 1 else parts[0]
    found = list(together.order_by("-day", "what", "-pk")[: MOST + 1])
    span = Span.of(min(len(found), MOST), asked.page, SIZE)
    facts = {
        "count": min(len(found), MOST),
        "page": span.page,
        "pages": span.pages,
        "more": len(found) > MOST,
    }
    return _shown(found[span.slice], kinds, on), facts


def _shown(
    keys: Iterable[tuple[str, int, date]], kinds: dict[str, DocumentKind], on: date
) -> list[DocumentOut]:
    wanted: dict[str, list[int]] = {}
    listed = list(keys)
    for name, pk, _ in listed:
        wanted.setdefault(name, []).append(pk)
    rows = {
        (name, row.pk): row
        for name, pks in wanted.items()
        for row in kinds[name].rows.filter(pk__in=pks)
    }
    return [kinds[name].shown(rows[name, pk], on) for name, pk, _ in listed if (name, pk) in rows]


@router.get(
    "/customers/{customer_id}/documents", response=DocumentPage, operation_id="list_documents"
)
def documents(request: HttpRequest, customer_id: PathId, asked: Query[DocumentsIn]) -> DocumentPage:
    """A customer's documents, the newest first. A constant number of queries."""
    person = who(request)
    customer = pick(customers_of(person), customer_id, "customer")
    rows, facts = documents_of(customer, asked, today(), quotes=person.role != CLERK)
    return DocumentPage(rows=rows, **facts)
