"""Stops of Today from the diary: what is due, what a colleague asks for, what colleagues let one know."""

from collections.abc import Collection
from datetime import date

from django.db.models import Q
from django.utils import timezone

from api.stops import DueStop
from apps.diary.models import FOLLOW_UP, Activity, Told
from apps.people.access import owned, owns
from apps.people.models import User

MOST = 30


def follow_up_stops(person: User, on: date, helped: Collection[int]) -> list[DueStop]:
    """What is due; and what a colleague asks of this person, whenever it is due. One query."""
    rows = (
        Activity.objects.filter(owned(person), kind=FOLLOW_UP, done_at__isnull=True)
        .filter(Q(due_on__lte=on) | Q(owner=person, asked_by__isnull=False))
        .select_related("customer", "deal", "asked_by")
        .only(
            *("text", "due_on", "version", "customer__name", "deal__title"),
            *("deal__owner_id", "customer__owner_id"),
            *("asked_by__first_name", "asked_by__last_name", "asked_by__username"),
        )
        .order_by("due_on", "pk")[:MOST]
    )
    return [
        DueStop(
            kind="follow_up",
            title=row.text,
            customer=row.customer.name,
            on=row.due_on,
            days=(on - row.due_on).days if row.due_on else 0,
            amount=None,
            currency="",
            detail=row.deal.title if row.deal else "",
            to=_place_of(row, person, helped) or f"/diary?day={row.due_on}",
            who=row.asked_by.name if row.asked_by else "",
            activity_id=row.pk,
            version=row.version,
        )
        for row in rows
    ]


def told_stops(person: User, on: date, helped: Collection[int]) -> list[DueStop]:
    """Where this person was named, what became of what they asked for; until they have seen it. One query."""
    rows = (
        Told.objects.filter(to=person, seen_at=None)
        .select_related("who", "activity__customer", "activity__deal")
        .only(
            *("what", "at", "word", "who__first_name", "who__last_name", "who__username"),
            *("activity__text", "activity__due_on", "activity__customer__name"),
            *("activity__customer__owner_id", "activity__deal__owner_id"),
        )
        .order_by("-at", "-pk")[:MOST]
    )
    return [
        DueStop(
            kind=f"told_{row.what}",
            title=row.activity.text,
            customer=row.activity.customer.name,
            on=row.activity.due_on,
            days=(on - timezone.localdate(row.at)).days,
            amount=None,
            currency="",
            detail=row.word,
            to=_place_of(row.activity, person, helped),
            who=row.who.name,
            told_id=row.pk,
        )
        for row in rows
    ]


def _place_of(row: Activity, person: User, helped: Collection[int]) -> str:
    """The record that it is of; nothing for a colleague who sees neither the deal nor the customer."""
    about = row.deal or row.customer
    if owns(person, about.owner_id) or (row.deal_id and row.deal_id in helped):
        return f"/deals/{row.deal_id}" if row.deal_id else f"/customers/{row.customer_id}"
    return ""
