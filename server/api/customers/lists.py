"""Customers in a list: found, filtered by what the day asks, as a file."""

from dataclasses import replace
from datetime import timedelta
from typing import Annotated, Any, Literal

from django.conf import settings
from django.db.models import Exists, OuterRef, Prefetch, Q, QuerySet, Subquery
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.utils import timezone
from ninja import Query, Router, Status
from pydantic import Field, StringConstraints

from api.customers.scope import customers_of
from api.export import Column, Seen, as_file
from api.schemas import Schema
from api.shapes import Id, Mail, Paged, Sort, Verdict, Words, money, paged, sure_money, today, who
from api.standing import ReasonOut, reasons_out, standings_now
from apps.customers.flows import add_customer_with
from apps.customers.models import Contact, Customer
from apps.customers.queries import find_customers
from apps.diary.models import CALL, VISIT, Activity
from apps.listing import Ordered, count, in_batches, in_order, sorts_for
from apps.people.access import read_for_fulfilment
from apps.people.models import User
from apps.regulars.models import CustomerDay
from routecore.standing import Standing

router = Router(tags=["customers"])


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
    day: Literal["", "unseen", "due", "overdue", "limit", "halt", "caution", "retired"] = ""
    sort: Sort = "name"
    page: Annotated[int, Field(ge=1, le=100_000)] = 1


def _narrowed(person: User, filters: CustomerFilters) -> QuerySet[Customer]:
    rows = find_customers(customers_of(person), filters.words)
    rows = rows.filter(retired_at__isnull=filters.day != "retired")
    if filters.day == "retired":
        return rows.filter(owner_id=filters.owner) if filters.owner else rows
    if filters.owner:
        rows = rows.filter(owner_id=filters.owner)
    if filters.day == "unseen":
        since = timezone.now() - timedelta(weeks=UNSEEN_WEEKS)
        seen = Activity.objects.filter(
            customer=OuterRef("pk"), kind__in=(CALL, VISIT), created_at__gte=since
        )
        return rows.filter(~Exists(seen))
    if filters.day:
        # By the index of days, which knows whose each is, not by all customers and then their days.
        whose = Q(day__whose_id=filters.owner) if filters.owner else Q()
        mine = read_for_fulfilment(person, "day__whose")
        asked, value = OF_THE_DAY[filters.day]
        return rows.filter(whose, mine, **{f"day__{asked}": value})
    return rows


#: Who was neither called nor visited for so long.
UNSEEN_WEEKS = 8
#: What the kept day of a customer is asked for.
OF_THE_DAY: dict[str, tuple[str, Any]] = {
    "due": ("due__gt", 0),
    "overdue": ("overdue", True),
    "limit": ("at_limit", True),
    "halt": ("verdict", "halt"),
    "caution": ("verdict", "caution"),
}


def ordered(person: User, filters: CustomerFilters) -> Ordered[Customer]:
    """The filtered customers in their order."""
    rows = _narrowed(person, filters)
    found = in_order(rows, filters.sort, sorts_for(person, SORTS), "name")
    if filters.day in OF_THE_DAY and found.columns[0].removeprefix("-") == "name":
        return replace(found, walked=_by_name(person, filters))
    return found


def _by_name(person: User, filters: CustomerFilters) -> QuerySet[Customer]:
    """The customers of a day one after the other, each with its day looked up.

    Of a day that many have the first by name are found soon; the database would rather take all of the day,
    and sort them.
    """
    rows = _narrowed(person, filters.model_copy(update={"day": ""}))
    asked, value = OF_THE_DAY[filters.day]
    column, _, way = asked.partition("__")
    day = CustomerDay.objects.filter(customer=OuterRef("pk")).values(column)[:1]
    return rows.alias(of_day=Subquery(day)).filter(**{f"of_day__{way or 'exact'}": value})


SHOWN = (
    Customer.objects.only(
        *("number", "name", "kind", "town", "parent", "credit_limit", "held"),
        *("owner__first_name", "owner__last_name", "owner__username"),
    )
    .select_related("owner")
    .prefetch_related(Prefetch("contacts", Contact.objects.active().only("customer", "name")))
)


@router.get("/customers", response=CustomerPage, operation_id="list_customers")
def customers(request: HttpRequest, filters: Query[CustomerFilters]) -> CustomerPage:
    """A page of customers. Fifteen queries at most, however many customers."""
    person = who(request)
    found = count(ordered(person, filters))
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


class NewCustomer(Schema):
    """A new customer's name, and the first person there."""

    name: Annotated[str, StringConstraints(max_length=120)]
    contact: Annotated[str, StringConstraints(max_length=80)] = ""
    email: Mail = ""
    phone: Annotated[str, StringConstraints(max_length=40)] = ""


class MadeCustomer(Schema):
    """A customer that was just made."""

    id: int
    number: str
    name: str


@router.post("/customers", response={201: MadeCustomer}, operation_id="add_customer")
def new_customer(request: HttpRequest, data: NewCustomer) -> Status[MadeCustomer]:
    """Make a customer, with the first person there: both or neither."""
    made = add_customer_with(who(request), **data.model_dump())
    return Status(201, MadeCustomer(id=made.pk, number=made.number, name=made.name))


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
    batches = in_batches(ordered(person, filters), SHOWN.all())
    rows = (_with_standing(part) for part in batches)
    return as_file(kind, "customers", known, rows, seen=columns)
