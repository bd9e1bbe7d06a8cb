"""Noting what was done, planning what is to do."""

from datetime import date, datetime

from django.db import transaction
from django.db.models import F

from apps.customers.models import Customer
from apps.deals.queries import seen_deals
from apps.diary.models import FOLLOW_UP, KINDS, Activity
from apps.errors import Invalid, check_version
from apps.people.access import colleagues_of, owned, pick, pick_locked, sells
from apps.people.models import User


@transaction.atomic
def add_activity(
    who: User,
    *,
    kind: str,
    text: str,
    deal_id: int | None = None,
    customer_id: int | None = None,
    due_on: date | None = None,
    document: str = "",
) -> Activity:
    """A call, visit or note, or a follow-up with its day; on a deal also by its team."""
    sells(who)
    if kind not in KINDS:
        raise Invalid("unknown_choice", path="kind", facts={"what": "activity", "kinds": KINDS})
    if not text.strip():
        raise Invalid("required", path="text", facts={"what": "activity"})
    if kind == FOLLOW_UP and due_on is None:
        raise Invalid("required", path="due_on")
    deal = pick(seen_deals(who), deal_id, "deal") if deal_id else None
    if deal is None and customer_id is None:
        raise Invalid("required", path="customer_id")
    customer = (
        deal.customer
        if deal
        else pick(Customer.objects.filter(owned(who)), customer_id or 0, "customer")
    )
    return Activity.objects.create(
        kind=kind,
        customer=customer,
        deal=deal,
        owner=who,
        text=text.strip(),
        document=document,
        due_on=due_on if kind == FOLLOW_UP else None,
    )


def settle_follow_ups(document: str, *, now: datetime) -> int:
    """Mark done what still asks about a document that was answered; how many there were.

    Runs inside the transaction of what answered it.
    """
    rows = Activity.objects.filter(document=document, kind=FOLLOW_UP, done_at__isnull=True)
    return rows.update(done_at=now, version=F("version") + 1)


@transaction.atomic
def change_follow_up(
    who: User,
    activity_id: int,
    version: int,
    *,
    now: datetime,
    done: bool | None = None,
    due_on: date | None = None,
    owner_id: int | None = None,
) -> Activity:
    """Mark a follow-up done or open again, move its day, or give it to a colleague of the team.

    It is changed by whose it is, and by whose the deal or the customer is.
    """
    sells(who)
    mine = owned(who) | owned(who, "deal__owner") | owned(who, "customer__owner")
    rows = Activity.objects.filter(mine, kind=FOLLOW_UP)
    activity = pick_locked(rows, activity_id, "follow-up")
    check_version(activity.version, version, "follow-up")
    if done is not None:
        activity.done_at = now if done else None
    if due_on is not None:
        activity.due_on = due_on
    if owner_id is not None and owner_id != activity.owner_id:
        activity.owner = pick(colleagues_of(who), owner_id, "person")
    activity.version += 1
    activity.save()
    return activity
