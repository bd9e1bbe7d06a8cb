"""Files as they are seen: whose records' they are."""

from dataclasses import dataclass

from django.db.models import Q, QuerySet

from apps.customers.models import Customer
from apps.deals.models import Helper
from apps.deals.queries import seen_deals
from apps.diary.queries import seen_activities
from apps.errors import Missing
from apps.files.models import KeptFile
from apps.orders.models import Order
from apps.people.access import owned, pick, read_for_fulfilment
from apps.people.models import User
from apps.quotes.models import Revision


@dataclass(frozen=True, slots=True, kw_only=True)
class Place:
    """A record that files lie with: which column of a file, and its key. ``fixed``: they stay as they are."""

    column: str
    record: int
    fixed: bool = False


def place_of(who: User, kind: str, record: int) -> Place:
    """The record, where this person may see it: ``customer``, ``deal``, ``quote`` (a revision), ``order``, an
    ``activity``."""
    if kind == "customer":
        pick(Customer.objects.filter(owned(who)), record, "customer")
    elif kind == "deal":
        pick(seen_deals(who), record, "deal")
    elif kind == "quote":
        rows = Revision.objects.filter(owned(who, "quote__owner")).defer("priced", "case")
        row = pick(rows, record, "quote")
        return Place(column="revision", record=record, fixed=row.issued_at is not None)
    elif kind == "order":
        pick(Order.objects.filter(read_for_fulfilment(who)), record, "order")
    elif kind == "activity":
        pick(seen_activities(who), record, "activity")
    else:
        raise Missing("not_found", facts={"what": "kind"})
    return Place(column=kind, record=record)


def files_of(place: Place) -> QuerySet[KeptFile]:
    """What lies there; with an order, what came with its offers as well."""
    here = Q(**{place.column: place.record})
    if place.column == "order":
        here |= Q(revision__acceptances__order=place.record)
    return (
        KeptFile.objects.filter(here, removed_at=None)
        .select_related("added_by", "revision__quote")
        .distinct()
    )


def seen_by(who: User) -> QuerySet[KeptFile]:
    """Every file of a record that a person may see."""
    orders = Order.objects.filter(read_for_fulfilment(who))
    return KeptFile.objects.filter(
        owned(who, "customer__owner")
        | owned(who, "deal__owner")
        | Q(deal__in=Helper.objects.filter(person=who).values("deal"))
        | owned(who, "revision__quote__owner")
        | Q(activity__in=seen_activities(who))
        | Q(order__in=orders)
        | Q(revision__acceptances__order__in=orders)
    ).distinct()


def with_paper(revision: Revision) -> QuerySet[KeptFile]:
    """What the buyer of a revision gets beside the paper."""
    return revision.files.filter(with_paper=True, removed_at=None)
