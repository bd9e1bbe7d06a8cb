"""Customers: found, looked at, with their standing and all their documents."""

from datetime import date, timedelta
from decimal import Decimal
from typing import Annotated, Any, Literal

from django.conf import settings
from django.db.models import Exists, F, OuterRef, QuerySet
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.utils import timezone
from ninja import Query, Router, Status
from pydantic import Field, StringConstraints

from api.deals import ActivityOut, ContactOut, DealRow, activity_out, deal_row
from api.export import Column, Seen, as_file
from api.groups import GroupOut, group_out
from api.schemas import Schema
from api.shapes import (
    Id,
    Mail,
    Paged,
    PathId,
    QuoteState,
    Sort,
    Verdict,
    Words,
    money,
    paged,
    sure_money,
    today,
    who,
)
from api.standing import ReasonOut, StandingOut, reasons_out, standing_now, standings_now
from apps.customers.flows import add_address, add_contact
from apps.customers.models import Customer
from apps.customers.payment import payment_of
from apps.customers.queries import find_customers
from apps.deals.queries import deals_of
from apps.diary.models import CALL, VISIT, Activity
from apps.ledger.models import CREDIT, Invoice
from apps.ledger.queries import payment_days
from apps.listing import Ordered, count, in_batches, in_order, sorts_for
from apps.orders.models import Order
from apps.orders.queries import state_of as order_state
from apps.papers.words import ENGLISH
from apps.people.access import pick, read_for_fulfilment
from apps.people.models import CLERK, User
from apps.quotes.models import Quote
from apps.quotes.queries import quote_state
from routecore.casefile.words import plain
from routecore.money import round_to_step
from routecore.standing import Standing, days_to_pay
from routecore.standing.ageing import bucket_of

router = Router(tags=["customers"])
OPEN_AT_MOST = 200


def customers_of(person: User) -> QuerySet[Customer]:
    """The customers this person may see; the back office sees all."""
    return Customer.objects.filter(read_for_fulfilment(person))


class CustomerRow(Schema):
    """A customer in a list, with the verdict, its reasons, and the figures people ask for.

    ``oldest_days`` is how long the oldest open amount is overdue.
    """

    id: int
    number: str
    name: str
    kind: str
    town: str
    contact: str
    owner: str
    verdict: Verdict
    reasons: list[ReasonOut]
    oldest_days: int
    balance: str
    overdue: str
    exposure: str
    limit: str | None


class CustomerPage(Paged):
    """One page of customers; figures in the base currency."""

    rows: list[CustomerRow]
    currency: str


#: What a list of customers can be sorted by.
SORTS = {
    "name": "name",
    "number": "number",
    "kind": "kind",
    "town": "town",
    "limit": "credit_limit",
    "owner": "owner_name",
}


class CustomerFilters(Schema):
    """What narrows a list of customers."""

    words: Words = ""
    owner: Id | None = None
    day: Literal["", "unseen", "due", "overdue", "limit", "halt", "caution"] = ""
    sort: Sort = "name"
    page: Annotated[int, Field(ge=1, le=100_000)] = 1


def _narrowed(person: User, filters: CustomerFilters) -> QuerySet[Customer]:
    rows = find_customers(customers_of(person), filters.words)
    if filters.owner:
        rows = rows.filter(owner_id=filters.owner)
    if filters.day == "unseen":
        since = timezone.now() - timedelta(weeks=UNSEEN_WEEKS)
        seen = Activity.objects.filter(
            customer=OuterRef("pk"), kind__in=(CALL, VISIT), created_at__gte=since
        )
        return rows.filter(~Exists(seen))
    return rows.filter(**OF_THE_DAY[filters.day]) if filters.day else rows


#: Who was neither called nor visited for so long.
UNSEEN_WEEKS = 8
#: What the kept day of a customer is asked for.
OF_THE_DAY: dict[str, dict[str, Any]] = {
    "due": {"day__due__gt": 0},
    "overdue": {"day__overdue": True},
    "limit": {"day__at_limit": True},
    "halt": {"day__verdict": "halt"},
    "caution": {"day__verdict": "caution"},
}


def _ordered(person: User, filters: CustomerFilters) -> Ordered[Customer]:
    rows = _narrowed(person, filters)
    return in_order(rows, filters.sort, sorts_for(person, SORTS), "name")


SHOWN = Customer.objects.select_related("owner").prefetch_related("contacts")


@router.get("/customers", response=CustomerPage, operation_id="list_customers")
def customers(request: HttpRequest, filters: Query[CustomerFilters]) -> CustomerPage:
    """A page of customers. Twelve queries at most, however many customers."""
    person = who(request)
    found = count(_ordered(person, filters))
    span, facts = paged(found, filters.page)
    page = found.page(span, SHOWN.all())
    return CustomerPage(rows=_with_standing(page), currency=settings.BASE_CURRENCY, **facts)


