"""Discount rules: whom and what they touch, what they measure, which tier is reached, what it gives.

What is measured is taken before any discount. A tier's threshold is inclusive; it applies to the
whole, or (graduated) only to the part above it.

Source: all-units and incremental quantity discounts as in the handbooks of inventory theory
(checked in ``tests/reference/test_quantity_discounts.py``).
"""

from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.pricing.goods import Customer, Item, check_validity

HUNDRED = Decimal(100)
ZERO = Decimal(0)
MEASURES = ("quantity", "amount", "weight")
SPANS = ("line", "group", "document")
POLICIES = ("chain", "add", "best")


@dataclass(frozen=True, slots=True, kw_only=True)
class Tier:
    """From a threshold (inclusive) on: one of a percent, an amount per unit, an amount per line."""

    start: Decimal
    percent: Decimal | None = None
    per_unit: Decimal | None = None
    per_line: Decimal | None = None

    def __post_init__(self) -> None:
        given = [v for v in (self.percent, self.per_unit, self.per_line) if v is not None]
        if len(given) != 1:
            raise InvalidInput("one_of_percent_per_unit_per_line")
        if given[0] < 0 or self.start < 0:
            raise InvalidInput("negative", facts={"value": min(given[0], self.start)})
        if self.percent is not None and self.percent > HUNDRED:
            raise InvalidInput("out_of_range", path="percent", facts={"value": self.percent})


@dataclass(frozen=True, slots=True, kw_only=True)
class DiscountRule:
    """A rule for a customer (and its members), a tier of customers, or all; on an item, a group, or all.

    ``measure``: ``quantity`` (in ``unit``, default the item's base unit), ``amount`` (in the
    document's currency) or ``weight`` (kg). ``over``: the ``line``, the ``group`` of lines that the
    rule touches, or all lines of the ``document``.
    """

    id: str
    tiers: tuple[Tier, ...]
    customer: str | None = None
    customer_tier: str | None = None
    item: str | None = None
    group: str | None = None
    measure: str = "quantity"
    unit: str | None = None
    over: str = "line"
    graduated: bool = False
    exclusive: bool = False
    currency: str | None = None
    valid_from: date | None = None
    valid_to: date | None = None
    alone: bool = field(init=False)

    def __post_init__(self) -> None:
        if not self.tiers:
            raise InvalidInput("no_tiers", path="tiers")
        for n, (low, high) in enumerate(zip(self.tiers, self.tiers[1:], strict=False), start=1):
            if high.start <= low.start:
                raise InvalidInput("out_of_order", path=f"tiers[{n}].from")
        if self.measure not in MEASURES:
            raise InvalidInput("unknown_choice", path="measure", facts={"value": self.measure})
        if self.over not in SPANS:
            raise InvalidInput("unknown_choice", path="over", facts={"value": self.over})
        if self.graduated and any(tier.per_line is not None for tier in self.tiers):
            raise InvalidInput("graduated_per_line", path="graduated")
        check_validity(self.valid_from, self.valid_to)
        object.__setattr__(self, "alone", self.over == "line")

    def is_for(self, customer: Customer) -> bool:
        """Whether the rule holds for this customer."""
        if self.customer is not None and self.customer not in customer.family:
            return False
        return self.customer_tier is None or self.customer_tier == customer.tier

    def names(self, item: Item) -> bool:
        """Whether the rule is on this item."""
        if self.item is not None and self.item != item.id:
            return False
        return self.group is None or self.group == item.group

    def measure_of(self, item: Item, base_quantity: Decimal, amount: Decimal) -> Decimal | None:
        """A line's measure; None where it cannot be measured."""
        if self.measure == "amount":
            return amount
        if self.measure == "weight":
            return None if item.weight_kg is None else base_quantity * item.weight_kg
        if self.unit is None or self.unit == item.units.base:
            return base_quantity
        factor = item.units.factors.get(self.unit)
        return None if factor is None else base_quantity / factor

    def reached(self, measured: Decimal) -> int:
        """The index of the greatest tier that a measure reaches; -1 for none."""
        index = -1
        for tier in self.tiers:
            if measured < tier.start:
                break
            index += 1
        return index

    def gives(
        self,
        item: Item,
        base_quantity: Decimal,
        left: Decimal,
        *,
        tier: int,
        own: Decimal,
        measured: Decimal,
    ) -> tuple[Decimal, Decimal | None]:
        """What the rule takes off a line, unrounded, and the percent where it is one.

        ``left`` is the amount that it applies to, ``own`` the line's measure, ``measured`` the
        measure that decides the tier (over the group or document: their total).

        >>> rule = DiscountRule(id="R", graduated=True, tiers=(
        ...     Tier(start=Decimal(100), percent=Decimal(10)),
        ...     Tier(start=Decimal(200), percent=Decimal(20))))
        >>> from routecore.quantity import Units
        >>> wire = Item(id="W", units=Units(base="MTR"))
        >>> rule.gives(wire, Decimal(250), Decimal(2500), tier=1, own=Decimal(250), measured=Decimal(250))
        (Decimal('200'), None)
        """
        if self.graduated:
            return self._graduated(item, base_quantity, left, tier, own, measured), None
        step = self.tiers[tier]
        if step.percent is not None:
            return left * step.percent / HUNDRED, step.percent
        if step.per_line is not None:
            return min(step.per_line, left), None
        units = self._units(item, base_quantity)
        return min(units * (step.per_unit or ZERO), left), None

    def _units(self, item: Item, base_quantity: Decimal) -> Decimal:
        """The quantity that ``per_unit`` counts: in the rule's unit, else the base unit."""
        if self.unit is None or self.unit == item.units.base:
            return base_quantity
        factor = item.units.factors.get(self.unit)
        return base_quantity / factor if factor else ZERO

    def _graduated(
        self,
        item: Item,
        base_quantity: Decimal,
        left: Decimal,
        tier: int,
        own: Decimal,
        measured: Decimal,
    ) -> Decimal:
        if not measured or not own:
            return ZERO
        taken = ZERO
        for n in range(tier + 1):
            step = self.tiers[n]
            end = self.tiers[n + 1].start if n < tier else measured
            part = end - step.start
            if step.percent is not None:
                taken += left * part * step.percent / (measured * HUNDRED)
            else:
                units = self._units(item, base_quantity)
                taken += units * part / measured * (step.per_unit or ZERO)
        return min(taken, left)
