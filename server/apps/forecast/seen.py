"""How deals stood at a moment, and whose deals are looked at."""

from dataclasses import dataclass
from datetime import date, datetime

from django.db.models import Q
from django.utils import timezone

from apps.people.models import ADMIN, LEAD, User


@dataclass(frozen=True, slots=True, kw_only=True)
class View:
    """Whose deals are looked at: of these people (None: of everybody), of one confidence."""

    owners: frozenset[int] | None
    confidence: str = ""

    @property
    def condition(self) -> Q:
        """The same for a query."""
        of = Q() if self.owners is None else Q(owner_id__in=sorted(self.owners))
        return of & Q(confidence=self.confidence) if self.confidence else of

    def counts(self, owner: int, confidence: str) -> bool:
        """Whether a deal is in it."""
        mine = self.owners is None or owner in self.owners
        return mine and (not self.confidence or confidence == self.confidence)


def view_of(who: User, owner: int | None, confidence: str) -> View:
    """What this person may see, narrowed to somebody's."""
    if who.role == ADMIN:
        allowed = None
    else:
        allowed = frozenset(who.team_members if who.role == LEAD and who.team_id else [who.pk])
    if owner:
        chosen = frozenset([owner])
        return View(owners=chosen if allowed is None else chosen & allowed, confidence=confidence)
    return View(owners=allowed, confidence=confidence)


def at(moment: datetime) -> Q:
    """How deals stood at the moment of a snapshot."""
    return Q(since__lte=moment, until__gt=moment)


def day_of(moment: datetime) -> date:
    """Its day by the house's clock."""
    return timezone.localdate(moment)
