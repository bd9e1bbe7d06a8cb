"""The forecast's core by the number of deals: how its work grows, and what it takes. Part of ``make bench``."""

from collections.abc import Callable
from datetime import date, timedelta
from decimal import Decimal
from random import Random

from routecore.forecast import Chance, Seen, Snapshot, Window, moved, spread_of

MANY, FEW = 50_000, 5_000
FIRST = date(2026, 11, 1)
WINDOW = Window(first=FIRST, last=date(2026, 12, 31))
PERCENTS = (10, 25, 40, 55, 75)
Best = Callable[..., list[float]]


def deals_of(many: int) -> list[Chance]:
    """Open deals of all sizes, few of them large; the same each time."""
    random = Random(20261)
    return [
        Chance(
            amount=Decimal(int(100 * random.lognormvariate(9, 1.2))) / 100,
            probability_percent=Decimal(random.choice(PERCENTS)),
        )
        for _ in range(many)
    ]


def snapshots_of(many: int) -> tuple[Snapshot, Snapshot]:
    """The same deals a week apart: a fifth moved, grew, shrank, was won or lost."""
    random = Random(20262)

    def seen(on: date, *, later: bool) -> Snapshot:
        return Snapshot(
            on=on,
            deals={
                n: Seen(
                    amount=Decimal(1000 + n % 977 + (97 if later and n % 7 == 0 else 0)),
                    probability_percent=Decimal(random.choice(PERCENTS)),
                    decision=FIRST
                    + timedelta(days=(n + (30 if later and n % 11 == 0 else 0)) % 90),
                    state=("won", "lost")[n % 2] if later and n % 13 == 0 else "open",
                )
                for n in range(many)
            },
        )

    return seen(FIRST, later=False), seen(FIRST + timedelta(days=7), later=True)


def grown(best: Best) -> tuple[list[tuple[str, float]], list[tuple[str, float]]]:
    """How much longer ten times the deals take, and the seconds of the many; ``best`` measures acts in turns."""
    many, few = deals_of(MANY), deals_of(FEW)
    weeks, week = snapshots_of(MANY), snapshots_of(FEW)
    seconds = best(
        lambda: spread_of(many),
        lambda: spread_of(few),
        lambda: moved(*weeks, WINDOW, "EUR"),
        lambda: moved(*week, WINDOW, "EUR"),
        rounds=3,
    )
    names = ("the range of 50,000 deals", "what moved between two snapshots of 50,000 deals")
    ratios = [
        (f"core: {name}, against 5,000 (linear: 10)", much / little)
        for name, much, little in zip(names, seconds[::2], seconds[1::2], strict=True)
    ]
    return ratios, list(zip(names, seconds[::2], strict=True))
