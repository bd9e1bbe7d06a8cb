"""Whose targets there are, which count beside a view of the deals, and what they were a year before."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal

from django.db.models import Q, QuerySet
from django.utils import timezone

from apps.catalogue.models import ItemGroup
from apps.deals.models import Deal
from apps.deals.queries import won_within
from apps.forecast.goods import goods_of
from apps.forecast.models import Target
from apps.people.access import teams_of
from apps.people.models import ADMIN, LEAD, REP, Team, User
from routecore.dates import month_end, months_back
from routecore.forecast import UNSAID, Aimed, aimed_by_month

ZERO = Decimal(0)


@dataclass(frozen=True, slots=True, order=True)
class Subject:
    """Who is to win it: a person, a team, or a team with the items of one group. What does not count is 0."""

    team: int = 0
    owner: int = 0
    group: int = 0

    @property
    def one(self) -> bool:
        """Whether it is either a person or a team, and a group of a team's only."""
        return bool(self.owner) != bool(self.team) and not (self.owner and self.group)


#: What is to be won, by whom and in which month.
Aims = dict[tuple[Subject, date], Decimal]


@dataclass(frozen=True, slots=True, kw_only=True)
class Counted:
    """Whose targets stand beside a view: of these people, each with the team; ``whole`` are the teams of which nobody
    is left out."""

    people: Mapping[int, int | None] = field(default_factory=dict)
    whole: frozenset[int] = frozenset()


def people_of(who: User) -> QuerySet[User]:
    """Whose targets this person sees: those who sell, of the team, or oneself."""
    people = User.objects.filter(role__in=(REP, LEAD), is_active=True)
    people = people.order_by("first_name", "last_name", "pk")
    if who.role == ADMIN:
        return people
    return people.filter(pk__in=who.team_members if who.role == LEAD and who.team_id else [who.pk])


def counted_of(who: User, *, owner: int | None = None, team: int | None = None) -> Counted:
    """Whose targets count where somebody's, a team's or all deals are looked at. One query, two for all teams."""
    people = people_of(who)
    if owner:
        people = people.filter(pk=owner)
    if team:
        people = people.filter(team=team)
    known = dict(people.values_list("pk", "team_id"))
    if owner or who.role not in (ADMIN, LEAD):
        return Counted(people=known)
    if who.role == LEAD:
        mine = frozenset({who.team_id} if who.team_id else ())
        return Counted(people=known, whole=mine & {team} if team else mine)
    whole = {team} if team else Team.objects.values_list("pk", flat=True)
    return Counted(people=known, whole=frozenset(whole))


def targets_within(counted: Counted, first: date, last: date) -> dict[date, Decimal]:
    """What these people are to win together, by month; a whole team by its own target where there is one. One query."""
    return aimed_by_month(_aimed(counted, first, last), whole=counted.whole)


def targets_by_team(counted: Counted, first: date, last: date) -> dict[int, Decimal]:
    """What each whole team is to win on these days' months, where that is set. One query."""
    rows = _aimed(counted, first, last)
    found: dict[int, Decimal] = {}
    for team in counted.whole:
        months = aimed_by_month((row for row in rows if row.team == team), whole=counted.whole)
        if months:
            found[team] = sum(months.values(), ZERO)
    return found


def _aimed(counted: Counted, first: date, last: date) -> list[Aimed]:
    mine = Q(owner__in=list(counted.people))
    if counted.whole:
        mine |= Q(team__in=list(counted.whole), group__isnull=True)
    found = Target.objects.filter(mine, month__range=(first, last)).order_by()
    return [
        Aimed(
            month=month,
            team=counted.people[owner] if owner else team,
            person=owner,
            amount=amount,
        )
        for month, owner, team, amount in found.values_list(
            "month", "owner_id", "team_id", "amount"
        )
    ]


def group_targets(counted: Counted, first: date, last: date) -> dict[int, Decimal]:
    """By item group, what the whole teams are to win with it on these days' months. One query."""
    rows = Target.objects.filter(
        team__in=list(counted.whole), group__isnull=False, month__range=(first, last)
    )
    found: dict[int, Decimal] = {}
    for group, amount in rows.order_by().values_list("group_id", "amount"):
        found[group] = found.get(group, ZERO) + amount
    return found


def last_years(who: User, months: Sequence[date]) -> Aims:
    """The targets of the same months a year before, as those of these months. Three queries."""
    before = {months_back(month, 12): month for month in months}
    rows = Target.objects.filter(
        Q(owner__in=people_of(who)) | Q(team__in=teams_of(who)), month__in=list(before)
    )
    read = rows.order_by().values_list("owner_id", "team_id", "group_id", "month", "amount")
    return {
        (Subject(owner=owner or 0, team=team or 0, group=group or 0), before[month]): amount
        for owner, team, group, month, amount in read
    }


def won_a_year_before(who: User, months: Sequence[date]) -> Aims:
    """What was won in the same months a year before, as targets of these: by person, by team, by a team's item groups
    as the lines of its deals say. Nine queries."""
    before = {months_back(month, 12): month for month in months}
    people = {person.pk for person in people_of(who)}
    teams = {team.pk for team in teams_of(who)}
    won = won_within(
        Deal.objects.filter(Q(owner__in=people) | Q(owner__team__in=teams)),
        min(before),
        month_end(max(before)),
    )
    goods = goods_of(won)
    found: Aims = {}
    read = won.order_by().values_list("pk", "owner_id", "owner__team_id", "closed_at", "amount")
    for deal, owner, team, at, amount in read:
        month = before[timezone.localdate(at).replace(day=1)]
        parts = [(Subject(owner=owner), amount)] if owner in people else []
        if team in teams:
            parts.append((Subject(team=team), amount))
            parts += [
                (Subject(team=team, group=int(group)), cell.amount)
                for group, cell in goods[deal].items()
                if group != UNSAID
            ]
        for subject, part in parts:
            found[subject, month] = found.get((subject, month), ZERO) + part
    return found


def groups_with_items() -> QuerySet[ItemGroup]:
    """The groups that a target may be of, by name."""
    return ItemGroup.objects.order_by("name", "pk")


def names_of(who: User) -> Iterable[tuple[Subject, str, str, str]]:
    """Everybody whose target this person sees: the person's, the team's and the group's name. Three queries."""
    for person in people_of(who):
        yield Subject(owner=person.pk), person.name, "", ""
    groups: list[ItemGroup] | None = None
    for team in teams_of(who):
        groups = list(groups_with_items()) if groups is None else groups
        yield Subject(team=team.pk), "", team.name, ""
        for group in groups:
            yield Subject(team=team.pk, group=group.pk), "", team.name, group.name
