"""Invoices of all customers, and what is ordered and not billed yet, as lists: what the revenue sums, row by row."""

from collections.abc import Mapping
from datetime import date
from decimal import Decimal
from typing import Annotated, Any, Literal

from django.conf import settings
from django.db.models import Q, QuerySet, Value
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from ninja import Query, Router
from pydantic import Field, StringConstraints

from api.customers.documents import invoice_state
from api.customers.sheet import signed
from api.export import Column, Seen, as_file
from api.forecast.revenue import billed_of, ordered_of, shown_months
from api.forecast.weighted import ForecastFilters
from api.schemas import Schema
from api.shapes import Paged, Sort, Words, paged, sure_money, today, who
from apps.catalogue.queries import unit_names
from apps.forecast.revenue import Backlog, backlog_of, billed_net, in_backlog_month
from apps.ledger.models import Invoice
from apps.listing import MOST, Found, Ordered, count, in_batches, in_order, rows_of
from apps.people.models import User
from apps.searching import Index
from apps.words import state_words
from routecore.casefile.words import plain
from routecore.dates import month_end

router = Router(tags=["ledger"])
Month = Annotated[str, StringConstraints(pattern=r"^(20[0-9]{2}-(0[1-9]|1[0-2]))?$")]
BacklogMonth = Annotated[
    str, StringConstraints(pattern=r"^(later|undated|20[0-9]{2}-(0[1-9]|1[0-2]))?$")
]
Page = Annotated[int, Field(ge=1, le=100_000)]


class InvoiceRow(Schema):
    """An invoice or credit note in a list; a credit note's amounts are below zero. ``worth`` is the net in the base
    currency at the rate of its day."""

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
    late: bool
    currency: str
    gross: str
    open: str
    worth: str


class InvoicePage(Paged):
    """A page of invoices; ``sum`` is the net of the whole filter in the base currency, if it is counted."""

    base: str
    rows: list[InvoiceRow]
    sum: str | None


class InvoiceFilters(ForecastFilters):
    """Whose invoices, of which customer, of which month, open or past their due day."""

    state: Literal["", "open", "late"] = ""
    month: Month = ""
    words: Words = ""
    sort: Sort = "-on"
    page: Page = 1


INVOICE_SORTS = {
    "number": "number",
    "on": "on",
    "due": "due_on",
    "customer": "customer_name",
    "open": "open_amount",
}


INVOICE_WORDS = Index(
    columns=("number", "customer_name"), first="customer_name", numbers=("number",)
)


def _holding(number: str, customer: str, words: str) -> Q:
    """A number that begins so, or a customer whose name has the words."""
    found = Q(**{f"{number}__istartswith": words.strip()})
    return found | Q(**{f"{customer}__icontains": words.strip()})


def _invoices(person: User, filters: InvoiceFilters) -> Ordered[Invoice]:
    on = today()
    rows = billed_of(person, filters)
    if filters.state:
        rows = rows.filter(open_amount__gt=0, kind="invoice")
    if filters.state == "late":
        rows = rows.filter(due_on__lt=on)
    if filters.month:
        first = date.fromisoformat(f"{filters.month}-01")
        rows = rows.filter(on__range=(first, month_end(first)))
    return in_order(INVOICE_WORDS.find(rows, filters.words), filters.sort, INVOICE_SORTS, "-on")


def _invoices_shown() -> QuerySet[Invoice]:
    return Invoice.objects.select_related("customer", "order").annotate(worth=billed_net())


def _invoice(row: Any, on: date) -> InvoiceRow:
    return InvoiceRow(
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
        late=row.kind == "invoice" and row.open_amount > 0 and row.due_on < on,
        currency=row.currency,
        gross=signed(row, row.gross),
        open=signed(row, row.open_amount),
        worth=sure_money(row.worth, settings.BASE_CURRENCY),
    )


@router.get("/invoices", response=InvoicePage, operation_id="list_invoices")
def invoices(request: HttpRequest, filters: Query[InvoiceFilters]) -> InvoicePage:
    """A page of invoices and credit notes, newest first. Three queries, five of a customer's group."""
    found = count(_invoices(who(request), filters), Value(""), billed_net())
    span, facts = paged(found, filters.page)
    on, base = today(), settings.BASE_CURRENCY
    return InvoicePage(
        base=base,
        rows=[_invoice(row, on) for row in found.page(span, _invoices_shown())],
        sum=None if found.more else sure_money(found.sums.get("", Decimal(0)), base),
        **facts,
    )


