"""Customers, people and places: made, changed, retired; likely doubles found; two records made one."""

from datetime import datetime
from typing import Annotated, Any, Literal

from django.db.models import Count
from django.http import HttpRequest
from django.utils import timezone
from ninja import Query, Router, Status
from pydantic import Field, StringConstraints

from api.access import SIGN
from api.customers.sheet import AddressOut
from api.deals import ContactOut
from api.history import ChangeOut, changes_out
from api.schemas import Schema
from api.shapes import Amount, Id, Mail, PathId, Version, money, who
from api.terms import MoreTermsIn
from apps.catalogue.models import PriceList
from apps.customers.flows import add_address, add_contact
from apps.customers.marks import Described, Likely, likely_same
from apps.customers.merging import UNDO_WITHIN, merge_customers, relations, undo_merge
from apps.customers.models import Customer, Merge
from apps.customers.payment import payment_of
from apps.customers.tax_numbers import is_tax_number
from apps.customers.upkeep import (
    bring_back_customer,
    change_address,
    change_contact,
    change_customer,
    change_terms,
    retire_customer,
)
from apps.journal.models import Change
from apps.papers.words import ENGLISH
from apps.people.access import owned, pick
from apps.people.models import User
from routecore.likeness import PersonMarks, compare_people

router = Router(tags=["customers"])
PersonName = Annotated[str, StringConstraints(max_length=80)]
Role = Annotated[str, StringConstraints(max_length=60)]
Phone = Annotated[str, StringConstraints(max_length=40)]
Name = Annotated[str, StringConstraints(max_length=120)]
Country = Annotated[str, StringConstraints(pattern="^[A-Z]{2}$")]
Town = Annotated[str, StringConstraints(max_length=80)]
Street = Annotated[str, StringConstraints(max_length=120)]
Postcode = Annotated[str, StringConstraints(max_length=16)]


class NewContact(Schema):
    """A new person at a customer."""

    name: PersonName
    role: Role = ""
    email: Mail = ""
    phone: Phone = ""


@router.post(
    "/customers/{customer_id}/contacts", response={201: ContactOut}, operation_id="add_contact"
)
def new_contact(request: HttpRequest, customer_id: PathId, data: NewContact) -> Status[ContactOut]:
    """Add a person."""
    made = add_contact(who(request), customer_id, **data.model_dump())
    return Status(201, ContactOut.from_orm(made))


class ContactIn(Schema):
    """What is changed of a person; ``retired`` true lets them go, false brings them back."""

    version: Version
    name: PersonName | None = None
    role: Role | None = None
    email: Mail | None = None
    phone: Phone | None = None
    retired: bool | None = None


@router.patch("/contacts/{contact_id}", response=ContactOut, operation_id="change_contact")
def contact(request: HttpRequest, contact_id: PathId, data: ContactIn) -> ContactOut:
    """Change a person, or let them go: documents that name them keep them."""
    return ContactOut.from_orm(
        change_contact(who(request), contact_id, data.version, _values(data))
    )


class NewAddress(Schema):
    """A new place; ``country`` is the two letters of ISO 3166."""

    kind: Literal["invoice", "delivery"]
    label: Role = ""
    street: Street
    postcode: Postcode = ""
    town: Town
    country: Country


@router.post(
    "/customers/{customer_id}/addresses", response={201: AddressOut}, operation_id="add_address"
)
def new_address(request: HttpRequest, customer_id: PathId, data: NewAddress) -> Status[AddressOut]:
    """Add a place."""
    made = add_address(who(request), customer_id, **data.model_dump())
    return Status(201, AddressOut.from_orm(made))


class AddressIn(Schema):
    """What is changed of a place; ``retired`` true lets it go, false brings it back."""

    version: Version
    kind: Literal["invoice", "delivery"] | None = None
    label: Role | None = None
    street: Street | None = None
    postcode: Postcode | None = None
    town: Town | None = None
    country: Country | None = None
    retired: bool | None = None


@router.patch("/addresses/{address_id}", response=AddressOut, operation_id="change_address")
def address(request: HttpRequest, address_id: PathId, data: AddressIn) -> AddressOut:
    """Change a place, or let it go."""
    return AddressOut.from_orm(
        change_address(who(request), address_id, data.version, _values(data))
    )


