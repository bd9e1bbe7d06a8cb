"""Noting what was done, planning what is to do, giving it to a colleague and handing it back."""

from dataclasses import dataclass, replace
from datetime import date, datetime, time

from django.db import transaction
from django.db.models import F, Max, Q
from django.utils import timezone

from apps.customers.models import Contact, Customer
from apps.deals.models import Deal
from apps.deals.queries import seen_deals
from apps.diary.models import (
    FOLLOW_UP,
    HANDED_BACK,
    KINDS,
    MENTIONED,
    QUOTE,
    WAS_DONE,
    WAS_MOVED,
    Activity,
    Told,
)
from apps.errors import Invalid, check_version
from apps.people.access import colleagues_of, owned, pick, pick_locked, sells
from apps.people.models import User
from routecore.mentions import mentioned

#: An activity may last so long.
MOST_MINUTES = 24 * 60


@dataclass(frozen=True, slots=True, kw_only=True)
class NotedOn:
    """The document that something is noted at; it says whose customer and deal that is."""

    about: str
    record: int
    number: str
    customer: Customer
    deal: Deal | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Noted:
    """What was done, or is to be: a follow-up on ``due_on``, all else on ``day`` (today where it is not said).

    ``owner_id``: the colleague who is asked to do it. ``visit``: the follow-up is one; ``asks``: it is done once the
    quote that it is noted at is answered.
    """

    kind: str
    text: str
    deal_id: int | None = None
    customer_id: int | None = None
    contact_id: int | None = None
    due_on: date | None = None
    day: date | None = None
    starts: time | None = None
    minutes: int | None = None
    where: str = ""
    owner_id: int | None = None
    asks: bool = False
    visit: bool = False


@transaction.atomic
def add_activity(
    who: User, noted: Noted, then: Noted | None = None, *, at: NotedOn | None = None
) -> Activity:
    """A call, visit or note, or a follow-up with its day; on a deal also by its team. ``then``: the follow-up that
    comes next, about the same. ``at``: a document that this person sells.

    Colleagues who are named in it are told.
    """
    sells(who)
    _refuse(noted)
    customer, deal = (at.customer, at.deal) if at else _with_whom(who, noted)
    people = Contact.objects.filter(customer=customer)
    owner = _asked(who, noted)
    made = Activity.objects.create(
        kind=noted.kind,
        customer=customer,
        deal=deal,
        contact=pick(people, noted.contact_id, "contact") if noted.contact_id else None,
        owner=owner,
        asked_by=who if owner != who else None,
        text=noted.text.strip(),
        about=at.about if at else "",
        record=at.record if at else None,
        document=at.number if at else "",
        asks=noted.asks,
        day=noted.due_on or noted.day or timezone.localdate(),
        due_on=noted.due_on,
        starts=noted.starts,
        minutes=noted.minutes,
        where=noted.where.strip(),
        visit=noted.visit,
        place=_last_place(owner, noted) + 1 if noted.visit else 0,
    )
    _tell_mentioned(who, made)
    if then is not None:
        _next(who, made, then, at)
    return made


def _with_whom(who: User, noted: Noted) -> tuple[Customer, Deal | None]:
    deal = pick(seen_deals(who), noted.deal_id, "deal") if noted.deal_id else None
    if deal:
        return deal.customer, deal
    if noted.customer_id is None:
        raise Invalid("required", path="customer_id")
    return pick(Customer.objects.filter(owned(who)), noted.customer_id, "customer"), None


def _refuse(noted: Noted) -> None:
    if noted.kind not in KINDS:
        raise Invalid("unknown_choice", path="kind", facts={"what": "activity", "kinds": KINDS})
    if not noted.text.strip():
        raise Invalid("required", path="text", facts={"what": "activity"})
    if noted.kind == FOLLOW_UP and noted.due_on is None:
        raise Invalid("required", path="due_on")
    if noted.kind != FOLLOW_UP and noted.due_on is not None:
        raise Invalid("not_here", path="due_on", facts={"what": "due_on"})
    if noted.kind != FOLLOW_UP and noted.visit:
        raise Invalid("not_here", path="visit", facts={"what": "visit"})
    if noted.kind != FOLLOW_UP and noted.day and noted.day > timezone.localdate():
        raise Invalid("in_the_future", path="day", facts={"what": "activity"})


def _last_place(owner: User, noted: Noted) -> int:
    """The place of the last visit of its day."""
    mine = Activity.objects.filter(owner=owner, kind=FOLLOW_UP, visit=True, due_on=noted.due_on)
    return int(mine.aggregate(last=Max("place"))["last"] or 0)


