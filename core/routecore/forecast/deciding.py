"""Which deals decide whether a target is reached: by how much each one swings the odds."""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from routecore.exact import HUNDRED, ZERO
from routecore.forecast.spread import Chance, spread_of
from routecore.money import in_own_context


@dataclass(frozen=True, slots=True, kw_only=True)
class Swing:
    """A deal, by its place among those given, and the chance of the target if it comes less that if it does not."""

    at: int
    swing: float


@in_own_context
def deciding(
    deals: Sequence[Chance], target: Decimal, *, most: int = 6, season_percent: Decimal = ZERO
) -> list[Swing]:
    """The deals that swing the odds most, of those whose amount is least sure (by its variance).

    The chance that all others reach what is left of the target with the deal, and without it: exact where
    ``spread_of`` is. Deals that are sure to come, or not to, swing nothing and are left out.
    """
    doubt = [
        d.amount * d.amount * d.probability_percent * (HUNDRED - d.probability_percent)
        for d in deals
    ]
    doubtful = [at for at in range(len(deals)) if doubt[at]]
    asked = sorted(doubtful, key=lambda at: (-doubt[at], at))[:most]
    found = []
    for at in asked:
        others = [deal for n, deal in enumerate(deals) if n != at]
        rest = spread_of(others, season_percent=season_percent)
        swing = rest.reaches(target - deals[at].amount) - rest.reaches(target)
        found.append(Swing(at=at, swing=swing))
    return sorted(found, key=lambda each: (-abs(each.swing), each.at))
