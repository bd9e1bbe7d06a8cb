"""What open deals may come to together: the law of their sum, its quantiles, the chance of a target.

Each deal comes to its amount with its probability, or to nothing, by itself; with a season, all of them are likelier
or less likely together. Few deals are counted out: every sum that can be. Many are laid on a grid of money: exactly,
where all amounts are multiples of one step of which the grid has room; otherwise every amount is shared between its
two neighbours on the grid, which keeps the mean exact; deals of a few steps are added up on finer grids first, in blocks,
and the many that are less than a quarter of a step together follow the normal law with their own skew (Edgeworth's
first term). A quantile is then off by no more than ``WORST`` of the sum of all amounts.

Checked against mean and variance in closed form, all outcomes counted, the Poisson-binomial law by its recursion, and
simulation.
"""

from bisect import bisect_left
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from decimal import Decimal
from itertools import accumulate
from math import sqrt

from routecore.errors import InvalidInput
from routecore.exact import HUNDRED, ZERO
from routecore.forecast.laws import Sum, mixed
from routecore.money import in_own_context

#: How far a quantile on a shared grid may be off, as a share of the sum of all amounts.
WORST = 0.0025
#: Floats that should be equal are, within this.
NEAR = 1e-12


@dataclass(frozen=True, slots=True, kw_only=True)
class Chance:
    """A deal: what it comes to, in the base currency, and how likely that is."""

    amount: Decimal
    probability_percent: Decimal

    def __post_init__(self) -> None:
        if not 0 <= self.probability_percent <= HUNDRED:
            raise InvalidInput(
                "out_of_range",
                path="probability_percent",
                facts={"value": self.probability_percent},
            )


@dataclass(frozen=True, slots=True, kw_only=True)
class Spread:
    """The law of a sum: ``unit × units[n]``, in rising order, with the probability ``law[n]``.

    ``mean`` and ``variance`` are those of the deals in closed form, not of the grid; ``exact`` whether every sum
    stands at its own place.
    """

    unit: Decimal
    units: Sequence[int]
    law: Sequence[float]
    mean: Decimal
    variance: Decimal
    exact: bool

    def quantile(self, share: float) -> Decimal:
        """The least sum that is not exceeded with this probability."""
        if not 0 < share < 1:
            raise InvalidInput("out_of_range", path="share", facts={"value": share})
        below = list(accumulate(self.law))
        at = min(bisect_left(below, share - NEAR), len(below) - 1)
        return self.unit * self.units[at]

    def reaches(self, target: Decimal) -> float:
        """The probability of the target or more."""
        at = _at_least(target, self.unit)
        first = bisect_left(self.units, at)
        over = sum(self.law[first:])
        if not self.exact and 0 < first < len(self.units):
            # What stands in a cell lies somewhere around it: the cells at the target are taken in part.
            below, above = self.units[first - 1], self.units[first]
            part = (at - below) / (above - below)
            over += self.law[first - 1] * (1 - part) ** 2 / 2 - self.law[first] * part**2 / 2
        return min(1.0, max(0.0, over))

    @property
    def deviation(self) -> float:
        """The standard deviation."""
        return sqrt(self.variance)


def _at_least(target: Decimal, unit: Decimal) -> int:
    """The least whole number of units that is the target or more."""
    whole = target // unit
    return int(whole) + (whole * unit < target)


@in_own_context
def spread_of(deals: Iterable[Chance], *, season_percent: Decimal = ZERO) -> Spread:
    """The law of the sum of these deals. No deals come to nothing, surely.

    ``season_percent``: how strong one season is that all deals share. It is good or bad, one as likely as the other;
    a deal of probability p comes with p ± season × p × (1 − p): the mean stays, the range grows. 0: none.
    """
    rows = sorted(deals, key=lambda deal: (abs(deal.amount), deal.amount, deal.probability_percent))
    seasons = _seasons(rows, season_percent)
    scale = min((_exponent(deal.amount) for deal in rows), default=0)
    unit = Decimal(1).scaleb(scale)
    found = [
        Sum([(deal.amount, deal.probability_percent) for deal in each], scale).law()
        for each in seasons
    ]
    law = found[0] if len(found) == 1 else mixed(found)
    means = [_mean(each) for each in seasons]
    share = Decimal("0.5") if len(seasons) > 1 else Decimal(1)
    mean = sum(means, ZERO) * share
    inside = sum((_variance(each) for each in seasons), ZERO) * share
    between = sum(((each - mean) ** 2 for each in means), ZERO) * share
    return Spread(
        unit=unit,
        units=law.units,
        law=law.law,
        mean=mean,
        variance=inside + between,
        exact=law.exact,
    )


def _exponent(amount: Decimal) -> int:
    exponent = amount.as_tuple().exponent
    if not isinstance(exponent, int):
        raise InvalidInput("not_finite", path="amount", facts={"value": amount})
    return min(exponent, 0)


def _seasons(rows: Sequence[Chance], season_percent: Decimal) -> list[list[Chance]]:
    if not 0 <= season_percent <= HUNDRED:
        raise InvalidInput("out_of_range", path="season_percent", facts={"value": season_percent})
    if not season_percent:
        return [list(rows)]
    return [[_shifted(deal, sign * season_percent) for deal in rows] for sign in (1, -1)]


def _shifted(deal: Chance, season: Decimal) -> Chance:
    p = deal.probability_percent
    shifted = p + (season * p * (HUNDRED - p)).scaleb(-4)
    return Chance(amount=deal.amount, probability_percent=shifted)


def _mean(deals: Iterable[Chance]) -> Decimal:
    return sum((d.amount * d.probability_percent for d in deals), ZERO).scaleb(-2)


def _variance(deals: Iterable[Chance]) -> Decimal:
    each = (
        d.amount * d.amount * d.probability_percent * (HUNDRED - d.probability_percent)
        for d in deals
    )
    return sum(each, ZERO).scaleb(-4)
