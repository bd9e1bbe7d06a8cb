"""Customers, people and places from a file and into one: CSV, XLSX, vCard."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase
from ninja import File, Query, Router, UploadedFile
from pydantic import StringConstraints

from api.customers.lists import CustomerFilters, ordered
from api.customers.upkeep import LikelyOut, likely_out
from api.errors import Fault
from api.export import Column, as_file
from api.schemas import Schema
from api.shapes import PathId, who
from api.streams import streamed
from apps.customers.filed import COLUMNS
from apps.customers.filing import Report, Told, file_customers
from apps.customers.models import Address, Contact, Customer
from apps.customers.queries import whole_customers
from apps.listing import LONGEST_FILE, in_batches
from apps.people.access import owned, pick, sells
from apps.people.models import User
from apps.tables import MOST_BYTES
from routecore.reading.vcard import Card, Place, write_card

router = Router(tags=["customers"])
VCARD = "text/vcard; charset=utf-8"


class CustomerColumn(Schema):
    """A column of the file: its heading and what it holds."""

    heading: str
    holds: str


@router.get("/customer-files", response=list[CustomerColumn], operation_id="customer_file_columns")
def columns(request: HttpRequest) -> list[CustomerColumn]:
    """What a file of customers holds."""
    sells(who(request))
    return [CustomerColumn(heading=heading, holds=holds) for _, heading, holds, _ in COLUMNS]


HEADS = [Column(heading, name) for name, heading, _, _ in COLUMNS]


@dataclass(slots=True)
class _FileRow:
    """A row of the file: of a customer with a person and a place, as far as there are any."""

    number: str = ""
    name: str = ""
    kind: str = ""
    tax_number: str = ""
    language: str = ""
    rep: str = ""
    price_list: str = ""
    terms_days: str = ""
    contact: str = ""
    role: str = ""
    email: str = ""
    phone: str = ""
    place: str = ""
    label: str = ""
    street: str = ""
    postcode: str = ""
    town: str = ""
    country: str = ""


EXAMPLE = _FileRow(
    name="Example Growers",
    kind="grower",
    language="en",
    contact="Robin Example, buyer".partition(",")[0],
    role="buyer",
    email="robin@growers.example",
    phone="+44 1632 960 999",
    place="delivery",
    label="North field barn",
    street="1 Example Lane",
    postcode="QF1 1AA",
    town="Example Vale",
    country="QF",
)


@router.get("/customer-files/template.{kind}", operation_id="customer_file_template")
def template(request: HttpRequest, kind: Literal["csv", "xlsx"]) -> HttpResponseBase:
    """A file to fill in, with an example that is taken out before it is sent."""
    sells(who(request))
    return as_file(kind, "customers-template", HEADS, [[EXAMPLE]])


@router.get("/customer-files/all.{kind}", operation_id="export_whole_customers")
def whole(
    request: HttpRequest, kind: Literal["csv", "xlsx", "vcf"], filters: Query[CustomerFilters]
) -> HttpResponseBase:
    """The filtered customers with all people and places: the file that can be taken in again; or vCards."""
    person = who(request)
    sells(person)
    batches = in_batches(ordered(person, filters), whole_customers(), LONGEST_FILE)
    if kind == "vcf":
        cards = (_cards(part).encode() for part in batches)
        headers = {"Content-Disposition": 'attachment; filename="contacts.vcf"'}
        return StreamingHttpResponse(cards, content_type=VCARD, headers=headers)
    leads = person.role != "rep"
    return as_file(kind, "customers-whole", HEADS, (_rows(part, leads=leads) for part in batches))


def _rows(part: Sequence[Customer], *, leads: bool) -> list[_FileRow]:
    return [row for customer in part for row in _rows_of(customer, leads=leads)]


def _rows_of(customer: Customer, *, leads: bool) -> Iterator[_FileRow]:
    """As many rows as there are people or places, at least one."""
    people, places = list(customer.contacts.all()), list(customer.addresses.all())
    for n in range(max(1, len(people), len(places))):
        row = _FileRow(number=customer.number, name=customer.name)
        if not n:
            row.kind, row.tax_number = customer.kind, customer.tax_number
            row.language = customer.language
        if not n and leads:
            row.rep, row.price_list = customer.owner.username, customer.price_list.code
            row.terms_days = str(customer.terms_days)
        if n < len(people):
            row.contact, row.role = people[n].name, people[n].role
            row.email, row.phone = people[n].email, people[n].phone
        if n < len(places):
            _put_place(row, places[n])
        yield row


def _put_place(row: _FileRow, place: Address) -> None:
    row.place, row.label, row.street = place.kind, place.label, place.street
    row.postcode, row.town, row.country = place.postcode, place.town, place.country


def _cards(part: Sequence[Customer]) -> str:
    return "".join(
        write_card(_card(person, customer, list(customer.addresses.all())[:1]))
        for customer in part
        for person in customer.contacts.all()
    )


def _card(person: Contact, customer: Customer, places: Sequence[Address]) -> Card:
    return Card(
        name=person.name,
        organisation=customer.name,
        role=person.role,
        emails=(person.email,) if person.email else (),
        phones=(person.phone,) if person.phone else (),
        places=tuple(
            Place(street=at.street, postcode=at.postcode, town=at.town, country=at.country)
            for at in places
        ),
    )


@router.get("/contacts/{contact_id}/card", operation_id="get_contact_card")
def card(request: HttpRequest, contact_id: PathId) -> HttpResponse:
    """A person as a vCard 4.0."""
    rows = Contact.objects.filter(owned(who(request), "customer__owner"))
    person = pick(rows.select_related("customer"), contact_id, "contact")
    places = list(person.customer.addresses.active()[:1])
    headers = {"Content-Disposition": f'attachment; filename="contact-{person.pk}.vcf"'}
    body = write_card(_card(person, person.customer, places))
    return HttpResponse(body, content_type=VCARD, headers=headers)


class CustomerRowFault(Schema):
    """A refused row."""

    row: int
    customer: str
    field: str
    fault: Fault


class EarlierRow(Schema):
    """A customer in an earlier row of the same file that may be the same, and why."""

    row: int
    name: str
    why: list[str]


class CustomerTold(Schema):
    """What comes of a customer of the file: see ``apps.customers.filing.Told``."""

    state: str
    row: int
    name: str
    number: str
    id: int | None
    people: int
    places: int
    likely: list[LikelyOut]
    again: list[EarlierRow]


class CustomerFiling(Schema):
    """What a file brings, or brought; ``counts`` by state, ``told`` and ``faults`` the first of them."""

    rows: int
    customers: int
    counts: dict[str, int]
    told: list[CustomerTold]
    faults: list[CustomerRowFault]


@router.post("/customer-files", response=CustomerFiling, operation_id="import_customers")
def take_in(
    request: HttpRequest,
    file: File[UploadedFile],
    keep: bool = False,
    anyway: Annotated[str, StringConstraints(max_length=3500, pattern=r"^[0-9,]*$")] = "",
) -> StreamingHttpResponse:
    """Try a file; with ``keep`` its customers stay. ``anyway`` names rows of likely doubles that are made
    as customers of their own. Steps, then a ``CustomerFiling``."""
    person = who(request)
    body = file.read(MOST_BYTES + 1)
    rows = [int(row) for row in anyway.split(",") if 0 < len(row) < 7]
    steps = file_customers(person, file.name or "", body, keep=keep, anyway=rows)
    return streamed(step if isinstance(step, int) else _report(person, step) for step in steps)


def _report(person: User, report: Report) -> CustomerFiling:
    likely = likely_out(person, [each for told in report.told for each in told.likely])
    by_number = {row.number: row for row in likely}
    numbers = dict(
        Customer.objects.filter(
            pk__in={each.customer for told in report.told for each in told.likely}
        ).values_list("pk", "number")
    )
    return CustomerFiling(
        rows=report.rows,
        customers=report.customers,
        counts=report.counts,
        told=[_told(told, by_number, numbers) for told in report.told],
        faults=[
            CustomerRowFault(
                row=row.row, customer=row.customer, field=row.field, fault=Fault.of(row.fault)
            )
            for row in report.faults
        ],
    )


def _told(told: Told, rows: dict[str, LikelyOut], numbers: dict[int, str]) -> CustomerTold:
    return CustomerTold(
        state=told.state,
        row=told.row,
        name=told.name,
        number=told.number,
        id=told.id,
        people=told.people,
        places=told.places,
        likely=[
            rows[number].model_copy(update={"why": each.why})
            for each in told.likely
            if (number := numbers.get(each.customer, "")) in rows
        ],
        again=[EarlierRow(row=each.customer, name=each.name, why=each.why) for each in told.again],
    )
