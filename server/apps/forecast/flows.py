"""Targets are set: by the lead for the team, by an administrator for all."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from django.db import transaction

from apps.errors import Missing, check_version
from apps.forecast.models import Target
from apps.forecast.queries import people_of
from apps.journal.flows import record_changes
from apps.people.access import signs
from apps.people.models import User
from routecore.casefile.words import plain


@dataclass(frozen=True, slots=True, kw_only=True)
class Aim:
    """What somebody is to win in the month that begins on this day; None takes the target away.

    ``version`` is that of the target that was seen, 0 where there was none.
    """

    owner_id: int
    month: date
    amount: Decimal | None
    version: int


@transaction.atomic
def set_targets(who: User, rows: Sequence[Aim]) -> None:
    """All of them, or none where one was changed by somebody else; recorded by person and month."""
    signs(who)
    wanted = {row.owner_id for row in rows}
    people = {person.pk: person for person in people_of(who).filter(pk__in=wanted)}
    if len(people) < len(wanted):
        raise Missing("not_found", facts={"what": "person"})
    months = {row.month for row in rows}
    # In one order, whoever sets them: no two wait for each other.
    known = {
        (target.owner_id, target.month): target
        for target in Target.objects.select_for_update()
        .filter(owner__in=wanted, month__in=months)
        .order_by("month", "owner_id")
    }
    for row in sorted(rows, key=lambda each: (each.month, each.owner_id)):
        _set(who, row, known.get((row.owner_id, row.month)))


def _set(who: User, row: Aim, target: Target | None) -> None:
    check_version(target.version if target else 0, row.version, "target")
    before = target.amount if target else None
    if before == row.amount:
        return
    if target is None:
        Target.objects.create(owner_id=row.owner_id, month=row.month, amount=row.amount)
    elif row.amount is None:
        target.delete()
    else:
        target.amount, target.version = row.amount, target.version + 1
        target.save()
    name = f"{row.month:%Y-%m}"
    record_changes(who, "target", row.owner_id, {name: (plain(before, 2), plain(row.amount, 2))})
