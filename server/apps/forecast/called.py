"""How likely open deals are called, and how they are thought of where somebody asks "what if"."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal

from django.db.models import Q

from apps.deals.models import OPEN, Deal, DealQuerySet
from apps.forecast.learning import learnt_of, learnt_percent
from routecore.forecast import Chance, Experience, Learnt


@dataclass(frozen=True, slots=True, kw_only=True)
class Thought:
    """How a deal is thought of, instead of how it stands: left out, on another day, likelier, larger.

    None: as it stands.
    """

    out: bool = False
    decision_on: date | None = None
    percent: Decimal | None = None
    amount: Decimal | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Called:
    """How likely deals are called: as they say themselves, or, with ``known``, as earlier ones teach, where the rep has
    said nothing; ``season_percent``: how strong a season is that all of them share; ``thoughts`` by the deals' keys.
    """

    season_percent: Decimal = Decimal(0)
    known: Experience | None = None
    thoughts: Mapping[int, Thought] = field(default_factory=dict)

    def thought(self, deal: int, on: date, chance: Chance) -> tuple[date, Chance] | None:
        """The day and the chance that count for it; None where it is left out."""
        mine = self.thoughts.get(deal)
        if mine is None:
            return on, chance
        if mine.out:
            return None
        amount = chance.amount if mine.amount is None else mine.amount
        percent = chance.probability_percent if mine.percent is None else mine.percent
        return mine.decision_on or on, Chance(amount=amount, probability_percent=percent)

    def learnt(self, deal: Deal) -> Learnt | None:
        """What earlier deals say of it, where that counts."""
        own = deal.own_probability_percent is not None
        return None if own or self.known is None else learnt_of(self.known, deal)


def asked_for(rows: DealQuerySet, first: date, last: date, called: Called) -> DealQuerySet:
    """The open deals that are decided on these days, and those that are thought of."""
    days = Q(decision_on__range=(first, last))
    if called.thoughts:
        days |= Q(pk__among=sorted(called.thoughts))
    return rows.filter(days, outcome=OPEN)


def open_chances(
    rows: DealQuerySet, today: date, last: date, called: Called
) -> list[tuple[date, Chance]]:
    """The day and the chance of each open deal that is decided from today until ``last``. One query."""
    found = asked_for(rows, today, last, called).order_by()
    if called.known is None and not called.thoughts:
        return [
            (on, Chance(amount=amount, probability_percent=percent))
            for on, amount, percent in found.values_list("decision_on", "amount", "probability")
        ]
    read = (
        *("pk", "decision_on", "amount", "probability"),
        *("own_probability_percent", "stage__code", "owner"),
    )
    told = []
    for pk, on, amount, percent, own, stage, owner in found.values_list(*read):
        learnt = None
        if called.known and own is None:
            learnt = learnt_percent(called.known, stage, owner, amount)
        chance = Chance(amount=amount, probability_percent=percent if learnt is None else learnt)
        thought = called.thought(pk, on, chance)
        if thought and thought[0] >= today:
            told.append(thought)
    return told