def _values(data: Schema) -> dict[str, Any]:
    values = data.model_dump(exclude_unset=True, exclude={"version"})
    retired = values.pop("retired", None)
    values = {name: value for name, value in values.items() if value is not None}
    if retired is not None:
        values["retired_at"] = timezone.now() if retired else None
    return values


class PriceListChoice(Schema):
    """A price list that a customer of this currency can buy by."""

    id: int
    name: str


class CustomerFields(Schema):
    """A customer's own fields, for changing them; those of terms are the lead's to change."""

    id: int
    version: int
    number: str
    name: str
    kind: str
    tax_number: str
    #: Whether it is right by its country's own rule; None where none is known.
    tax_number_right: bool | None
    language: str
    tier: str
    price_list_id: int
    price_list: str
    credit_limit: str | None
    partial_deliveries: bool
    priority: bool
    tax_category_id: str | None
    parent_id: int | None
    parent: str
    owner_id: int
    owner: str
    terms_days: int
    terms_end_of_month: str
    terms_more: dict[str, Any]
    terms_words: str
    currency: str
    retired_at: datetime | None
    merged_into_id: int | None
    may_change_terms: bool
    #: What it can buy by, for those who may change it.
    price_lists: list[PriceListChoice]


def _fields(person: User, row: Customer) -> CustomerFields:
    plain = (
        *("version", "number", "name", "kind", "tax_number", "language", "tier", "price_list_id"),
        *("tax_category_id", "parent_id", "owner_id", "terms_days", "terms_end_of_month"),
        *("terms_more", "currency", "retired_at", "merged_into_id"),
        *("partial_deliveries", "priority"),
    )
    return CustomerFields(
        id=row.pk,
        tax_number_right=is_tax_number(row.tax_number) if row.tax_number else None,
        price_list=row.price_list.name,
        credit_limit=money(row.credit_limit, row.currency),
        parent=row.parent.name if row.parent else "",
        owner=row.owner.name,
        terms_words=ENGLISH.terms(payment_of(row)),
        may_change_terms=person.role in SIGN,
        price_lists=_price_lists(row) if person.role in SIGN else [],
        **{name: getattr(row, name) for name in plain},
    )


def _price_lists(row: Customer) -> list[PriceListChoice]:
    rows = PriceList.objects.filter(currency=row.currency).order_by("name")
    return [PriceListChoice(id=each.pk, name=each.name) for each in rows]


def _own(person: User, customer_id: int) -> Customer:
    rows = Customer.objects.filter(owned(person)).select_related("price_list", "parent", "owner")
    return pick(rows, customer_id, "customer")


@router.get(
    "/customers/{customer_id}/fields", response=CustomerFields, operation_id="get_customer_fields"
)
def fields(request: HttpRequest, customer_id: PathId) -> CustomerFields:
    """What of a customer can be changed."""
    person = who(request)
    return _fields(person, _own(person, customer_id))


class CustomerIn(Schema):
    """What is changed of what a customer is called and by what it is known."""

    version: Version
    name: Name | None = None
    kind: Annotated[str, StringConstraints(max_length=40)] | None = None
    tax_number: Annotated[str, StringConstraints(max_length=30)] | None = None
    language: Literal["en", "de"] | None = None
    partial_deliveries: bool | None = None


@router.patch(
    "/customers/{customer_id}/fields", response=CustomerFields, operation_id="change_customer"
)
def change(request: HttpRequest, customer_id: PathId, data: CustomerIn) -> CustomerFields:
    """Change what a customer is called and by what it is known."""
    person = who(request)
    change_customer(person, customer_id, data.version, _values(data))
    return _fields(person, _own(person, customer_id))


class CustomerTermsIn(Schema):
    """What is changed of what a customer buys by; what is not given stays."""

    version: Version
    tier: Annotated[str, StringConstraints(max_length=20)] | None = None
    price_list_id: Id | None = None
    credit_limit: Amount | None = None
    no_limit: bool = False
    parent_id: Id | None = None
    no_parent: bool = False
    owner_id: Id | None = None
    terms_days: Annotated[int, Field(ge=0, le=365)] | None = None
    terms_end_of_month: Literal["", "after", "before"] | None = None
    terms_more: MoreTermsIn | None = None
    priority: bool | None = None