def _with_standing(page: list[Customer]) -> list[CustomerRow]:
    found = standings_now(page, today())
    return [_row(row, found[row.pk]) for row in page]


def _row(row: Customer, standing: Standing) -> CustomerRow:
    base = settings.BASE_CURRENCY
    contacts = list(row.contacts.all())
    return CustomerRow(
        id=row.pk,
        number=row.number,
        name=row.name,
        kind=row.kind,
        town=row.town,
        contact=contacts[0].name if contacts else "",
        owner=row.owner.name,
        verdict=standing.verdict,
        reasons=reasons_out(standing),
        oldest_days=standing.ageing.oldest_days,
        exposure=sure_money(standing.exposure, base),
        balance=sure_money(standing.ageing.balance, base),
        overdue=sure_money(standing.ageing.overdue, base),
        limit=money(row.credit_limit, base),
    )


@router.get("/customers.{kind}", operation_id="export_customers")
def export(
    request: HttpRequest,
    kind: Literal["csv", "xlsx"],
    filters: Query[CustomerFilters],
    columns: Seen = "",
) -> HttpResponseBase:
    """The filtered customers as a file, in the list's order and columns."""
    base = settings.BASE_CURRENCY
    known = [
        Column("Number", "number"),
        Column("Customer", "name"),
        Column("Kind", "kind"),
        Column("Town", "town"),
        Column("Contact", "contact"),
        Column("Rep", "owner"),
        Column("Standing", "verdict"),
        Column(f"Open balance {base}", "balance", number=True),
        Column(f"Overdue {base}", "overdue", number=True),
        Column(f"Limit {base}", "limit", number=True),
    ]
    person = who(request)
    batches = in_batches(_ordered(person, filters), SHOWN.all())
    rows = (_with_standing(part) for part in batches)
    return as_file(kind, "customers", known, rows, seen=columns)


class AddressOut(Schema):
    """Where invoices or goods go."""

    id: int
    kind: str
    label: str
    street: str
    postcode: str
    town: str
    country: str


class OpenItemOut(Schema):
    """An invoice or credit that is not settled; ``days_late`` is 0 before its due date."""

    number: str
    kind: str
    on: date
    due_on: date
    currency: str
    gross: str
    open: str
    days_late: int
    bucket: str
    order_id: int | None


class DocumentOut(Schema):
    """Any document of the customer, for one list in order of time."""

    kind: str
    number: str
    on: date
    amount: str
    currency: str
    state: QuoteState
    to: str


class CustomerOut(Schema):
    """A customer with all that belongs to them."""

    id: int
    number: str
    name: str
    kind: str
    tier: str
    parent: str
    parent_id: int | None
    owner: str
    currency: str
    price_list: str
    terms_days: int
    terms_end_of_month: str
    terms_words: str
    tax_number: str
    held: bool
    mine: bool
    standing: StandingOut
    group: GroupOut | None
    days_to_pay: str | None
    days_to_pay_before: str | None
    open_items: list[OpenItemOut]
    contacts: list[ContactOut]
    addresses: list[AddressOut]
    deals: list[DealRow]
    activities: list[ActivityOut]
    documents: list[DocumentOut]


@router.get("/customers/{customer_id}", response=CustomerOut, operation_id="get_customer")
def customer(request: HttpRequest, customer_id: PathId) -> CustomerOut:
    """One customer. A constant number of queries."""
    person, on = who(request), today()
    rows = customers_of(person).select_related("owner", "price_list", "parent")
    row = pick(rows, customer_id, "customer")
    recent, before = payment_days(row.pk, on)
    sells = person.role != CLERK
    return CustomerOut(
        id=row.pk,
        number=row.number,
        name=row.name,
        kind=row.kind,
        tier=row.tier,
        parent=row.parent.name if row.parent else "",
        parent_id=row.parent_id,
        owner=row.owner.name,
        currency=row.currency,
        price_list=row.price_list.name,
        terms_days=row.terms_days,
        terms_end_of_month=row.terms_end_of_month,
        terms_words=ENGLISH.terms(payment_of(row)),
        tax_number=row.tax_number,
        held=row.held,
        mine=sells,
        standing=standing_now(row, on),
        group=group_out(person, row, on),
        days_to_pay=_whole_days(recent),
        days_to_pay_before=_whole_days(before),
        open_items=_open_items(row, on),
        contacts=[ContactOut.from_orm(c) for c in row.contacts.all()],
        addresses=[AddressOut.from_orm(a) for a in row.addresses.all()],
        deals=_deals(person, row, on),
        activities=_activities(row) if sells else [],
        documents=_documents(row, on, quotes=sells),
    )


