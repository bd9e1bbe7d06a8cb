"""How deals stood at a moment, and whose deals are looked at."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime

from django.db.models import Q
from django.utils import timezone

from apps.people.access import members_of
from apps.people.models import ADMIN, LEAD, User


@dataclass(frozen=True, slots=True, kw_only=True)
class View:
    """Whose deals are looked at: of these people (None: of everybody), of one confidence, of some customers (None: of
    all)."""

    owners: frozenset[int] | None
    confidence: str = ""
    customers: frozenset[int] | None = None

    @property
    def whole(self) -> bool:
        """Whether it is of all deals of these people."""
        return not self.confidence and self.customers is None

    @property
    def of_seen(self) -> Q:
        """The same for a query of how deals stood."""
        return self._condition("deal__customer_id__among")

    @property
    def of_deals(self) -> Q:
        """The same for a query of how they stand."""
        return self._condition("customer_id__among")

    def _condition(self, customers: str) -> Q:
        found = Q() if self.owners is None else Q(owner_id__in=sorted(self.owners))
        if self.confidence:
            found &= Q(confidence=self.confidence)
        return found if self.customers is None else found & Q(**{customers: sorted(self.customers)})

    def counts(self, owner: int, confidence: str) -> bool:
        """Whether a deal is in it."""
        mine = self.owners is None or owner in self.owners
        return mine and (not self.confidence or confidence == self.confidence)


def view_of(
    who: User,
    *,
    owner: int | None,
    team: int | None = None,
    confidence: str = "",
    customers: Iterable[int] | None = None,
) -> View:
    """What this person may see, narrowed to somebody's, to a team's, to some customers'."""
    of = None if customers is None else frozenset(customers)
    return View(owners=_owners(who, owner, team), confidence=confidence, customers=of)


def _owners(who: User, owner: int | None, team: int | None) -> frozenset[int] | None:
    allowed: frozenset[int] | None
    if who.role == ADMIN:
        allowed = None
    else:
        allowed = frozenset(who.team_members if who.role == LEAD and who.team_id else [who.pk])
    for chosen in (
        frozenset([owner]) if owner else None,
        frozenset(members_of(team)) if team else None,
    ):
        if chosen is not None:
            allowed = chosen if allowed is None else chosen & allowed
    return allowed


def at(moment: datetime) -> Q:
    """How deals stood at the moment of a snapshot."""
    return Q(since__lte=moment, until__gt=moment)


def day_of(moment: datetime) -> date:
    """Its day by the house's clock."""
    return timezone.localdate(moment)
