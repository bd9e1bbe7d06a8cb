"""What people say they will win: what each commits to, and the lead's judgement of it. Earlier words stay."""

from collections.abc import Collection, Sequence
from datetime import date, datetime, time
from decimal import Decimal

from django.db import transaction
from django.utils import timezone

from apps.errors import Forbidden, Invalid, Missing, check_version
from apps.forecast.models import Word
from apps.forecast.targets import ZERO, people_of
from apps.people.access import sells, signs
from apps.people.models import User


@transaction.atomic
def say_word(
    who: User,
    *,
    owner_id: int,
    month: date,
    amount: Decimal | None,
    reason: str,
    judged: bool,
    seen: int,
    now: datetime,
) -> Word:
    """Commit oneself, or judge what somebody of the team will win; ``seen`` is the word that was there, 0 for none."""
    sells(who)
    owner = people_of(who).filter(pk=owner_id).first()
    if owner is None:
        raise Missing("not_found", facts={"what": "person"})
    reason = " ".join(reason.split())
    if judged:
        signs(who)
        if amount is not None and not reason:
            raise Invalid("reason_needed", path="reason")
    elif owner.pk != who.pk:
        raise Forbidden("not_yours", path="owner_id")
    if month_over(month, timezone.localdate(now)):
        raise Invalid("date_gone_by", path="month")
    # One after the other: two tabs of a person do not pass each other.
    list(User.objects.select_for_update().filter(pk=owner.pk).values_list("pk"))
    last = Word.objects.filter(owner=owner, month=month, judged=judged).order_by("at", "pk").last()
    check_version(last.pk if last else 0, seen, "word")
    return Word.objects.create(
        owner=owner, month=month, judged=judged, amount=amount, reason=reason, who=who, at=now
    )


def month_over(month: date, today: date) -> bool:
    """Whether the month that begins on this day is over."""
    return month < today.replace(day=1)


def newest_words(
    owners: Collection[int], month: date
) -> dict[int, tuple[Word | None, Word | None]]:
    """By person, the newest commitment and judgement, taken back or not. One query."""
    rows = Word.objects.filter(owner__in=list(owners), month=month).select_related("who")
    found: dict[int, tuple[Word | None, Word | None]] = {}
    for word in rows.order_by("at", "pk"):
        committed, judged = found.get(word.owner_id, (None, None))
        found[word.owner_id] = (committed, word) if word.judged else (word, judged)
    return found


def said_until(owners: Collection[int] | None, months: Sequence[date]) -> dict[date, Decimal]:
    """What was committed to when each month's first day ended, together; months without a word are left out.

    One query.
    """
    rows = Word.objects.filter(month__in=months, judged=False).order_by("at", "pk")
    if owners is not None:
        rows = rows.filter(owner__in=list(owners))
    stood: dict[tuple[date, int], Decimal | None] = {}
    for month, owner, amount, at in rows.values_list("month", "owner_id", "amount", "at"):
        if at <= timezone.make_aware(datetime.combine(month, time.max)):
            stood[month, owner] = amount
    found: dict[date, Decimal] = {}
    for (month, _), amount in stood.items():
        if amount is not None:
            found[month] = found.get(month, ZERO) + amount
    return found
