"""What was won and may be won, month by month, against what is to be won."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal

from django.db.models import QuerySet, Sum
from django.utils import timezone

from apps.deals.models import Deal, DealQuerySet
from apps.deals.queries import won_within
from apps.forecast.called import Called, open_chances
from apps.forecast.models import Target
from apps.people.models import ADMIN, LEAD, REP, User
from routecore.dates import month_end, months_back
from routecore.forecast import Chance, Spread, spread_of

ZERO = Decimal(0)
#: This month and so many after it.
AHEAD = 5


@dataclass(frozen=True, slots=True, kw_only=True)
class Period:
    """A month or a quarter: its days, what was won in it, the open deals that are to be decided in it, the target."""

    first: date
    last: date
    won: Decimal
    count: int
    spread: Spread
    target: Decimal | None

    @property
    def quarter(self) -> bool:
        """Whether it is three months."""
        return self.last - self.first > timedelta(days=31)

    def reached(self, share: float) -> Decimal:
        """What is not exceeded with this probability, with what is won already."""
        return self.won + self.spread.quantile(share)

    @property
    def chance(self) -> float | None:
        """The probability that the target is reached; None without one."""
        return None if self.target is None else self.spread.reaches(self.target - self.won)


def people_of(who: User) -> QuerySet[User]:
    """Whose targets this person sees: those who sell, of the team, or oneself."""
    people = User.objects.filter(role__in=(REP, LEAD), is_active=True)
    people = people.order_by("first_name", "last_name", "pk")
    if who.role == ADMIN:
        return people
    return people.filter(pk__in=who.team_members if who.role == LEAD and who.team_id else [who.pk])


def months_from(first: date, many: int) -> list[date]:
    """The first days of so many months."""
    found = [first.replace(day=1)]
    while len(found) < many:
        found.append(month_end(found[-1]) + timedelta(days=1))
    return found


def quarter_of(day: date) -> tuple[date, date]:
    """The first and the last day of its quarter."""
    first = date(day.year, (day.month - 1) // 3 * 3 + 1, 1)
    return first, month_end(months_from(first, 3)[-1])


def periods_of(
    rows: DealQuerySet, owners: Iterable[int], *, today: date, called: Called
) -> list[Period]:
    """This month and those ahead, then this quarter and the next. Three queries.

    ``rows`` are the deals of a view, open and closed; deals whose day has gone by are in no period.
    """
    months = months_from(today, AHEAD + 1)
    spans = [(month, month_end(month)) for month in months]
    this = quarter_of(today)
    spans += [this, quarter_of(this[1] + timedelta(days=1))]
    first, last = this[0], max(end for _, end in spans)
    open_ = open_chances(rows, today, last, called)
    won = won_by_day(rows, first, today)
    targets = targets_within(owners, first, last)
    return [
        _period(span, open_, won, targets, season_percent=called.season_percent) for span in spans
    ]


def _period(
    span: tuple[date, date],
    open_: Sequence[tuple[date, Chance]],
    won: Sequence[tuple[date, Decimal]],
    targets: Sequence[tuple[date, Decimal]],
    *,
    season_percent: Decimal,
) -> Period:
    first, last = span
    deals = [chance for on, chance in open_ if first <= on <= last]
    set_ = [amount for month, amount in targets if first <= month <= last]
    return Period(
        first=first,
        last=last,
        won=sum((amount for on, amount in won if first <= on <= last), ZERO),
        count=len(deals),
        spread=spread_of(deals, season_percent=season_percent),
        target=sum(set_, ZERO) if set_ else None,
    )


def won_by_day(rows: DealQuerySet, first: date, today: date) -> list[tuple[date, Decimal]]:
    """What was won, by its day: every deal counts in the month in which it was closed. One query."""
    found = won_within(rows, first, today).order_by()
    return [
        (timezone.localdate(at), amount) for at, amount in found.values_list("closed_at", "amount")
    ]


def targets_within(owners: Iterable[int], first: date, last: date) -> list[tuple[date, Decimal]]:
    """What these people are to win together, by month. One query."""
    found = Target.objects.filter(month__range=(first, last), owner__in=list(owners)).order_by()
    return list(found.values_list("month").annotate(Sum("amount")))


def last_years(
    people: Iterable[User], months: Sequence[date], *, of: str
) -> dict[tuple[int, date], Decimal]:
    """By person and month, what the same month a year before had: its target, or what was ``won`` in it. One query."""
    before = {months_back(month, 12): month for month in months}
    keys = [person.pk for person in people]
    if of == "targets":
        rows = Target.objects.filter(owner__in=keys, month__in=list(before)).order_by()
        return {
            (owner, before[month]): amount
            for owner, month, amount in rows.values_list("owner", "month", "amount")
        }
    found: dict[tuple[int, date], Decimal] = {}
    won = won_within(Deal.objects.filter(owner__in=keys), min(before), month_end(max(before)))
    for owner, at, amount in won.order_by().values_list("owner", "closed_at", "amount"):
        key = (owner, before[timezone.localdate(at).replace(day=1)])
        found[key] = found.get(key, ZERO) + amount
    return found
