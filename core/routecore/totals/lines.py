"""A line, and what it comes to."""

from dataclasses import dataclass, field
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.money import CONTEXT, HUNDRED, ZERO, percent_of, round_amount
from routecore.pricing import FoundPrice, Item, PassedOver, PriceBook, Step, find_price
from routecore.totals.terms import DocumentTerms

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

    @property
    def base_quantity(self) -> Decimal:
        """The quantity in the item's base unit."""
        return self.item.units.convert(self.quantity, self.unit, self.item.units.base)


@dataclass(frozen=True, slots=True, kw_only=True)
class PricedLine:
    """What a line comes to. Where no price holds, price and amounts are None.

    ``amount`` is quantity times price, ``discount`` what comes off it, ``net`` the rest: rounded,
    and adding up. ``margin`` is after the line's share of the document discount.
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
    document_discount_share: Decimal = ZERO
    cost: Decimal | None = None
    margin: Decimal | None = None
    margin_percent: Decimal | None = None
    steps: tuple[Step, ...] = ()
    passed_over: tuple[PassedOver, ...] = ()
    found: FoundPrice | None = field(default=None, compare=False, repr=False)


def price_line(line: Line, book: PriceBook, terms: DocumentTerms) -> PricedLine:
    """The line's price, discount, net and cost, before any document discount.

    Rounds once, at the net: quantity times price less the line discount.
    """
    found = _price_of(line, book, terms)
    cost = line_cost(line, terms.currency)
    if not isinstance(found, FoundPrice):
        return PricedLine(
            id=line.id,
            unit=line.unit,
            counted=line.counted,
            cost=cost,
            steps=(Step(code="needs_price"),),
            passed_over=found,
        )
    exact = exact_amount(line.item, line.quantity, line.unit, found.price, found.per, found.unit)
    off = line_discount(line, exact)
    amount = round_amount(exact, terms.currency)
    net = round_amount(CONTEXT.subtract(exact, off), terms.currency)
    steps = found.steps
    if off:
        steps = (
            *steps,
            Step(code="line_discount", value=amount - net, percent=line.discount_percent),
        )
    return PricedLine(
        id=line.id,
        unit=found.unit,
        counted=line.counted,
        price=found.price,
        per=found.per,
        source=found.source,
        amount=amount,
        discount=amount - net,
        net=net,
        cost=cost,
        steps=steps,
        passed_over=found.passed_over,
        found=found,
    )


def _price_of(
    line: Line, book: PriceBook, terms: DocumentTerms
) -> FoundPrice | tuple[PassedOver, ...]:
    rule = find_price(
        book, line.item, line.quantity, line.unit, on=terms.on, currency=terms.currency
    )
    if line.price is None:
        return rule
    replaced = (
        (
            PassedOver(
                source=rule.source,
                reason="replaced",
                price=rule.price,
                per=rule.per,
                unit=rule.unit,
            ),
            *rule.passed_over,
        )
        if isinstance(rule, FoundPrice)
        else rule
    )
    step = Step(code="typed", source="typed", value=line.price, per=Decimal(1), unit=line.unit)
    return FoundPrice(
        price=line.price,
        per=Decimal(1),
        unit=line.unit,
        source="typed",
        steps=(step,),
        passed_over=replaced,
    )


def exact_amount(
    item: Item, quantity: Decimal, unit: str, price: Decimal, per: Decimal, price_unit: str
) -> Decimal:
    """Quantity times price, unrounded; the quantity is converted to the price's unit."""
    counted = item.units.convert(quantity, unit, price_unit)
    return CONTEXT.divide(CONTEXT.multiply(counted, price), per)


def line_discount(line: Line, exact: Decimal) -> Decimal:
    """What the typed discount takes off an exact amount; never more than the amount."""
    if line.discount_percent is not None:
        return percent_of(exact, line.discount_percent)
    return min(line.discount_amount or ZERO, exact)


def line_cost(line: Line, currency: str) -> Decimal | None:
    """Quantity times the item's cost per base unit, rounded; None where the cost is unknown."""
    if line.item.cost is None:
        return None
    return round_amount(CONTEXT.multiply(line.base_quantity, line.item.cost), currency)
