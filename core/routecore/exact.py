"""Exact arithmetic: sums and products without loss, and one rounding of a quotient, at the end.

``EXACT`` is wide enough for every sum and product of the core and refuses to lose a digit. A
quotient is never taken on the way: a value that would need one is carried as a ``Ratio``, compared
by multiplying, and rounded once. ``nearest`` rounds the true quotient, not a quotient that was
rounded before: the division keeps a mark of what it left out (the "05up" rounding of the General
Decimal Arithmetic Specification, made for this).
"""

from collections.abc import Callable
from decimal import (
    ROUND_05UP,
    ROUND_HALF_UP,
    Context,
    Decimal,
    DivisionByZero,
    Inexact,
    InvalidOperation,
    Overflow,
    localcontext,
)
from functools import wraps
from typing import NamedTuple, ParamSpec, TypeVar

#: For what is rounded on purpose: quotients, and amounts to their unit.
CONTEXT = Context(prec=100, rounding=ROUND_HALF_UP)
#: For sums and products; losing a digit is an error of ours.
EXACT = Context(
    prec=999_999,
    rounding=ROUND_HALF_UP,
    traps=[DivisionByZero, Inexact, InvalidOperation, Overflow],
)
_MARKED = Context(prec=100, rounding=ROUND_05UP)

ZERO = Decimal(0)
ONE = Decimal(1)
HUNDRED = Decimal(100)
MILLION = 1_000_000
#: Prices keep six decimals; an unrounded amount is shown with as many.
SIX_DECIMALS = Decimal("0.000001")
#: A percent that was solved for is given to four decimals.
PERCENT_STEP = Decimal("0.0001")

P = ParamSpec("P")
R = TypeVar("R")


def in_own_context(compute: Callable[P, R]) -> Callable[P, R]:
    """A function whose plain ``+ - *`` are exact, whatever decimal context the caller has set."""

    @wraps(compute)
    def run(*args: P.args, **kwargs: P.kwargs) -> R:
        with localcontext(EXACT):
            return compute(*args, **kwargs)

    return run


class Ratio(NamedTuple):
    """``top`` / ``under``, not divided; ``under`` is positive."""

    top: Decimal
    under: Decimal = ONE

    def reaches(self, threshold: Decimal) -> bool:
        """Whether it is at least as great as a decimal.

        >>> Ratio(Decimal(12), Decimal(3)).reaches(Decimal(4))
        True
        """
        if self.under is ONE:
            return self.top >= threshold
        return self.top >= EXACT.multiply(threshold, self.under)

    def exceeds(self, other: "Ratio") -> bool:
        """Whether it is greater than another."""
        return EXACT.multiply(self.top, other.under) > EXACT.multiply(other.top, self.under)

    def plus(self, top: Decimal, under: Decimal) -> "Ratio":
        """The sum with another ratio, given in its parts.

        >>> Ratio(Decimal(1), Decimal(3)).plus(Decimal(1), Decimal(6))
        Ratio(top=Decimal('9'), under=Decimal('18'))
        """
        if under is self.under or under == self.under:
            return Ratio(EXACT.add(self.top, top), self.under)
        crossed = EXACT.add(EXACT.multiply(self.top, under), EXACT.multiply(top, self.under))
        return Ratio(crossed, EXACT.multiply(self.under, under))

    def rounded(self, unit: Decimal) -> Decimal:
        """The nearest multiple of a power of ten, half away from zero."""
        return nearest(self.top, self.under, unit)


def nearest(top: Decimal, under: Decimal, unit: Decimal) -> Decimal:
    """``top / under`` to the nearest multiple of ``unit``, a power of ten; half away from zero.

    >>> nearest(Decimal("83.7"), Decimal(12), Decimal("0.01"))  # 6.975
    Decimal('6.98')
    """
    if under is not ONE and under != 1:
        top = _MARKED.divide(top, under)
    return top.quantize(unit, ROUND_HALF_UP, CONTEXT)


def least_whole(top: Decimal, under: Decimal) -> int:
    """The least whole number that is not below ``top / under``.

    >>> least_whole(Decimal(-7), Decimal(2)), least_whole(Decimal(7), Decimal(2))
    (-3, 4)
    """
    whole = EXACT.divide_int(top, under)
    return int(whole) + (EXACT.multiply(whole, under) < top)


def units_of(amount: Decimal, digits: int) -> int:
    """An amount as a whole number of minor units; it must not have more decimals.

    >>> units_of(Decimal("12.30"), 2)
    1230
    """
    return int(amount.scaleb(digits, CONTEXT))


def amount_of(units: int, digits: int) -> Decimal:
    """So many minor units as an amount.

    >>> amount_of(1230, 2)
    Decimal('12.30')
    """
    return Decimal(units).scaleb(-digits, EXACT)
