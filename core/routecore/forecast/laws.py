"""The law of a sum of whole units: counted out, or laid on a grid. See ``spread``."""

from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from itertools import pairwise
from math import ceil, erf, exp, floor, gcd, pi, sqrt

from routecore.forecast import grid

#: So many sums are counted out, each by itself, in so many steps: many like deals make few sums and many steps.
COUNTED, STEPS = 4096, 16_384
#: Cells of the grid, and of the finer ones of small deals.
CELLS, FINE_CELLS = 2048, 512
#: A deal of fewer steps than this is small; so many small ones make a block.
SMALL_STEPS, BLOCK = 16, 64
#: A deal of less than one part in so many of a step is tiny.
TINY = 4
#: The normal law is laid out so many deviations to each side.
SIDES = 7


@dataclass(frozen=True, slots=True)
class Law:
    """Sums in rising order, and how likely each is; ``exact`` where each stands at its own place."""

    units: Sequence[int]
    law: Sequence[float]
    exact: bool


def mixed(laws: Sequence[Law]) -> Law:
    """One of them, each as likely as the others."""
    sums: dict[int, float] = {}
    for each in laws:
        for at, p in zip(each.units, each.law, strict=True):
            sums[at] = sums.get(at, 0.0) + p / len(laws)
    units = sorted(sums)
    return Law(units, [sums[at] for at in units], all(each.exact for each in laws))


class Sum:
    """Deals in whole units: what comes surely, and what comes or does not, each above nothing.

    A negative amount is there already and goes away with the other probability: it is turned round.
    """

    def __init__(self, deals: Sequence[tuple[Decimal, Decimal]], scale: int):
        self.sure = 0
        self.rows: Rows = []
        for value, percent in deals:
            amount = int(value.scaleb(-scale))
            chance = int((percent.scaleb(-2) * grid.ONE).to_integral_value())
            if amount < 0:
                self.sure += amount
                amount, chance = -amount, grid.ONE - chance
            if chance == grid.ONE:
                self.sure += amount
            elif chance and amount:
                self.rows.append((amount, chance))

    def law(self) -> Law:
        """Counted out where that is few; on the grid otherwise."""
        counted = self._counted()
        if counted is not None:
            return counted
        total = sum(amount for amount, _ in self.rows)
        step = gcd(*(amount for amount, _ in self.rows))
        exact = total // step < CELLS
        if not exact:
            step = -(-total // (CELLS - 1))
        units = grid.unpack(*self._laid(step, exact))
        whole = sum(units)
        places = range(self.sure, self.sure + step * len(units), step)
        return Law(places, [each / whole for each in units], exact)

    def _counted(self) -> Law | None:
        sums, steps = {self.sure: 1.0}, 0
        for amount, chance in self.rows:
            steps += len(sums)
            if steps > STEPS:
                return None
            comes = chance / grid.ONE
            more: dict[int, float] = {}
            for at, p in sums.items():
                more[at] = more.get(at, 0.0) + p * (1 - comes)
                more[at + amount] = more.get(at + amount, 0.0) + p * comes
            if len(more) > COUNTED:
                return None
            sums = more
        units = sorted(sums)
        return Law(units, [sums[at] for at in units], exact=True)

    def _laid(self, step: int, exact: bool) -> tuple[int, int]:
        """The law on the grid, and how many cells it has; what tiny deals surely come to is counted as sure."""
        law, cells = grid.NOTHING, 1
        tiny, small, large = ([], [], self.rows) if exact else _by_size(self.rows, step)
        blocks = [_block(small[n : n + BLOCK], step) for n in range(0, len(small), BLOCK)]
        if tiny:
            first, block = _normal(tiny, step)
            self.sure += first
            blocks.append(block)
        for block in blocks:
            cells += len(block) - 1
            law = grid.join(law, grid.pack(block), cells)
        for amount, chance in large:
            law, cells = _with(law, cells, amount, chance, step)
        return law, cells


Rows = list[tuple[int, int]]


def _by_size(rows: Rows, step: int) -> tuple[Rows, Rows, Rows]:
    """Tiny, small and large ones; the rows rise."""
    one = bisect_left(rows, (-(-step // TINY), 0))
    two = bisect_left(rows, (SMALL_STEPS * step, 0))
    return rows[:one], rows[one:two], rows[two:]


def _normal(rows: Rows, step: int) -> tuple[int, list[int]]:
    """Many tiny deals: where their law begins, and its cells."""
    mean = variance = third = 0.0
    for amount, chance in rows:
        p = chance / grid.ONE
        mean += amount * p
        variance += amount * amount * p * (1 - p)
        third += float(amount) ** 3 * p * (1 - p) * (1 - 2 * p)
    deviation = max(sqrt(variance), step / 1000)
    skew = third / deviation**3

    def below(x: float) -> float:
        z = (x - mean) / deviation
        density = exp(-z * z / 2) / sqrt(2 * pi)
        return (1 + erf(z / sqrt(2))) / 2 - skew * (z * z - 1) / 6 * density

    first = floor((mean - SIDES * deviation) / step)
    last = ceil((mean + SIDES * deviation) / step)
    edges = [below((n - 0.5) * step) for n in range(first, last + 2)]
    cells = [max(0.0, b - a) for a, b in pairwise(edges)]
    whole = sum(cells)
    cells = [each / whole for each in cells]
    # What the cells cut off of the mean is given back: all of it lies a part of a step further on.
    ahead = mean / step - first - sum(n * each for n, each in enumerate(cells))
    back = floor(ahead)
    part = ahead - back
    moved = [a * (1 - part) + b * part for a, b in zip([*cells, 0.0], [0.0, *cells], strict=True)]
    return (first + back) * step, [int(each * grid.ONE) for each in moved]


def _with(law: int, cells: int, amount: int, chance: int, step: int) -> tuple[int, int]:
    steps, rest = divmod(amount, step)
    cells += steps + (rest > 0)
    return grid.add_deal(law, cells, chance, steps, rest * grid.ONE // step), cells


def _block(rows: Sequence[tuple[int, int]], wide: int) -> list[int]:
    """Small deals added up on a grid of their own, put on the one of ``wide`` steps."""
    step = max(1, -(-sum(amount for amount, _ in rows) // FINE_CELLS))
    law, cells = grid.NOTHING, 1
    for amount, chance in rows:
        law, cells = _with(law, cells, amount, chance, step)
    return grid.coarser(grid.unpack(law, cells), step, wide)
