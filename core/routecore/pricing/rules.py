"""Discount rules: whom and what they touch, what they measure, which tier is reached, what it gives.

What is measured is taken before any discount. A tier's threshold is inclusive; it applies to the
whole, or (graduated) only to the part above it.

Source: all-units and incremental quantity discounts as in the handbooks of inventory theory
(checked in ``tests/reference/test_quantity_discounts.py``).
"""

from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from typing import NamedTuple

from routecore.errors import InvalidInput
from routecore.exact import EXACT, HUNDRED, ONE, ZERO
from routecore.pricing.goods import Customer, Item, check_validity

MEASURES = ("quantity", "amount", "weight")
SPANS = ("line", "group", "document")
POLICIES = ("chain", "add", "best")


@dataclass(frozen=True, slots=True, kw_only=True)
class Tier:
    """From a threshold (inclusive) on: one of a percent, an amount per unit, an amount per line.

    ``fraction`` is the percent over a hundred, ``rate`` whichever was given.
    """

    start: Decimal
    percent: Decimal | None = None
    per_unit: Decimal | None = None
    per_line: Decimal | None = None
    fraction: Decimal = field(init=False, default=ZERO, repr=False)
    rate: Decimal = field(init=False, default=ZERO, repr=False)

    def __post_init__(self) -> None:
        given = [v for v in (self.percent, self.per_unit, self.per_line) if v is not None]
        if len(given) != 1:
            raise InvalidInput("one_of_percent_per_unit_per_line")
        if given[0] < 0 or self.start < 0:
            raise InvalidInput("negative", facts={"value": min(given[0], self.start)})
        if self.percent is not None and self.percent > HUNDRED:
            raise InvalidInput("out_of_range", path="percent", facts={"value": self.percent})
        object.__setattr__(self, "fraction", (self.percent or ZERO).scaleb(-2, EXACT))
        object.__setattr__(self, "rate", given[0])


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
    _plain: "tuple[Reached, ...]" = field(init=False, repr=False, compare=False)

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
        plain = tuple(Reached(tier) for tier in range(-1, len(self.tiers)))
        object.__setattr__(self, "_plain", plain)

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

    def reached(self, measured: tuple[Decimal, Decimal]) -> int:
        """The index of the greatest tier that a measure reaches; -1 for none.

        Compared by multiplying: 37 pieces in boxes of 12 do not reach 3.0834 boxes.
        """
        top, under = measured
        index = -1
        for tier in self.tiers:
            start = tier.start if under is ONE else EXACT.multiply(tier.start, under)
            if top < start:
                break
            index += 1
        return index

    def gives_more(self, tier: int, than: int) -> bool:
        """Whether a tier's own rate is greater than another's; one of another kind always is."""
        if than < 0:
            return self.tiers[tier].rate > 0
        one, other = self.tiers[tier], self.tiers[than]
        if (one.percent is None) != (other.percent is None):
            return one.rate > 0
        return one.rate > other.rate

    def standing_at(self, measured: tuple[Decimal, Decimal]) -> "Reached":
        """The tier that a measure reaches; of a graduated rule, what it then takes of everything.

        >>> rule = DiscountRule(id="R", graduated=True, tiers=(
        ...     Tier(start=Decimal(100), percent=Decimal(10)),
        ...     Tier(start=Decimal(200), percent=Decimal(20))))
        >>> rule.standing_at((Decimal(250), Decimal(1)))  # 10 % of 100 and 20 % of 50: 20 of 250
        Reached(tier=1, percent=Decimal('20.00'), per_unit=Decimal('0'), under=Decimal('250'))
        """
        tier = self.reached(measured)
        top, under = measured
        if tier < 0 or not self.graduated or not top:
            return self._plain[tier + 1]
        percent = per_unit = ZERO
        for n in range(tier + 1):
            step = self.tiers[n]
            end = EXACT.multiply(self.tiers[n + 1].start, under) if n < tier else top
            part = EXACT.subtract(end, EXACT.multiply(step.start, under))
            if step.per_unit is None:
                percent = EXACT.add(percent, EXACT.multiply(part, step.fraction))
            else:
                per_unit = EXACT.add(per_unit, EXACT.multiply(part, step.per_unit))
        return Reached(tier, percent, per_unit, top)


class Reached(NamedTuple):
    """Where a rule stands: its tier, -1 for none.

    A graduated rule takes ``percent / under`` of every amount and ``per_unit / under`` of every unit,
    whatever the line: the sum of each part of the measure times what its tier gives, over the measure.
    """

    tier: int
    percent: Decimal = ZERO
    per_unit: Decimal = ZERO
    under: Decimal = ONE
