"""The deals that decide a month, as they stand and as somebody thinks of them."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

from apps.deals.models import Deal, DealQuerySet
from apps.forecast.called import Called, asked_for
from apps.forecast.queries import won_by_month
from apps.forecast.targets import ZERO, Counted, targets_within
from routecore.dates import month_end
from routecore.forecast import Chance, Learnt, Spread, deciding, spread_of

#: So many are told, and whatever is thought of.
MOST = 30


@dataclass(frozen=True, slots=True, kw_only=True)
class DealThatDecides:
    """A deal as it stands, how likely it is called and what that was learnt from, by how much it swings the odds as it
    is thought of; ``inside``: whether it is in the month then."""

    deal: Deal
    percent: Decimal
    learnt: Learnt | None
    swing: float
    inside: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class MonthToDecide:
    """A month with its deciding deals: the chance of ``target``, and that with the deals as they are thought of.

    ``set`` is whether the target was set; otherwise it is the middle of what may be won, as the deals stand.
    """

    target: Decimal
    set: bool
    chance: float
    thought: float
    deals: list[DealThatDecides]


@dataclass(frozen=True, slots=True)
class _Row:
    """A deal; its chance as it stands and as it is thought of, None where it is not in the month."""

    deal: Deal
    learnt: Learnt | None
    called: Chance
    now: Chance | None
    thought: Chance | None


def deciding_deals(
    rows: DealQuerySet, counted: Counted, month: date, *, today: date, called: Called
) -> MonthToDecide:
    """The deals that decide a month, those that swing its odds most first, as they stand. Three queries."""
    first, last = max(month, today), month_end(month)
    found = asked_for(rows, first, last, called).select_related("stage").order_by("pk")
    known = [_row(deal, called, first, last) for deal in found]
    won = ZERO
    if month <= today:
        won = won_by_month(rows, month, min(today, last))[month]
    season = called.season_percent
    spread = _spread((row.now for row in known), season)
    set_ = targets_within(counted, month, month).get(month)
    target = won + spread.quantile(0.5) if set_ is None else set_
    thoughts = _spread((row.thought for row in known), season) if called.thoughts else spread
    before = _swings(known, [row.now for row in known], target - won, season)
    after = before
    if called.thoughts:
        after = _swings(known, [row.thought for row in known], target - won, season)
    ordered = sorted(
        known,
        key=lambda row: (-abs(before.get(row.deal.pk, 0.0)), -row.deal.amount, row.deal.pk),
    )
    return MonthToDecide(
        target=target,
        set=set_ is not None,
        chance=spread.reaches(target - won),
        thought=thoughts.reaches(target - won),
        deals=[
            DealThatDecides(
                deal=row.deal,
                percent=row.called.probability_percent,
                learnt=row.learnt,
                swing=after.get(row.deal.pk, 0.0),
                inside=row.thought is not None,
            )
            for n, row in enumerate(ordered)
            if n < MOST or row.deal.pk in called.thoughts
        ],
    )


def _row(deal: Deal, called: Called, first: date, last: date) -> _Row:
    learnt = called.learnt(deal)
    percent = learnt.percent if learnt else deal.probability
    chance = Chance(amount=deal.amount, probability_percent=percent)

    def within(view: Called) -> Chance | None:
        found = view.thought(deal.pk, deal.decision_on, chance)
        return found[1] if found and first <= found[0] <= last else None

    return _Row(
        deal=deal,
        learnt=learnt,
        called=chance,
        now=within(replace(called, thoughts={})),
        thought=within(called),
    )


def _spread(chances: Iterable[Chance | None], season: Decimal) -> Spread:
    return spread_of([each for each in chances if each], season_percent=season)


def _swings(
    rows: list[_Row], chances: list[Chance | None], target: Decimal, season: Decimal
) -> dict[int, float]:
    """By the deal's key, for those that swing most."""
    inside = [(row, each) for row, each in zip(rows, chances, strict=True) if each]
    swings = deciding([each for _, each in inside], target, season_percent=season)
    return {inside[each.at][0].deal.pk: each.swing for each in swings}
