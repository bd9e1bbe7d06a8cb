"""A month by person: what was won, what may be won, the target, what was said."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from apps.deals.models import OPEN, DealQuerySet
from apps.deals.queries import won_within
from apps.forecast.models import Target, Word
from apps.forecast.targets import ZERO, people_of
from apps.forecast.words import newest_words
from apps.people.models import User
from routecore.dates import month_end
from routecore.forecast import Chance, Spread, spread_of


@dataclass(frozen=True, slots=True, kw_only=True)
class Person:
    """Somebody's month; words that were taken back have no amount."""

    person: User
    won: Decimal
    spread: Spread
    target: Decimal | None
    committed: Word | None
    judged: Word | None

    def reached(self, share: float) -> Decimal:
        """What is not exceeded with this probability, with what is won already."""
        return self.won + self.spread.quantile(share)


def month_of_people(who: User, rows: DealQuerySet, month: date, today: date) -> list[Person]:
    """Of everybody whose targets this person sees, by name. Five queries."""
    people = list(people_of(who))
    last = month_end(month)
    open_: dict[int, list[Chance]] = {}
    found = rows.filter(outcome=OPEN, decision_on__range=(max(month, today), last)).order_by()
    for owner, amount, percent in found.values_list("owner", "amount", "probability"):
        chance = Chance(amount=amount, probability_percent=percent)
        open_.setdefault(owner, []).append(chance)
    won: dict[int, Decimal] = {}
    for owner, amount in won_within(rows, month, last).order_by().values_list("owner", "amount"):
        won[owner] = won.get(owner, ZERO) + amount
    keys = [person.pk for person in people]
    targets = dict(
        Target.objects.filter(owner__in=keys, month=month).values_list("owner", "amount")
    )
    words = newest_words(keys, month)
    return [
        Person(
            person=person,
            won=won.get(person.pk, ZERO),
            spread=spread_of(open_.get(person.pk, [])),
            target=targets.get(person.pk),
            committed=words.get(person.pk, (None, None))[0],
            judged=words.get(person.pk, (None, None))[1],
        )
        for person in people
    ]
