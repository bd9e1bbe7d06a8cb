"""A day's visits: follow-ups at the customer's place, in the order in which they are made."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date

from django.db import transaction

from apps.customers.models import Address, Contact
from apps.diary.flows import Noted, add_activity
from apps.diary.models import FOLLOW_UP, Activity
from apps.errors import Stale
from apps.people.access import sells
from apps.people.models import User


@dataclass(frozen=True, slots=True, kw_only=True)
class Visit:
    """A visit, where it is, and whom to ask for; None where nothing is known."""

    row: Activity
    address: Address | None
    person: Contact | None


def visits_on(who: User, day: date) -> list[Visit]:
    """One's own visits of a day, in their order. Four queries."""
    rows = (
        Activity.objects.filter(owner=who, kind=FOLLOW_UP, visit=True, due_on=day)
        .select_related("customer", "deal__contact")
        .prefetch_related("customer__addresses", "customer__contacts")
        .order_by("place", "pk")
    )
    return [
        Visit(
            row=row,
            # Where goods go is where people are; else where the invoices go.
            address=min(_there(row.customer.addresses.all()), key=_delivery_first, default=None),
            person=_person(row),
        )
        for row in rows
    ]


def _there(rows: Iterable[Address]) -> list[Address]:
    return [row for row in rows if row.retired_at is None]


def _delivery_first(row: Address) -> tuple[bool, int]:
    return row.kind != "delivery", row.pk


def _person(row: Activity) -> Contact | None:
    known = row.deal.contact if row.deal else None
    if known is not None and known.retired_at is None:
        return known
    return next((each for each in row.customer.contacts.all() if each.retired_at is None), None)


def plan_visit(
    who: User, *, day: date, text: str, customer_id: int | None = None, deal_id: int | None = None
) -> Activity:
    """One more visit of the day, after the others."""
    noted = Noted(
        kind=FOLLOW_UP, text=text, customer_id=customer_id, deal_id=deal_id, due_on=day, visit=True
    )
    return add_activity(who, noted)


@transaction.atomic
def order_visits(who: User, day: date, keys: Sequence[int]) -> None:
    """The day's visits in this order; refused where the day has others by now than were seen."""
    sells(who)
    rows = Activity.objects.select_for_update().filter(
        owner=who, kind=FOLLOW_UP, visit=True, due_on=day
    )
    known = {row.pk: row for row in rows.order_by("pk")}
    if sorted(keys) != sorted(known):
        raise Stale("stale", path="ids", facts={"current": len(known), "given": len(keys)})
    for n, key in enumerate(keys, start=1):
        known[key].place = n
    Activity.objects.bulk_update(known.values(), ["place"])
