"""Weighted amounts by month of expected decision, by stage and by rep.

Each deal's weighted amount is rounded once, to the minor unit; every sum is a sum of those, so
that each table adds up to the cent and to the deals behind it.
"""

from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.exact import EXACT
from routecore.money import HUNDRED, ZERO, in_own_context, percent_of, round_amount

#: The "month" of deals whose decision date has gone by: set apart, not left in the past.
OVERDUE = "overdue"


def weigh(amount: Decimal, probability_percent: Decimal, currency: str) -> Decimal:
    """Amount times probability, rounded to the minor unit.

    >>> weigh(Decimal("16849.97"), Decimal(55), "EUR")
    Decimal('9267.48')
    """
    if not 0 <= probability_percent <= HUNDRED:
        raise InvalidInput(
            "out_of_range", path="probability_percent", facts={"value": probability_percent}
        )
    return round_amount(percent_of(amount, probability_percent), currency)


@dataclass(frozen=True, slots=True, kw_only=True)
class ForecastDeal:
    """An open deal as the forecast sees it; ``amount`` in the base currency."""

    amount: Decimal
    probability_percent: Decimal
    decision: date
    stage: str
    rep: str
    confidence: str = ""


@dataclass(frozen=True, slots=True)
class Cell:
    """Deals that fall together: how many, their amount, their weighted amount."""

    count: int = 0
    amount: Decimal = ZERO
    weighted: Decimal = ZERO

    def joined(self, other: "Cell") -> "Cell":
        """The deals of both."""
        added = EXACT.add
        return Cell(
            self.count + other.count,
            added(self.amount, other.amount),
            added(self.weighted, other.weighted),
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class DealGroup:
    """Open deals of one month (ISO, or ``overdue``), stage, rep and confidence, added up.

    Each was weighed and rounded by itself, as ``weigh`` does.
    """

    month: str
    stage: str
    rep: str
    confidence: str
    cell: Cell


@dataclass(frozen=True, slots=True, kw_only=True)
class Forecast:
    """Cells by each view; months are ISO ``2026-11`` or ``overdue``, in order of time."""

    total: Cell = field(default_factory=Cell)
    by_month: dict[str, Cell] = field(default_factory=dict)
    by_stage: dict[str, Cell] = field(default_factory=dict)
    by_rep: dict[str, Cell] = field(default_factory=dict)
    by_confidence: dict[str, Cell] = field(default_factory=dict)
    by_month_and_stage: dict[tuple[str, str], Cell] = field(default_factory=dict)


def month_of(decision: date, today: date) -> str:
    """The forecast month of a decision date.

    >>> month_of(date(2026, 12, 4), date(2026, 11, 24)), month_of(date(2026, 11, 23), date(2026, 11, 24))
    ('2026-12', 'overdue')
    """
    return OVERDUE if decision < today else f"{decision:%Y-%m}"


@in_own_context
def forecast_deals(deals: Iterable[ForecastDeal], *, today: date, currency: str) -> Forecast:
    """The weighted forecast of open deals; no deals give empty views."""
    return forecast_groups(
        DealGroup(
            month=month_of(deal.decision, today),
            stage=deal.stage,
            rep=deal.rep,
            confidence=deal.confidence,
            cell=Cell(1, deal.amount, weigh(deal.amount, deal.probability_percent, currency)),
        )
        for deal in deals
    )


@in_own_context
def forecast_groups(groups: Iterable[DealGroup]) -> Forecast:
    """The weighted forecast of deals that were weighed and added up before."""
    total = Cell()
    months: dict[str, Cell] = {}
    stages: dict[str, Cell] = {}
    reps: dict[str, Cell] = {}
    classes: dict[str, Cell] = {}
    crossed: dict[tuple[str, str], Cell] = {}
    for group in groups:
        gain, month, stage = group.cell, group.month, group.stage
        total = total.joined(gain)
        months[month] = months.get(month, Cell()).joined(gain)
        stages[stage] = stages.get(stage, Cell()).joined(gain)
        reps[group.rep] = reps.get(group.rep, Cell()).joined(gain)
        classes[group.confidence] = classes.get(group.confidence, Cell()).joined(gain)
        crossed[month, stage] = crossed.get((month, stage), Cell()).joined(gain)
    return Forecast(
        total=total,
        by_month=dict(sorted(months.items(), key=lambda pair: (pair[0] != OVERDUE, pair[0]))),
        by_stage=stages,
        by_rep=reps,
        by_confidence=classes,
        by_month_and_stage=crossed,
    )
