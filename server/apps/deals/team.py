"""The team of a deal: who works on it beside its owner."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from django.db import transaction

from apps.deals.models import Deal, Helper
from apps.errors import Invalid, Missing, check_version
from apps.journal.flows import record_changes
from apps.people.access import colleagues_of, owned, pick_locked, sells
from apps.people.models import User

MOST = 12


@dataclass(frozen=True, slots=True, kw_only=True)
class Member:
    """A colleague, and what they do in a few words."""

    person_id: int
    part: str = ""


@transaction.atomic
def set_team(who: User, deal_id: int, version: int, rows: Sequence[Member]) -> Deal:
    """These work on the deal beside its owner now, and nobody else; recorded with the deal.

    Colleagues of the one who sets it; whoever is in it already may stay. Set by whom the deal is open to, not by its
    team.
    """
    sells(who)
    deal = pick_locked(Deal.objects.filter(owned(who)), deal_id, "deal")
    check_version(deal.version, version, "deal")
    wanted = {row.person_id: " ".join(row.part.split()) for row in rows}
    if len(wanted) < len(rows):
        raise Invalid("double_id", path="rows")
    if len(rows) > MOST:
        raise Invalid("too_many", path="rows", facts={"what": "people", "most": MOST})
    if deal.owner_id in wanted:
        raise Invalid("owner_helps", path="rows")
    there = {row.person_id: row for row in deal.helpers.select_related("person")}
    people = {person.pk: person for person in colleagues_of(who).filter(pk__in=wanted)}
    people |= {key: row.person for key, row in there.items() if key in wanted}
    if len(people) < len(wanted):
        raise Missing("not_found", facts={"what": "person"})
    before = _told((row.person.name, row.part) for row in there.values())
    deal.helpers.all().delete()
    Helper.objects.bulk_create(
        Helper(deal=deal, person_id=key, part=part) for key, part in wanted.items()
    )
    deal.version += 1
    deal.save()
    after = _told((people[key].name, part) for key, part in wanted.items())
    record_changes(who, "deal", deal.pk, {"team": (before, after)})
    return deal


def _told(rows: Iterable[tuple[str, str]]) -> str:
    return ", ".join(f"{name} ({part})" if part else name for name, part in rows)
