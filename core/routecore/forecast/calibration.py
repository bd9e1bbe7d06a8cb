"""Whether what was foretold came: of the deals that were called 70 %, how many were won; how early a month was right.

Source: G. W. Brier, "Verification of forecasts expressed in terms of probability", Monthly Weather Review 78 (1950).
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from routecore.exact import HUNDRED, SIX_DECIMALS, ZERO, nearest
from routecore.forecast.wilson import wilson
from routecore.money import in_own_context

#: Classes of probability.
DECILES = 10
TENTH = Decimal("0.1")


@dataclass(frozen=True, slots=True, kw_only=True)
class Outcome:
    """A deal that was decided: how likely it was called, and whether it was won."""

    percent: Decimal
    won: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Class:
    """Deals that were called about as likely: from ``percent`` to ten more.

    ``called``: their mean probability, to a tenth; ``low`` and ``high``: where the share won lies nine times in ten
    (Wilson), in percent.
    """

    percent: int
    deals: int
    won: int
    called: Decimal
    low: float
    high: float

    @property
    def share(self) -> Decimal:
        """The share won, in percent, to a tenth."""
        return nearest(Decimal(self.won * 100), Decimal(self.deals), TENTH)


@in_own_context
def brier(outcomes: Iterable[Outcome]) -> Decimal | None:
    """The mean of (probability − outcome)², to six decimals: 0 is sure and right, 0.25 a coin. None without deals."""
    rows = [(row.percent.scaleb(-2) - (1 if row.won else 0)) ** 2 for row in outcomes]
    if not rows:
        return None
    return nearest(sum(rows, ZERO), Decimal(len(rows)), SIX_DECIMALS)


@in_own_context
def calibrate(outcomes: Iterable[Outcome]) -> list[Class]:
    """By tenths of probability, the least likely first; classes without deals are left out. 100 % is of the last."""
    groups: dict[int, list[Outcome]] = {}
    for row in outcomes:
        groups.setdefault(min(int(row.percent // DECILES), DECILES - 1), []).append(row)
    return [_class(n * DECILES, rows) for n, rows in sorted(groups.items())]


@in_own_context
def together(outcomes: Iterable[Outcome]) -> Class | None:
    """All of them as one class, from 0 on; None without deals."""
    rows = list(outcomes)
    return _class(0, rows) if rows else None


def _class(percent: int, rows: Sequence[Outcome]) -> Class:
    won = sum(row.won for row in rows)
    called = nearest(sum((row.percent for row in rows), ZERO), Decimal(len(rows)), TENTH)
    low, high = wilson(won, len(rows))
    return Class(
        percent=percent,
        deals=len(rows),
        won=won,
        called=called,
        low=low * 100,
        high=high * 100,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Foretold:
    """What a snapshot said of a month: the range, eight times in ten, and the middle."""

    on: date
    low: Decimal
    middle: Decimal
    high: Decimal


def right_since(
    foretold: Sequence[Foretold], came: Decimal, within_percent: int = 10
) -> date | None:
    """The day from which on every snapshot's middle was within so many percent of what came; None where the last
    was not."""
    since = None
    for row in sorted(foretold, key=lambda each: each.on, reverse=True):
        if abs(row.middle - came) * HUNDRED > abs(came) * within_percent:
            break
        since = row.on
    return since


def held(foretold: Iterable[tuple[Foretold, Decimal]]) -> tuple[int, int]:
    """How many ranges held what came, and of how many: about eight in ten, where the ranges are honest."""
    rows = [row.low <= came <= row.high for row, came in foretold]
    return sum(rows), len(rows)
