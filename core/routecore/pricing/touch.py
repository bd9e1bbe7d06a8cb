"""A discount rule bound to an item: how it measures a line, and whether it holds on the day."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal

from routecore.exact import EXACT, ONE
from routecore.pricing.goods import Item, not_valid
from routecore.pricing.rules import DiscountRule
from routecore.pricing.trail import PassedOver

#: What a rule over several lines measures: its own lines, or (over the document) all of them.
Key = str | tuple[str, str | None]


@dataclass(frozen=True, slots=True)
class Gauge:
    """What one line adds to a measure: its amount, or base units times ``weight`` over ``under``.

    ``weight`` None is the amount; an item that cannot be measured has no gauge.
    """

    weight: Decimal | None
    under: Decimal = ONE

    def read(self, base: Decimal, exact: Decimal, over: Decimal) -> tuple[Decimal, Decimal]:
        """The measure of so many base units that cost ``exact / over``, as a ratio's parts."""
        if self.weight is None:
            return exact, over
        return base if self.weight is ONE else EXACT.multiply(base, self.weight), self.under


def gauge_of(measure: str, unit: str | None, item: Item) -> Gauge | None:
    """How an item is measured; None where it cannot be (no weight, or not counted in the unit)."""
    if measure == "amount":
        return Gauge(None)
    if measure == "weight":
        return None if item.weight_kg is None else Gauge(item.weight_kg)
    if unit is None or unit == item.units.base:
        return Gauge(ONE)
    return Gauge(ONE, item.units.factors[unit]) if unit in item.units.factors else None


@dataclass(frozen=True, slots=True)
class Touch:
    """A rule that holds for an item on the day, and how it measures a line of it.

    ``counted_in`` is how many base units the unit of a discount per unit holds; None where the item
    does not have that unit, and nothing is counted.
    """

    rule: DiscountRule
    gauge: Gauge
    counted_in: Decimal | None
    key: Key | None = field(init=False)

    def __post_init__(self) -> None:
        rule = self.rule
        shared = rule.id if rule.over == "group" else (rule.measure, rule.unit)
        object.__setattr__(self, "key", None if rule.alone else shared)


def touches_of(
    rules: Sequence[DiscountRule], item: Item, on: date, currency: str
) -> tuple[tuple[Touch, ...], tuple[PassedOver, ...]]:
    """The rules that hold for an item on a day, and those that do not, with the reason."""
    holding: list[Touch] = []
    refused: list[PassedOver] = []
    for rule in rules:
        reason = not_valid(rule.valid_from, rule.valid_to, on)
        day = {"not_yet_valid": rule.valid_from, "expired": rule.valid_to}.get(reason)
        if not reason and rule.currency not in (None, currency):
            reason = "other_currency"
        gauge = None if reason else gauge_of(rule.measure, rule.unit, item)
        if gauge is not None:
            unit = rule.unit or item.units.base
            known = ONE if unit == item.units.base else item.units.factors.get(unit)
            holding.append(Touch(rule, gauge, known))
            continue
        refused.append(
            PassedOver(
                source=f"rule:{rule.id}",
                reason=reason or "not_measurable",
                day=day,
                currency=rule.currency or "" if reason == "other_currency" else "",
            )
        )
    return tuple(holding), tuple(refused)


def net_price(touches: Sequence[Touch]) -> tuple[PassedOver, ...]:
    """The rules as passed over by a price that takes no discounts."""
    return tuple(
        PassedOver(source=f"rule:{touch.rule.id}", reason="net_price") for touch in touches
    )