@router.patch(
    "/customers/{customer_id}/terms", response=CustomerFields, operation_id="change_customer_terms"
)
def terms(request: HttpRequest, customer_id: PathId, data: CustomerTermsIn) -> CustomerFields:
    """Change what a customer buys by: price list, tier, terms, limit, group, rep."""
    person = who(request)
    left_out = {"terms_more", "no_limit", "no_parent", "version"}
    given = data.model_dump(exclude_unset=True, exclude=left_out)
    values = {name: value for name, value in given.items() if value is not None}
    if data.terms_more is not None:
        values["terms_more"] = data.terms_more.kept()
    if data.no_limit:
        values["credit_limit"] = None
    if data.no_parent:
        values["parent_id"] = None
    change_terms(person, customer_id, data.version, values)
    return _fields(person, _own(person, customer_id))


class RetireIn(Schema):
    """Whether nobody offers to this customer any more."""

    version: Version
    retired: bool


@router.post(
    "/customers/{customer_id}/retire", response=CustomerFields, operation_id="retire_customer"
)
def retire(request: HttpRequest, customer_id: PathId, data: RetireIn) -> CustomerFields:
    """Retire a customer, or bring one back."""
    person = who(request)
    if data.retired:
        retire_customer(person, customer_id, data.version, now=timezone.now())
    else:
        bring_back_customer(person, customer_id, data.version)
    return _fields(person, _own(person, customer_id))


@router.get(
    "/customers/{customer_id}/changes", response=list[ChangeOut], operation_id="customer_changes"
)
def changes(request: HttpRequest, customer_id: PathId) -> list[ChangeOut]:
    """Who changed what of a customer, the newest first."""
    row = _own(who(request), customer_id)
    return changes_out(Change.objects.filter(what="customer", record=row.pk))


class LikelyIn(Schema):
    """A customer as far as it is typed; ``but`` is itself, where it is there already."""

    name: Name = ""
    tax_number: Annotated[str, StringConstraints(max_length=30)] = ""
    mail: Annotated[str, StringConstraints(max_length=200)] = ""
    phone: Phone = ""
    but: Id | None = None


class LikelyOut(Schema):
    """A customer that may be the same, and why; one of somebody else's has no ``id`` to go to."""

    id: int | None
    number: str
    name: str
    town: str
    owner: str
    why: list[str]


@router.get("/likely-customers", response=list[LikelyOut], operation_id="list_likely_customers")
def likely(request: HttpRequest, asked: Query[LikelyIn]) -> list[LikelyOut]:
    """Customers that may be the one that is typed, the likeliest first. Five queries at most."""
    described = Described(
        name=asked.name,
        tax_number=asked.tax_number,
        mails=(asked.mail,) if asked.mail else (),
        phones=(asked.phone,) if asked.phone else (),
    )
    return likely_out(who(request), likely_same(described, but=[asked.but] if asked.but else ()))


class PersonIn(Schema):
    """A person as far as it is known."""

    name: Annotated[str, StringConstraints(max_length=80)] = ""
    mail: Annotated[str, StringConstraints(max_length=200)] = ""
    phone: Phone = ""


class LikelyPerson(Schema):
    """Somebody at a customer who may be the same, and why."""

    id: int
    name: str
    why: list[str]


@router.get(
    "/customers/{customer_id}/likely-contacts",
    response=list[LikelyPerson],
    operation_id="list_likely_contacts",
)
def likely_contacts(
    request: HttpRequest, customer_id: PathId, asked: Query[PersonIn]
) -> list[LikelyPerson]:
    """Who of a customer's people may be the one that is meant, the likeliest first. Two queries."""
    meant = PersonMarks(**asked.model_dump())
    found = []
    for row in _own(who(request), customer_id).contacts.active():
        why = compare_people(meant, PersonMarks(name=row.name, mail=row.email, phone=row.phone))
        if why:
            found.append(LikelyPerson(id=row.pk, name=row.name, why=list(why)))
    return sorted(found, key=lambda each: (-len(each.why), "name_near" in each.why, each.id))


