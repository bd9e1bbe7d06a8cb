"""A line, and what it comes to."""

from dataclasses import dataclass, field
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.exact import HUNDRED, ZERO, Ratio
from routecore.pricing import Item, PassedOver, Split, Step

KINDS = ("normal", "alternative", "optional")


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """One line of a document. ``price`` is typed, per ``unit``; a discount comes after the rules.

    Alternatives and optional lines are computed and shown, never added.
    """

    id: str
    item: Item
    quantity: Decimal
    unit: str
    kind: str = "normal"
    alternative_to: str | None = None
    price: Decimal | None = None
    discount_percent: Decimal | None = None
    discount_amount: Decimal | None = None

    def __post_init__(self) -> None:
        if self.quantity <= 0:
            raise InvalidInput("not_positive", path="quantity", facts={"value": self.quantity})
        if not self.item.units.knows(self.unit):
            raise InvalidInput("unknown_unit", path="unit", facts={"unit": self.unit})
        if self.kind not in KINDS:
            raise InvalidInput("unknown_choice", path="kind", facts={"value": self.kind})
        if self.price is not None and self.price < 0:
            raise InvalidInput("negative", path="price", facts={"value": self.price})
        if self.discount_percent is not None and not 0 <= self.discount_percent <= HUNDRED:
            raise InvalidInput(
                "out_of_range", path="discount_percent", facts={"value": self.discount_percent}
            )
        if self.discount_amount is not None and self.discount_amount < 0:
            raise InvalidInput(
                "negative", path="discount_amount", facts={"value": self.discount_amount}
            )
        if self.discount_percent is not None and self.discount_amount is not None:
            raise InvalidInput("percent_or_amount", path="discount_percent")

    @property
    def counted(self) -> bool:
        """Whether the line is part of the document's total."""
        return self.kind == "normal"


@dataclass(frozen=True, slots=True, kw_only=True)
class PricedLine:
    """What a line comes to. Where no price holds, price and amounts are None.

    ``amount`` is quantity times price, ``discount`` what comes off it, ``net`` the rest: rounded,
    and adding up. ``by_rules`` is the net that the rules alone would give, without a typed price or
    discount, in this document. ``margin`` is after the line's share of the document discount.
    ``exact_net`` and ``exact_by_rules`` are the same before they were rounded: limits are decided on
    them.
    """

    id: str
    unit: str
    counted: bool
    price: Decimal | None = None
    per: Decimal | None = None
    source: str = ""
    amount: Decimal | None = None
    discount: Decimal | None = None
    net: Decimal | None = None
    by_rules: Decimal | None = None
    document_discount_share: Decimal = ZERO
    cost: Decimal | None = None
    margin: Decimal | None = None
    margin_percent: Decimal | None = None
    steps: tuple[Step, ...] = ()
    passed_over: tuple[PassedOver, ...] = ()
    split: Split | None = None
    exact_net: Ratio | None = field(default=None, repr=False)
    exact_by_rules: Ratio | None = field(default=None, repr=False)