def _asked(who: User, noted: Noted) -> User:
    """Whose it is: only what is to be done is given to somebody else."""
    if noted.owner_id is None or noted.owner_id == who.pk:
        return who
    if noted.kind != FOLLOW_UP:
        raise Invalid("not_here", path="owner_id", facts={"what": "owner_id"})
    return pick(colleagues_of(who), noted.owner_id, "person")


def _next(who: User, made: Activity, then: Noted, at: NotedOn | None) -> None:
    asked = replace(
        then,
        kind=FOLLOW_UP,
        deal_id=made.deal_id,
        customer_id=made.customer_id,
        contact_id=made.contact_id,
    )
    try:
        add_activity(who, asked, at=at)
    except Invalid as error:
        error.path = f"then.{error.path}"
        raise


def _tell_mentioned(who: User, made: Activity) -> None:
    if "@" not in made.text:
        return
    people = {row.pk: row.name for row in colleagues_of(who) if row.pk != who.pk}
    Told.objects.bulk_create(
        Told(activity=made, who=who, to_id=key, what=MENTIONED, at=timezone.now())
        for key in mentioned(made.text, people)
        if key != made.owner_id
    )


def settle_follow_ups(quote: int, *, now: datetime) -> int:
    """Mark done what still asks about a quote that was answered; how many there were.

    Runs inside the transaction of what answered it.
    """
    rows = Activity.objects.filter(record=quote, about=QUOTE, asks=True, done_at__isnull=True)
    return rows.update(done_at=now, version=F("version") + 1)


@dataclass(frozen=True, slots=True, kw_only=True)
class FollowUpChanges:
    """What becomes of a follow-up; None leaves it as it is. ``back``: it is handed back to who asked. ``word``: what
    is told to them along with it."""

    done: bool | None = None
    due_on: date | None = None
    starts: time | None = None
    owner_id: int | None = None
    back: bool = False
    word: str = ""


@transaction.atomic
def change_follow_up(
    who: User, activity_id: int, version: int, changes: FollowUpChanges, *, now: datetime
) -> Activity:
    """Mark a follow-up done or open again, move it, give it to a colleague of the team, or hand it back.

    It is changed by whose it is, and by whose the deal or the customer is. Who asked for it is told what became of it,
    and where it was not so after all, no more.
    """
    sells(who)
    mine = owned(who) | owned(who, "deal__owner") | owned(who, "customer__owner")
    rows = Activity.objects.filter(mine, kind=FOLLOW_UP)
    activity = pick_locked(rows, activity_id, "follow-up")
    check_version(activity.version, version, "follow-up")
    if changes.back:
        _hand_back(who, activity, changes.word, now)
    if changes.done is not None:
        activity.done_at = now if changes.done else None
        _answer(who, activity, WAS_DONE if changes.done else "", changes.word, now)
    if changes.due_on is not None and changes.due_on != activity.due_on:
        activity.due_on = activity.day = changes.due_on
        _answer(who, activity, WAS_MOVED, changes.word, now)
    if changes.starts is not None:
        activity.starts = changes.starts
    if changes.owner_id is not None and changes.owner_id != activity.owner_id:
        _give(who, activity, changes.owner_id)
    activity.version += 1
    activity.save()
    return activity


def _hand_back(who: User, activity: Activity, word: str, now: datetime) -> None:
    if activity.asked_by is None or activity.done_at is not None:
        raise Invalid("nobody_asked", path="back")
    _answer(who, activity, HANDED_BACK, word, now)
    activity.owner, activity.asked_by = activity.asked_by, None


def _give(who: User, activity: Activity, owner_id: int) -> None:
    owner = pick(colleagues_of(who), owner_id, "person")
    # Given back to who asked for it, nobody asks for it any more; given on, it is still theirs to hear of.
    if owner == activity.asked_by:
        activity.asked_by = None
    elif activity.asked_by is None and owner != who:
        activity.asked_by = who
    activity.owner = owner


def _answer(who: User, activity: Activity, what: str, word: str, now: datetime) -> None:
    """Tell who asked; what they have not seen of the same before is taken back."""
    asked = activity.asked_by
    if asked is None or asked == who:
        return
    Told.objects.filter(~Q(what=MENTIONED), activity=activity, to=asked, seen_at=None).delete()
    if what:
        Told.objects.create(activity=activity, who=who, to=asked, what=what, word=word, at=now)


def see(who: User, told_id: int, now: datetime) -> None:
    """One has seen what one was told; again is the same."""
    rows = Told.objects.filter(to=who)
    row = pick(rows, told_id, "activity")
    rows.filter(pk=row.pk, seen_at=None).update(seen_at=now)
