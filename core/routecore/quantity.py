"""Units of an item, and the quantities that may be ordered of it.

Unit codes are those of UN/ECE Recommendation 20 (units) and 21 (packages, as ``X`` + code or the
trade's short form). Factors are exact and lead to the item's base unit: 1 roll = 100 m. A quantity
is known in base units, exactly; two quantities are compared there, by multiplying, and nothing is
divided before the one rounding at the end.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from decimal import Decimal
from functools import lru_cache
from math import gcd

from routecore.errors import InvalidInput
from routecore.exact import CONTEXT, EXACT, MILLION, ONE, Ratio, least_whole

#: The greatest quantity that can be typed: 15 digits before the point, in millionths.
MOST = 10**15 * MILLION


@dataclass(frozen=True, slots=True, kw_only=True)
class Units:
    """The base unit of an item and what one of each other unit holds of it.

    >>> wire = Units(base="MTR", factors={"RL": Decimal(100)})
    >>> wire.in_base(Decimal(3), "RL")
    Decimal('300')
    """

    base: str
    factors: Mapping[str, Decimal] = field(default_factory=dict)

    def __post_init__(self) -> None:
        for unit, factor in self.factors.items():
            if factor <= 0:
                raise InvalidInput("not_positive", path=f"units.{unit}", facts={"value": factor})
        if self.factors.get(self.base, ONE) != 1:
            raise InvalidInput("base_unit_factor", path=f"units.{self.base}")

    def factor(self, unit: str) -> Decimal:
        """How many base units one ``unit`` holds; raises ``InvalidInput`` for a foreign unit."""
        if unit == self.base:
            return ONE
        if unit not in self.factors:
            raise InvalidInput("unknown_unit", path="unit", facts={"unit": unit})
        return self.factors[unit]

    def knows(self, unit: str) -> bool:
        """Whether the item can be counted in this unit."""
        return unit == self.base or unit in self.factors

    def in_base(self, quantity: Decimal, unit: str) -> Decimal:
        """The quantity in base units, exactly."""
        return quantity if unit == self.base else EXACT.multiply(quantity, self.factor(unit))

    def convert(self, quantity: Decimal, unit: str, to: str) -> Decimal:
        """The quantity in another unit, to be shown: where the factors do not divide, it is cut
        after a hundred digits. What is decided or priced is compared in base units instead."""
        if unit == to:
            return quantity
        return CONTEXT.divide(self.in_base(quantity, unit), self.factor(to))


@dataclass(frozen=True, slots=True)
class Typeable:
    """The quantities of a unit that can be ordered and typed: whole ``step``s from ``least`` on.

    Counted in millionths of the unit, because six decimals can be typed. A step holds whole packs;
    where the item has none, it is one whole unit. ``factor`` is what one unit holds.

    >>> boxes = typeable(Decimal(7), None, Decimal(24))  # boxes of 7, in packs of 24
    >>> boxes.holding(Ratio(Decimal(30)))
    Decimal('24')
    """

    step: int
    least: int
    factor: Decimal

    def holding(self, base: Ratio) -> Decimal | None:
        """The least that holds so many base units; None where nobody could type it."""
        under = EXACT.multiply(base.under, self.factor)
        return self._typed(least_whole(EXACT.multiply(base.top, Decimal(MILLION)), under))

    def after(self, quantity: Decimal) -> Decimal | None:
        """The least that is greater than a quantity of this unit."""
        return self._typed(int(quantity.scaleb(6, EXACT)) + 1)

    def before(self, quantity: Decimal) -> Decimal | None:
        """The greatest that is less than a quantity of this unit."""
        millionths = -least_whole(quantity.scaleb(6, EXACT).copy_negate(), ONE)
        below = (millionths - (millionths == quantity.scaleb(6, EXACT))) // self.step * self.step
        return _decimal(below) if below >= max(self.least, 1) else None

    def within(self, base: Decimal) -> Decimal | None:
        """The greatest that so many base units hold, whatever the least; None where it is nothing."""
        millionths = EXACT.divide_int(EXACT.multiply(base, Decimal(MILLION)), self.factor)
        covered = int(millionths) // self.step * self.step
        return _decimal(covered) if covered > 0 else None

    def nearest(self, quantity: Decimal) -> Decimal | None:
        """The one nearest to a quantity of this unit, the smaller of two as near.

        >>> typeable(Decimal(1), None, Decimal(24)).nearest(Decimal(37))
        Decimal('48')
        """
        asked = int(quantity.scaleb(6, EXACT))
        below = asked // self.step * self.step
        return self._typed(below + self.step if 2 * (asked - below) > self.step else below)

    def _typed(self, millionths: int) -> Decimal | None:
        typed = max(-(-millionths // self.step) * self.step, self.least)
        return _decimal(typed) if typed <= MOST else None


def _decimal(millionths: int) -> Decimal:
    whole, rest = divmod(millionths, MILLION)
    return Decimal(millionths).scaleb(-6, EXACT) if rest else Decimal(whole)


@lru_cache(maxsize=10_000)
def typeable(factor: Decimal, minimum: Decimal | None, pack: Decimal | None) -> Typeable:
    """What can be typed of a unit; ``minimum`` and ``pack`` count in the base unit."""
    step = MILLION
    if pack:
        (held, under), (wanted, over) = factor.as_integer_ratio(), pack.as_integer_ratio()
        # The least x with x/10^6 × factor = a whole number of packs.
        packs = wanted * under * MILLION
        step = packs // gcd(held * over, packs)
    least = step
    if minimum is not None and minimum > 0:
        wanted_least = least_whole(EXACT.multiply(minimum, Decimal(MILLION)), factor)
        least = max(-(-wanted_least // step) * step, step)
    return Typeable(step, least, factor)


@dataclass(frozen=True, slots=True, kw_only=True)
class QuantityFault:
    """A quantity that breaks the minimum or the pack, with the nearest that would do.

    Both are in the asked unit, and can be typed; None where nothing smaller, or nothing that can be
    typed, is valid.
    """

    code: str
    below: Decimal | None
    above: Decimal | None


def check_quantity(
    quantity: Decimal, *, unit_factor: Decimal, minimum: Decimal | None, multiple: Decimal | None
) -> QuantityFault | None:
    """Whether a quantity may be ordered; minimum and multiple count in the base unit.

    >>> check_quantity(Decimal(50), unit_factor=Decimal(1), minimum=None, multiple=Decimal(24))
    QuantityFault(code='not_a_multiple', below=Decimal('48'), above=Decimal('72'))
    """
    base = EXACT.multiply(quantity, unit_factor)
    below_minimum = minimum is not None and base < minimum
    if not below_minimum and (not multiple or not EXACT.remainder(base, multiple)):
        return None
    grid = typeable(unit_factor, minimum, multiple or None)
    return QuantityFault(
        code="below_minimum" if below_minimum else "not_a_multiple",
        below=None if below_minimum else grid.before(quantity),
        above=grid.after(quantity),
    )
