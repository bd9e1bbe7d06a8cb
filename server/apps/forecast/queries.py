"""What was won and may be won, month by month, against what is to be won."""

from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal

from django.db.models import QuerySet, Sum
from django.utils import timezone

from apps.deals.models import OPEN, Deal, DealQuerySet
from apps.deals.queries import won_within
from apps.forecast.learning import learnt_of, learnt_percent
from apps.forecast.models import Target
from apps.people.models import ADMIN, LEAD, REP, User
from routecore.dates import month_end
from routecore.forecast import Chance, Experience, Learnt, Spread, deciding, spread_of

ZERO = Decimal(0)
#: This month and so many after it.
AHEAD = 5


@dataclass(frozen=True, slots=True, kw_only=True)
class Called:
    """How likely deals are called: as they say themselves, or, with ``known``, as earlier ones teach, where the rep has
    said nothing; ``season_percent``: how strong a season is that all of them share."""

    season_percent: Decimal = ZERO
    known: Experience | None = None


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
    open_ = _open(rows, today, last, called.known)
    won = _won(rows, first, today)
    targets = _targets(owners, first, last)
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


def _open(
    rows: DealQuerySet, today: date, last: date, known: Experience | None
) -> list[tuple[date, Chance]]:
    found = rows.filter(outcome=OPEN, decision_on__range=(today, last)).order_by()
    if known is None:
        return [
            (on, Chance(amount=amount, probability_percent=percent))
            for on, amount, percent in found.values_list("decision_on", "amount", "probability")
        ]
    read = (
        "decision_on",
        "amount",
        "probability",
        "own_probability_percent",
        "stage__code",
        "owner",
    )
    told = []
    for on, amount, percent, own, stage, owner in found.values_list(*read):
        learnt = learnt_percent(known, stage, owner, amount) if own is None else None
        told.append(
            (on, Chance(amount=amount, probability_percent=percent if learnt is None else learnt))
        )
    return told


def _won(rows: DealQuerySet, first: date, today: date) -> list[tuple[date, Decimal]]:
    """What was won, by its day: every deal counts in the month in which it was closed."""
    found = won_within(rows, first, today).order_by()
    return [
        (timezone.localdate(at), amount) for at, amount in found.values_list("closed_at", "amount")
    ]


def _targets(owners: Iterable[int], first: date, last: date) -> list[tuple[date, Decimal]]:
    found = Target.objects.filter(month__range=(first, last), owner__in=list(owners)).order_by()
    return list(found.values_list("month").annotate(Sum("amount")))


@dataclass(frozen=True, slots=True, kw_only=True)
class DealThatDecides:
    """A deal, how likely it is called and what that was learnt from, by how much it swings the odds."""

    deal: Deal
    percent: Decimal
    learnt: Learnt | None
    swing: float


@dataclass(frozen=True, slots=True, kw_only=True)
class MonthToDecide:
    """A month with its deciding deals: the chance of ``target``, and that without the deals that are left out.

    ``set`` is whether the target was set; otherwise it is the middle of what may be won, with all deals.
    """

    target: Decimal
    set: bool
    chance: float
    without: float
    deals: list[DealThatDecides]


def deciding_deals(
    rows: DealQuerySet,
    owners: Iterable[int],
    month: date,
    *,
    today: date,
    called: Called,
    left_out: Collection[int],
) -> MonthToDecide:
    """The deals that decide a month, those that swing its odds most first. Three queries."""
    last = month_end(month)
    found = rows.filter(outcome=OPEN, decision_on__range=(max(month, today), last))
    deals = list(found.select_related("stage").order_by("pk"))
    learnt = [_learnt(deal, called.known) for deal in deals]
    chances = [_chance(deal, told) for deal, told in zip(deals, learnt, strict=True)]
    won = sum((amount for _, amount in _won(rows, month, today)), ZERO) if month <= today else ZERO
    season = called.season_percent
    spread = spread_of(chances, season_percent=season)
    targets = [amount for _, amount in _targets(owners, month, month)]
    target = sum(targets, ZERO) if targets else won + spread.quantile(0.5)
    kept = [each for deal, each in zip(deals, chances, strict=True) if deal.pk not in left_out]
    swings = deciding(chances, target - won, season_percent=season)
    return MonthToDecide(
        target=target,
        set=bool(targets),
        chance=spread.reaches(target - won),
        without=spread_of(kept, season_percent=season).reaches(target - won),
        deals=[
            DealThatDecides(
                deal=deals[each.at],
                percent=chances[each.at].probability_percent,
                learnt=learnt[each.at],
                swing=each.swing,
            )
            for each in swings
        ],
    )


def _learnt(deal: Deal, known: Experience | None) -> Learnt | None:
    own = deal.own_probability_percent is not None
    return None if own or known is None else learnt_of(known, deal)


def _chance(deal: Deal, learnt: Learnt | None) -> Chance:
    percent = learnt.percent if learnt else deal.probability
    return Chance(amount=deal.amount, probability_percent=percent)