def _deals(person: User, row: Customer, on: date) -> list[DealRow]:
    """The open ones first, then those that closed last."""
    rows = deals_of(person).select_related("stage", "owner").filter(customer=row)
    newest = rows.order_by(F("closed_at").desc(nulls_first=True), "-decision_on")[:50]
    return [deal_row(deal, on) for deal in newest]


def _activities(row: Customer) -> list[ActivityOut]:
    return [activity_out(each) for each in row.activities.select_related("owner")[:30]]


def _whole_days(payments: list[tuple[Decimal, int]]) -> str | None:
    days = days_to_pay(payments)
    return None if days is None else plain(round_to_step(days, Decimal(1)))


def _open_items(row: Customer, on: date) -> list[OpenItemOut]:
    invoices = row.invoices.exclude(open_amount=0)
    return [
        OpenItemOut(
            number=invoice.number,
            kind=invoice.kind,
            on=invoice.on,
            due_on=invoice.due_on,
            currency=invoice.currency,
            gross=_signed(invoice, invoice.gross),
            open=_signed(invoice, invoice.open_amount),
            days_late=max(0, (on - invoice.due_on).days),
            bucket=bucket_of((on - invoice.due_on).days),
            order_id=invoice.order_id,
        )
        for invoice in invoices.order_by("due_on", "pk")[:OPEN_AT_MOST]
    ]


def _signed(invoice: Invoice, amount: Decimal) -> str:
    value = -amount if invoice.kind == CREDIT else amount
    return sure_money(value, invoice.currency)


def _documents(row: Customer, on: date, *, quotes: bool) -> list[DocumentOut]:
    found = [*(_quotes(row, on) if quotes else ()), *_orders(row), *_invoices(row)]
    return sorted(found, key=lambda d: (d.on, d.number), reverse=True)[:60]


def _quotes(row: Customer, on: date) -> list[DocumentOut]:
    quotes = Quote.objects.filter(customer=row).order_by("-pk")[:60]
    return [
        DocumentOut(
            kind="quote",
            number=f"{q.number} {q.letter}",
            on=q.on or on,
            amount=sure_money(q.payable, q.currency),
            currency=q.currency,
            state=quote_state(q, on),
            to=f"/quotes/{q.revision_id}",
        )
        for q in quotes
    ]


def _orders(row: Customer) -> list[DocumentOut]:
    orders = Order.objects.filter(customer=row).order_by("-pk")[:60]
    return [
        DocumentOut(
            kind="order",
            number=o.number,
            on=o.accepted_on,
            amount=sure_money(o.payable, o.currency),
            currency=o.currency,
            state=order_state(o),
            to=f"/orders/{o.pk}",
        )
        for o in orders
    ]


def _invoices(row: Customer) -> list[DocumentOut]:
    invoices = row.invoices.order_by("-on", "-pk")[:60]
    return [
        DocumentOut(
            kind=i.kind,
            number=i.number,
            on=i.on,
            amount=_signed(i, i.gross),
            currency=i.currency,
            state=_invoice_state(i),
            to=f"/orders/{i.order_id}" if i.order_id else "",
        )
        for i in invoices
    ]


def _invoice_state(invoice: Invoice) -> str:
    if not invoice.open_amount:
        return "paid" if invoice.kind != CREDIT else "used"
    return "part_paid" if invoice.settled else "open"


class NewContact(Schema):
    """A new person at a customer."""

    name: Annotated[str, StringConstraints(max_length=80)]
    role: Annotated[str, StringConstraints(max_length=60)] = ""
    email: Mail = ""
    phone: Annotated[str, StringConstraints(max_length=40)] = ""


@router.post(
    "/customers/{customer_id}/contacts", response={201: ContactOut}, operation_id="add_contact"
)
def new_contact(request: HttpRequest, customer_id: PathId, data: NewContact) -> Status[ContactOut]:
    """Add a person."""
    made = add_contact(who(request), customer_id, **data.model_dump())
    return Status(201, ContactOut.from_orm(made))


class NewAddress(Schema):
    """A new place; ``country`` is the two letters of ISO 3166."""

    kind: Literal["invoice", "delivery"]
    label: Annotated[str, StringConstraints(max_length=60)] = ""
    street: Annotated[str, StringConstraints(max_length=120)]
    postcode: Annotated[str, StringConstraints(max_length=16)] = ""
    town: Annotated[str, StringConstraints(max_length=80)]
    country: Annotated[str, StringConstraints(pattern="^[A-Z]{2}$")]


@router.post(
    "/customers/{customer_id}/addresses", response={201: AddressOut}, operation_id="add_address"
)
def new_address(request: HttpRequest, customer_id: PathId, data: NewAddress) -> Status[AddressOut]:
    """Add a place."""
    made = add_address(who(request), customer_id, **data.model_dump())
    return Status(201, AddressOut.from_orm(made))
