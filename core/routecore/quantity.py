"""Units of an item, and the quantities that may be ordered of it.

Unit codes are those of UN/ECE Recommendation 20 (units) and 21 (packages, as ``X`` + code or the
trade's short form). Factors are exact and lead to the item's base unit: 1 roll = 100 m.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from decimal import ROUND_CEILING, ROUND_FLOOR, Decimal

from routecore.errors import InvalidInput
from routecore.money import CONTEXT


@dataclass(frozen=True, slots=True, kw_only=True)
class Units:
    """The base unit of an item and what one of each other unit holds of it.

    >>> wire = Units(base="MTR", factors={"RL": Decimal(100)})
    >>> wire.convert(Decimal(3), "RL", "MTR")
    Decimal('300')
    """

    base: str
    factors: Mapping[str, Decimal] = field(default_factory=dict)

    def __post_init__(self) -> None:
        for unit, factor in self.factors.items():
            if factor <= 0:
                raise InvalidInput("not_positive", path=f"units.{unit}", facts={"value": factor})
        if self.factors.get(self.base, Decimal(1)) != 1:
            raise InvalidInput("base_unit_factor", path=f"units.{self.base}")

    def factor(self, unit: str) -> Decimal:
        """How many base units one ``unit`` holds; raises ``InvalidInput`` for a foreign unit."""
        if unit == self.base:
            return Decimal(1)
        if unit not in self.factors:
            raise InvalidInput("unknown_unit", path="unit", facts={"unit": unit})
        return self.factors[unit]

    def knows(self, unit: str) -> bool:
        """Whether the item can be counted in this unit."""
        return unit == self.base or unit in self.factors

    def convert(self, quantity: Decimal, unit: str, to: str) -> Decimal:
        """The same quantity in another unit; exact unless the factors do not divide."""
        if unit == to:
            return quantity
        base = CONTEXT.multiply(quantity, self.factor(unit))
        return CONTEXT.divide(base, self.factor(to))


@dataclass(frozen=True, slots=True, kw_only=True)
class QuantityFault:
    """A quantity that breaks the minimum or the pack, with the nearest that would do.

    ``below`` is None where nothing smaller is valid. Both are in the asked unit.
    """

    code: str
    below: Decimal | None
    above: Decimal


def check_quantity(
    quantity: Decimal, *, unit_factor: Decimal, minimum: Decimal | None, multiple: Decimal | None
) -> QuantityFault | None:
    """Whether a quantity may be ordered; minimum and multiple count in the base unit.

    >>> check_quantity(Decimal(50), unit_factor=Decimal(1), minimum=None, multiple=Decimal(24))
    QuantityFault(code='not_a_multiple', below=Decimal('48'), above=Decimal('72'))
    """
    base = CONTEXT.multiply(quantity, unit_factor)
    step = multiple or Decimal(0)
    least = _up(minimum or step, step)
    if minimum is not None and base < minimum:
        return QuantityFault(
            code="below_minimum", below=None, above=CONTEXT.divide(least, unit_factor)
        )
    if not step or not CONTEXT.remainder(base, step):
        return None
    below = CONTEXT.multiply(CONTEXT.divide(base, step).to_integral_value(ROUND_FLOOR), step)
    return QuantityFault(
        code="not_a_multiple",
        below=CONTEXT.divide(below, unit_factor) if below >= least and below > 0 else None,
        above=CONTEXT.divide(_up(base, step), unit_factor),
    )


def reach(
    target: Decimal,
    *,
    unit_factor: Decimal,
    minimum: Decimal | None = None,
    multiple: Decimal | None = None,
) -> Decimal:
    """The least orderable quantity, in the asked unit, that holds ``target`` base units.

    Where no pack multiple is set, whole units of the asked unit.

    >>> reach(Decimal(100), unit_factor=Decimal(1), multiple=Decimal(24))
    Decimal('120')
    """
    wanted = max(target, minimum or target)
    return CONTEXT.divide(_up(wanted, multiple or unit_factor), unit_factor)


def _up(value: Decimal, step: Decimal) -> Decimal:
    if not step:
        return value
    return CONTEXT.multiply(CONTEXT.divide(value, step).to_integral_value(ROUND_CEILING), step)
