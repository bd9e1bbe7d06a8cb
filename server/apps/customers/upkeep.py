"""Changing and retiring customers, contacts and addresses: each with its version, recorded."""

from collections.abc import Callable, Iterable, Mapping
from datetime import datetime
from typing import TypeVar

from django.db import transaction
from django.db.models import Model

from apps.catalogue.models import PriceList, TaxCategory
from apps.customers.marks import refresh_marks
from apps.customers.models import Address, Contact, Customer
from apps.customers.payment import check_terms
from apps.customers.tax_numbers import is_tax_number
from apps.errors import Invalid, Refused, check_version
from apps.journal.flows import record_changes
from apps.people.access import new_owner, owned, pick, pick_locked, sells, signs
from apps.people.models import User

#: What a customer has open, as the areas above tell it: what it is called, and how many.
OPEN: list[Callable[[int], tuple[str, int]]] = []
#: What depends on a customer's own fields and is kept elsewhere is told that they changed.
CHANGED: list[Callable[[Iterable[int]], object]] = []
#: What those who sell write, and what the lead writes as well.
OWN_FIELDS = ("name", "kind", "tax_number", "language", "partial_deliveries")
TERMS_FIELDS = (
    *("tier", "price_list_id", "credit_limit", "tax_category_id", "parent_id", "owner_id"),
    *("terms_days", "terms_end_of_month", "terms_more", "priority"),
)
NEEDED = {"name": "customer_name", "street": "address_street", "town": "address_town"}
Row = TypeVar("Row", bound=Model)


@transaction.atomic
def change_customer(
    who: User, customer_id: int, version: int, values: Mapping[str, object]
) -> Customer:
    """Change what a customer is called and by what it is known (``OWN_FIELDS``)."""
    sells(who)
    row = own_customer(who, customer_id, version)
    if "tax_number" in values and is_tax_number(str(values["tax_number"])) is False:
        raise Invalid("tax_number_wrong", path="tax_number")
    _write(who, "customer", row, {name: values[name] for name in OWN_FIELDS if name in values})
    refresh_marks([row.pk])
    return row


@transaction.atomic
def change_terms(
    who: User, customer_id: int, version: int, values: Mapping[str, object]
) -> Customer:
    """Change what a customer buys by (``TERMS_FIELDS``): the lead's and the administrators' to do."""
    signs(who)
    row = own_customer(who, customer_id, version)
    given = {name: values[name] for name in TERMS_FIELDS if name in values}
    _check_terms(who, row, given)
    _write(who, "customer", row, given)
    check_terms(row)
    for tell in CHANGED:
        tell([row.pk])
    return row


def _check_terms(who: User, row: Customer, given: dict[str, object]) -> None:
    owner = given.get("owner_id")
    if isinstance(owner, int) and owner != row.owner_id:
        given["owner_id"] = new_owner(who, owner).pk
    for name, rows in (("price_list_id", PriceList), ("tax_category_id", TaxCategory)):
        if given.get(name) and not rows._default_manager.filter(pk=str(given[name])).exists():
            raise Invalid("unknown_choice", path=name)
    parent = given.get("parent_id")
    if isinstance(parent, int) and parent != row.parent_id:
        head = pick(Customer.objects.active().filter(owned(who)), parent, "customer")
        if head.pk == row.pk or head.parent_id is not None or row.members.exists():
            raise Invalid("no_such_group", path="parent_id", facts={"name": head.name})


def own_customer(who: User, customer_id: int, version: int) -> Customer:
    """A customer of this person's that is not retired, locked, at the version that was seen."""
    row = pick_locked(Customer.objects.filter(owned(who)), customer_id, "customer")
    check_version(row.version, version, "customer")
    if row.retired_at is not None:
        raise Refused("retired")
    return row


@transaction.atomic
def retire_customer(who: User, customer_id: int, version: int, *, now: datetime) -> Customer:
    """Nobody offers to this customer any more; everything about it stays. Not while something is open."""
    sells(who)
    row = own_customer(who, customer_id, version)
    for tell in OPEN:
        what, many = tell(row.pk)
        if many:
            raise Refused("still_open", facts={"what": what, "count": many})
    if row.members.active().exists():
        raise Refused("still_open", facts={"what": "members", "count": row.members.count()})
    _write(who, "customer", row, {"retired_at": now})
    refresh_marks([row.pk])
    return row


@transaction.atomic
def bring_back_customer(who: User, customer_id: int, version: int) -> Customer:
    """A retired customer buys again; not one that became another."""
    sells(who)
    row = pick_locked(Customer.objects.filter(owned(who)), customer_id, "customer")
    check_version(row.version, version, "customer")
    if row.merged_into_id is not None:
        raise Refused("merged_away")
    _write(who, "customer", row, {"retired_at": None})
    refresh_marks([row.pk])
    return row


@transaction.atomic
def change_contact(
    who: User, contact_id: int, version: int, values: Mapping[str, object]
) -> Contact:
    """Change a person at a customer; ``retired_at`` a moment retires, None brings back."""
    sells(who)
    row = pick_locked(Contact.objects.filter(owned(who, "customer__owner")), contact_id, "contact")
    check_version(row.version, version, "contact")
    _write(who, "contact", row, dict(values), needed={"name": "contact_name"})
    refresh_marks([row.customer_id])
    return row


@transaction.atomic
def change_address(
    who: User, address_id: int, version: int, values: Mapping[str, object]
) -> Address:
    """Change a place of a customer; ``retired_at`` a moment retires, None brings back."""
    sells(who)
    row = pick_locked(Address.objects.filter(owned(who, "customer__owner")), address_id, "address")
    check_version(row.version, version, "address")
    _write(who, "address", row, dict(values))
    return row


def _write(
    who: User,
    what: str,
    row: Row,
    values: dict[str, object],
    *,
    needed: Mapping[str, str] = NEEDED,
) -> None:
    changes = {}
    for name, given in values.items():
        value = " ".join(given.split()) if isinstance(given, str) else given
        if name in needed and not value:
            raise Invalid("required", path=name, facts={"what": needed[name]})
        before = getattr(row, name)
        if before != value:
            changes[name.removesuffix("_id")] = (before, value)
            setattr(row, name, value)
    if changes:
        row.version += 1  # type: ignore[attr-defined]
        row.save()
        record_changes(who, what, row.pk, changes)
