"""How likely a deal is, learnt from what became of earlier ones.

The share won of the deals that were decided after they had stood in a stage, pulled toward the share of all by a Beta
prior that weighs as much as ``WEIGHT`` deals. Where a rep's deals or those of a size are as many as the prior, they
are told apart, pulled toward the stage's share in their turn.

Source: Beta-binomial shrinkage with the mean of the prior from all data (empirical Bayes), common practice.
"""

from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from decimal import Decimal

from routecore.exact import nearest

WEIGHT = 10
#: Percentages are told to one decimal.
TENTH = Decimal("0.1")


@dataclass(frozen=True, slots=True, kw_only=True)
class Decided:
    """A deal that was won or lost: the stages it stood in, whose it was, its class of size."""

    won: bool
    stages: frozenset[str]
    rep: str = ""
    size: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Tally:
    """So many deals of a rep and a class of size that stood in a stage, all of them won or all lost."""

    stage: str
    won: bool
    deals: int
    rep: str = ""
    size: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Learnt:
    """A probability and what it rests on.

    ``by``: what was told apart, of ``rep`` and ``size``; ``thin``: whether fewer deals than the prior weighs were
    decided from the stage, so that it says little of its own.
    """

    percent: Decimal
    won: int
    decided: int
    by: tuple[str, ...] = ()

    @property
    def thin(self) -> bool:
        """Whether it is mostly the share of all deals."""
        return self.decided < WEIGHT


@dataclass(slots=True)
class _Count:
    won: int = 0
    decided: int = 0

    def add(self, won: bool, deals: int = 1) -> None:
        self.won += deals if won else 0
        self.decided += deals


@dataclass(slots=True)
class Experience:
    """What became of the deals that were decided."""

    every: _Count = field(default_factory=_Count)
    by_stage: dict[str, _Count] = field(default_factory=dict)
    apart: dict[tuple[str, str, str], _Count] = field(default_factory=dict)

    def learnt(self, stage: str, *, rep: str = "", size: str = "") -> Learnt | None:
        """For a deal in a stage; None where nothing was ever decided.

        The narrowest group that has as many deals as the prior weighs: rep and size, rep, size, the stage.
        """
        if not self.every.decided:
            return None
        overall = self.every.won, self.every.decided
        stood = self.by_stage.get(stage, _Count())
        top, under = _pulled(stood, *overall)
        for key, by in (
            ((stage, rep, size), ("rep", "size")),
            ((stage, rep, ""), ("rep",)),
            ((stage, "", size), ("size",)),
        ):
            own = self.apart.get(key)
            told_apart = all({"rep": rep, "size": size}[name] for name in by)
            if told_apart and own is not None and own.decided >= WEIGHT:
                return _told(own, *_pulled(own, top, under), by)
        return _told(stood, top, under, ())


def _pulled(own: _Count, top: int, under: int) -> tuple[int, int]:
    """(won + weight × top ÷ under) ÷ (decided + weight), as a fraction."""
    return own.won * under + WEIGHT * top, (own.decided + WEIGHT) * under


def _told(own: _Count, top: int, under: int, by: tuple[str, ...]) -> Learnt:
    percent = nearest(Decimal(top * 100), Decimal(under), TENTH)
    return Learnt(percent=percent, won=own.won, decided=own.decided, by=by)


def learn(decided: Iterable[Decided]) -> Experience:
    """Count what was decided. Deals that are open or parked are none."""
    every: Counter[bool] = Counter()
    tallies: Counter[tuple[str, bool, str, str]] = Counter()
    for deal in decided:
        every[deal.won] += 1
        tallies.update((stage, deal.won, deal.rep, deal.size) for stage in deal.stages)
    return learn_counted(
        won=every[True],
        lost=every[False],
        tallies=(
            Tally(stage=stage, won=won, deals=deals, rep=rep, size=size)
            for (stage, won, rep, size), deals in tallies.items()
        ),
    )


def learn_counted(*, won: int, lost: int, tallies: Iterable[Tally]) -> Experience:
    """The same of deals that were counted elsewhere: ``won`` and ``lost`` in all, and by what they stood in."""
    found = Experience()
    found.every.add(True, won)
    found.every.add(False, lost)
    for row in tallies:
        found.by_stage.setdefault(row.stage, _Count()).add(row.won, row.deals)
        for key in {
            (row.stage, row.rep, row.size),
            (row.stage, row.rep, ""),
            (row.stage, "", row.size),
        }:
            if key[1] or key[2]:
                found.apart.setdefault(key, _Count()).add(row.won, row.deals)
    return found


def size_class(amount: Decimal, bounds: Mapping[str, Decimal]) -> str:
    """The class of an amount: the first whose upper bound it does not reach; "" beyond all of them.

    >>> size_class(Decimal(5000), {"small": Decimal(5000), "middle": Decimal(20000)})
    'middle'
    """
    return next((name for name, bound in bounds.items() if amount < bound), "")
