"""Probabilities of sums of money on a grid, many cells in one whole number.

A law of probability over the cells ``0, 1, 2, …`` of a grid is one Python integer: each cell is a field of ``WIDTH``
bits that holds its probability in units of ``2 ** -BITS``. A deal that comes or does not is then three products of
that integer with small ones, a sum, and one shift with a mask that rounds every cell down: the whole grid in the
time that memory takes. What is rounded away is less than one unit a cell and deal, and is made up for when the law
is read. Common practice (Kronecker's substitution), no source.
"""

from collections.abc import Sequence
from functools import lru_cache

BITS = 60
WIDTH = 2 * BITS + 8
ONE = 1 << BITS
_BYTES = WIDTH // 8

#: Surely nothing.
NOTHING = ONE


@lru_cache(maxsize=64)
def _mask(cells: int) -> int:
    """The bits of each cell that stand after a shift: what came down from the cell above is taken out."""
    field = ((1 << (WIDTH - BITS)) - 1).to_bytes(_BYTES, "little")
    return int.from_bytes(field * cells, "little")


def add_deal(law: int, cells: int, chance: int, steps: int, part: int) -> int:
    """The law once a deal is added that comes with ``chance`` (of ``ONE``), to ``steps`` cells and ``part`` of one more.

    A sum between two cells is shared by both in proportion, so that the mean stays exact. ``cells`` is how many
    there are afterwards.
    """
    above = chance * part >> BITS
    comes = law << steps * WIDTH
    total = law * (ONE - chance) + comes * (chance - above)
    if above:
        total += (comes << WIDTH) * above
    return (total >> BITS) & _mask(cells)


def join(law: int, other: int, cells: int) -> int:
    """The law of the sum of two; ``cells`` is how many it has."""
    return (law * other >> BITS) & _mask(cells)


def pack(units: Sequence[int]) -> int:
    """The law of these units per cell."""
    return int.from_bytes(b"".join(each.to_bytes(_BYTES, "little") for each in units), "little")


def unpack(law: int, cells: int) -> list[int]:
    """The units of each cell."""
    raw = memoryview(law.to_bytes(cells * _BYTES, "little")).cast("Q")
    return raw[:: _BYTES // 8].tolist()


def coarser(units: Sequence[int], step: int, wide: int) -> list[int]:
    """A law on cells of ``step`` put on cells of ``wide``; what lies between two is shared, the mean is kept."""
    found = [0] * ((len(units) - 1) * step // wide + 2)
    for n, value in enumerate(units):
        if value:
            at, rest = divmod(n * step, wide)
            above = value * rest // wide
            found[at] += value - above
            found[at + 1] += above
    return found