@router.get("/invoices.{kind}", operation_id="export_invoices")
def export_invoices(
    request: HttpRequest,
    kind: Literal["csv", "xlsx"],
    filters: Query[InvoiceFilters],
    columns: Seen = "",
) -> HttpResponseBase:
    """The filtered invoices as a file, in the list's order and columns."""
    known = [
        Column("Invoice", "number"),
        Column("Customer", "customer"),
        Column("Order", "order"),
        Column("Date", "on"),
        Column("Due", "due_on"),
        Column("State", "state", words=state_words()["invoice"]),
        Column("Currency", "currency"),
        Column("Gross", "gross", number=True),
        Column("Open", "open", number=True),
        Column(f"Net {settings.BASE_CURRENCY}", "worth", number=True),
    ]
    on = today()
    batches = in_batches(_invoices(who(request), filters), _invoices_shown())
    return as_file(
        kind,
        "invoices",
        known,
        ([_invoice(row, on) for row in part] for part in batches),
        seen=columns,
    )


class BacklogRow(Schema):
    """A line that is ordered and not wholly billed: ``worth`` is what is left of its net in the base currency,
    ``leaves`` the day now known for it."""

    id: int
    order_id: int
    order: str
    customer_id: int
    customer: str
    item: str
    text: str
    quantity: str
    unit: str
    leaves: date | None
    late: bool
    worth: str


class BacklogPage(Paged):
    """A page of lines; ``sum`` is what they come to over the whole filter, if they are counted."""

    base: str
    rows: list[BacklogRow]
    sum: str | None


class BacklogFilters(ForecastFilters):
    """Whose orders, of which customer, leaving in which month: ISO, ``later`` than those shown, ``undated``."""

    month: BacklogMonth = ""
    words: Words = ""
    sort: Sort = "leaves"
    page: Page = 1


BACKLOG_SORTS = {
    "leaves": "leaves",
    "order": "order__number",
    "customer": "order__customer_name",
    "worth": "worth",
}


def _backlog(person: User, filters: BacklogFilters) -> Ordered[Any]:
    on = today()
    rows = ordered_of(person, filters)
    if filters.month:
        last = month_end(shown_months(on)[-1])
        rows = in_backlog_month(rows, filters.month, on, last)
    if filters.words.strip():
        rows = rows.filter(_holding("order__number", "order__customer_name", filters.words))
    return in_order(rows, filters.sort, BACKLOG_SORTS, "leaves")


def _backlog_row(row: Any, on: date, units: Mapping[str, str]) -> BacklogRow:
    return BacklogRow(
        id=row.pk,
        order_id=row.order_id,
        order=row.order.number,
        customer_id=row.order.customer_id,
        customer=row.order.customer_name,
        item=row.item.code,
        text=row.text,
        quantity=plain(row.quantity) or "0",
        unit=units.get(row.unit, row.unit),
        leaves=row.leaves,
        late=row.leaves is not None and row.leaves < on,
        worth=sure_money(row.worth, settings.BASE_CURRENCY),
    )


def _backlog_shown(person: User) -> Backlog:
    return backlog_of(person).select_related("order", "item")


@router.get("/backlog", response=BacklogPage, operation_id="list_backlog")
def backlog(request: HttpRequest, filters: Query[BacklogFilters]) -> BacklogPage:
    """A page of lines that are ordered and not billed, the next to leave first. Three queries, five of a group."""
    person, on, base = who(request), today(), settings.BASE_CURRENCY
    ordered, units = _backlog(person, filters), unit_names()
    # What is left of a line is worked out of its invoices: once for all, in their order.
    left = ordered.rows.order_by(*ordered.last_empty).values_list("pk", "worth")
    worths = dict(left[: MOST + 1])
    keys, more = list(worths), len(worths) > MOST
    found = Found(ordered, min(len(keys), MOST), more=more, keys=keys)
    span, facts = paged(found, filters.page)
    return BacklogPage(
        base=base,
        rows=[_backlog_row(row, on, units) for row in rows_of(keys[span], _backlog_shown(person))],
        sum=None if more else sure_money(sum(worths.values(), Decimal(0)), base),
        **facts,
    )


@router.get("/backlog.{kind}", operation_id="export_backlog")
def export_backlog(
    request: HttpRequest,
    kind: Literal["csv", "xlsx"],
    filters: Query[BacklogFilters],
    columns: Seen = "",
) -> HttpResponseBase:
    """The filtered backlog as a file, in the list's order and columns."""
    known = [
        Column("Order", "order"),
        Column("Customer", "customer"),
        Column("Item", "item"),
        Column("Text", "text"),
        Column("Quantity", "quantity", number=True),
        Column("Unit", "unit"),
        Column("Leaves", "leaves"),
        Column(f"To bill {settings.BASE_CURRENCY}", "worth", number=True),
    ]
    person, on, units = who(request), today(), unit_names()
    batches = in_batches(_backlog(person, filters), _backlog_shown(person))
    rows = ([_backlog_row(row, on, units) for row in part] for part in batches)
    return as_file(kind, "backlog", known, rows, seen=columns)