@router.get(
    "/customers/{customer_id}/doubles", response=list[LikelyOut], operation_id="list_doubles"
)
def doubles(request: HttpRequest, customer_id: PathId) -> list[LikelyOut]:
    """Customers that may be this one under another number."""
    person = who(request)
    row = _own(person, customer_id)
    people = list(row.contacts.active())
    described = Described(
        name=row.name,
        tax_number=row.tax_number,
        mails=tuple(each.email for each in people),
        phones=tuple(each.phone for each in people),
    )
    return likely_out(person, likely_same(described, but=[row.pk]))


def likely_out(person: User, found: list[Likely]) -> list[LikelyOut]:
    """Likely doubles as a person may see them. Two queries."""
    rows = Customer.objects.select_related("owner").in_bulk([each.customer for each in found])
    own = set(Customer.objects.filter(owned(person), pk__in=rows).values_list("pk", flat=True))
    return [
        LikelyOut(
            id=row.pk if row.pk in own else None,
            number=row.number,
            name=row.name,
            town=row.town,
            owner=row.owner.name,
            why=each.why,
        )
        for each in found
        if (row := rows.get(each.customer)) is not None
    ]


class MergePreview(Schema):
    """Two records side by side, and how much of the other would move, by kind."""

    kept: CustomerFields
    gone: CustomerFields
    moves: dict[str, int]


@router.get("/customers/{customer_id}/merge", response=MergePreview, operation_id="preview_merge")
def preview(request: HttpRequest, customer_id: PathId, other: Query[Id]) -> MergePreview:
    """What a merge would do; nothing is changed."""
    person = who(request)
    gone = _own(person, other)
    moves = {}
    for model, column in relations():
        if model._meta.get_field(column).one_to_one:
            continue
        many = model._base_manager.filter(**{column: gone}).aggregate(many=Count("pk"))["many"]
        if many:
            moves[model._meta.model_name or ""] = many
    return MergePreview(
        kept=_fields(person, _own(person, customer_id)), gone=_fields(person, gone), moves=moves
    )


class MergeIn(Schema):
    """Which record becomes this one, and the fields whose value it gives."""

    version: Version
    other: Id
    other_version: Version
    take: Annotated[
        list[Annotated[str, StringConstraints(max_length=30)]], Field(max_length=20)
    ] = []


class MergeOut(Schema):
    """A merge, and until when it can be taken back."""

    id: int
    kept_id: int
    gone_id: int
    gone: str
    at: datetime
    until: datetime
    undone: bool


def _merge_out(row: Merge) -> MergeOut:
    return MergeOut(
        id=row.pk,
        kept_id=row.kept_id,
        gone_id=row.gone_id,
        gone=f"{row.gone.number} {row.gone.name}",
        at=row.at,
        until=row.at + UNDO_WITHIN,
        undone=row.undone_at is not None,
    )


@router.post("/customers/{customer_id}/merge", response=MergeOut, operation_id="merge_customers")
def merge(request: HttpRequest, customer_id: PathId, data: MergeIn) -> MergeOut:
    """Make two records of one customer one."""
    versions = (data.version, data.other_version)
    made = merge_customers(
        who(request), customer_id, data.other, versions, data.take, now=timezone.now()
    )
    return _merge_out(made)


@router.get("/customers/{customer_id}/merges", response=list[MergeOut], operation_id="list_merges")
def merges(request: HttpRequest, customer_id: PathId) -> list[MergeOut]:
    """What became this customer and can still be taken back."""
    row = _own(who(request), customer_id)
    since = timezone.now() - UNDO_WITHIN
    found = Merge.objects.filter(kept=row, undone_at__isnull=True, at__gt=since)
    return [_merge_out(each) for each in found.select_related("gone").order_by("-at")[:20]]


@router.post("/merges/{merge_id}/undo", response=MergeOut, operation_id="undo_merge")
def undo(request: HttpRequest, merge_id: PathId) -> MergeOut:
    """Take a merge back, within a day."""
    return _merge_out(undo_merge(who(request), merge_id, now=timezone.now()))
