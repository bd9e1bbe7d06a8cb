"""Where a share lies, so that 2 of 3 does not look like 67 of 100.

Source: E. B. Wilson, "Probable inference, the law of succession, and statistical inference", JASA 22 (1927).
"""

from math import sqrt

#: The normal quantile of a two-sided interval that holds nine times in ten.
NINE_IN_TEN = 1.6448536269514722


def wilson(won: int, of: int, z: float = NINE_IN_TEN) -> tuple[float, float]:
    """The interval of a share, by Wilson's score; everything where nothing is known.

    >>> [round(each, 4) for each in wilson(2, 3)]
    [0.2535, 0.9217]
    """
    if not of:
        return 0.0, 1.0
    share, square = won / of, z * z
    middle = share + square / (2 * of)
    half = z * sqrt(share * (1 - share) / of + square / (4 * of * of))
    under = 1 + square / of
    return max(0.0, (middle - half) / under), min(1.0, (middle + half) / under)
