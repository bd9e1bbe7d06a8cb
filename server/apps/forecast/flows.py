"""Targets are set: by the lead for the team and its people, by an administrator for all."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from django.db import transaction

from apps.errors import Missing, check_version
from apps.forecast.models import Target
from apps.forecast.targets import Subject, groups_with_items, people_of
from apps.journal.flows import record_changes
from apps.people.access import signs, teams_of
from apps.people.models import User
from routecore.casefile.words import plain


@dataclass(frozen=True, slots=True, kw_only=True)
class Aim:
    """What somebody is to win in the month that begins on this day; None takes the target away.

    ``version`` is that of the target that was seen, 0 where there was none.
    """

    of: Subject
    month: date
    amount: Decimal | None
    version: int


@transaction.atomic
def set_targets(who: User, rows: Sequence[Aim]) -> None:
    """All of them, or none where one was changed by somebody else; recorded by who is to win it, and month."""
    signs(who)
    _refuse_strangers(who, {row.of for row in rows})
    months = {row.month for row in rows}
    mine = Target.objects.filter(month__in=months)
    # In one order, whoever sets them: no two wait for each other.
    known = {
        (subject_of(target), target.month): target
        for target in mine.select_for_update().order_by("month", "pk")
    }
    for row in sorted(rows, key=lambda each: (each.month, each.of)):
        _set(who, row, known.get((row.of, row.month)))


def subject_of(target: Target) -> Subject:
    """Who is to win it."""
    return Subject(owner=target.owner_id or 0, team=target.team_id or 0, group=target.group_id or 0)


def _refuse_strangers(who: User, wanted: set[Subject]) -> None:
    """Raise ``Missing`` where one is of a person, a team or a group that this person does not see, or that is not."""
    for what, rows, keys in (
        ("person", people_of(who), {each.owner for each in wanted}),
        ("team", teams_of(who), {each.team for each in wanted}),
        ("group", groups_with_items(), {each.group for each in wanted}),
    ):
        keys -= {0}
        if keys and rows.filter(pk__in=keys).count() < len(keys):
            raise Missing("not_found", facts={"what": what})


def _set(who: User, row: Aim, target: Target | None) -> None:
    check_version(target.version if target else 0, row.version, "target")
    before = target.amount if target else None
    if before == row.amount:
        return
    if target is None:
        Target.objects.create(
            owner_id=row.of.owner or None,
            team_id=row.of.team or None,
            group_id=row.of.group or None,
            month=row.month,
            amount=row.amount,
        )
    elif row.amount is None:
        target.delete()
    else:
        target.amount, target.version = row.amount, target.version + 1
        target.save()
    name, record = field_of(row.of, row.month), row.of.owner or row.of.team
    what = "target" if row.of.owner else "team_target"
    record_changes(who, what, record, {name: (plain(before, 2), plain(row.amount, 2))})


def field_of(subject: Subject, month: date) -> str:
    """How the journal names a target of a person or a team: its month, and the group's key after a space."""
    return f"{month:%Y-%m}" + (f" {subject.group}" if subject.group else "")
