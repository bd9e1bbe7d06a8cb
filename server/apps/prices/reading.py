"""Which price records a person may read: what tells costs and others' limits is the keeper's alone."""

from typing import Any

from django.db.models import Q, QuerySet

from apps.customers.models import Customer
from apps.people.access import owned, sells
from apps.people.models import ADMIN, User
from apps.prices.flows import kind_of
from apps.prices.kinds import KINDS, Kind

#: What tells more than a rep may know: how far others may go, what things cost.
KEEPERS_ONLY = ("limits", "items")


def may_read(who: User, kind: Kind) -> bool:
    """Whether a person may read records of a kind at all."""
    return kind.name not in KEEPERS_ONLY or who.role == ADMIN


def readable_kinds(who: User) -> list[Kind]:
    """The kinds that a person may read."""
    return [kind for kind in KINDS.values() if may_read(who, kind)]


def readable(who: User, name: str) -> tuple[Kind, QuerySet[Any]]:
    """The records of a kind that a person may read, in order.

    What is agreed with a customer is read by those who see the customer, or one of its members.
    """
    sells(who)
    kind = kind_of(name)
    if not may_read(who, kind):
        return kind, kind.rows().none()
    if not kind.of_customers or who.role == ADMIN:
        return kind, kind.rows()
    own = Customer.objects.filter(owned(who))
    parents = own.exclude(parent=None).values("parent")
    seen = Q(customer__in=own.values("pk")) | Q(customer__in=parents) | Q(customer=None)
    return kind, kind.rows().filter(seen)
