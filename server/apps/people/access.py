"""Who sees and changes which records. Every list and every write asks here."""

from typing import TypeVar

from django.db.models import Model, Q, QuerySet

from apps.errors import Forbidden, Missing
from apps.people.models import ADMIN, CLERK, LEAD, REP, Team, User

Record = TypeVar("Record", bound=Model)


def owned(who: User, path: str = "owner") -> Q:
    """The records this person may see, where ``path`` leads to their owner.

    A rep sees their own, a lead the team's, an administrator all. A clerk sees none by this rule.
    """
    if who.role == ADMIN:
        return Q()
    if who.role == LEAD and who.team_id:
        # As numbers, not as a join: an index of owners and days is read in its order.
        return Q(**{f"{path}_id__among": who.team_members})
    if who.role in (REP, LEAD):
        return Q(**{f"{path}_id": who.pk})
    return Q(pk__in=[])


def owns(who: User, owner_id: int) -> bool:
    """Whether ``owned`` lets a record of this owner through; a lead's team is read once."""
    if who.role == ADMIN:
        return True
    if who.role == LEAD and who.team_id:
        return owner_id in who.team_members
    return who.role in (REP, LEAD) and owner_id == who.pk


def read_for_fulfilment(who: User, path: str = "owner") -> Q:
    """As ``owned``, and all of them for the back office: customers, orders, handovers."""
    return Q() if who.role == CLERK else owned(who, path)


def sells(who: User) -> None:
    """Deals, quotes and orders are made by reps, leads and administrators."""
    if who.role not in (REP, LEAD, ADMIN):
        raise Forbidden("not_for_role", facts={"what": "sell"})


def signs_for(who: User) -> bool:
    """Whether ``signs`` lets this person."""
    return who.role in (LEAD, ADMIN)


def signs(who: User) -> None:
    """Terms, limits, targets and whose customer it is are the lead's and the administrators' to decide."""
    if not signs_for(who):
        raise Forbidden("not_for_role", facts={"what": "terms"})


def fulfils(who: User) -> None:
    """Handovers are sent again by the back office, the lead and administrators."""
    if who.role not in (CLERK, LEAD, ADMIN):
        raise Forbidden("not_for_role", facts={"what": "fulfil"})


def keeps_prices(who: User, what: str = "prices") -> None:
    """Refuse everybody but an administrator; ``what`` is kept: ``prices``, ``cases``, ``papers``."""
    if who.role != ADMIN:
        raise Forbidden("not_for_role", facts={"what": what})


def pick(rows: QuerySet[Record], pk: int, what: str) -> Record:
    """The record, or ``Missing`` in words that do not tell whether it exists for somebody else."""
    found = rows.filter(pk=pk).first()
    if found is None:
        raise Missing("not_found", facts={"what": what})
    return found


def pick_locked(rows: QuerySet[Record], pk: int, what: str) -> Record:
    """As ``pick``, with the record locked until the transaction ends.

    The lock is taken on the record alone, then the joined rows are read: MariaDB has no
    ``FOR UPDATE OF``, and a lock on a joined customer would hold up everybody else.
    """
    bare = rows.model._base_manager.select_for_update().filter(pk=pk)
    list(bare.order_by().values_list("pk"))
    return pick(rows, pk, what)


def colleagues_of(who: User) -> QuerySet[User]:
    """Those who sell beside this person, who may be given something to do: of the team, for an administrator all."""
    people = User.objects.filter(is_active=True, role__in=(REP, LEAD))
    if who.role != ADMIN:
        people = people.filter(team_id=who.team_id) if who.team_id else people.filter(pk=who.pk)
    return people.order_by("first_name", "last_name", "pk")


def teams_of(who: User) -> QuerySet[Team]:
    """The teams that this person leads: the lead's own, for an administrator all."""
    teams = Team.objects.order_by("name", "pk")
    if who.role == ADMIN:
        return teams
    return teams.filter(pk=who.team_id if who.role == LEAD else None)


def members_of(team: int) -> list[int]:
    """The keys of a team's people, also of those who left. One query."""
    return list(User.objects.filter(team_id=team).values_list("pk", flat=True))


def new_owner(who: User, owner_id: int | None) -> User:
    """The owner of a new record: oneself, or for a lead somebody of the team."""
    if owner_id is None or owner_id == who.pk:
        return who
    people = User.objects.filter(is_active=True, role__in=(REP, LEAD))
    if who.role == LEAD:
        people = people.filter(team_id=who.team_id)
    elif who.role != ADMIN:
        raise Forbidden("not_yours", path="owner_id")
    return pick(people, owner_id, "person")
