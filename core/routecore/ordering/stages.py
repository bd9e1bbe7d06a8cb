"""How far a line of an order has come: told by facts, never set."""

from dataclasses import dataclass
from decimal import Decimal

from routecore.exact import ZERO

CANCELLED, ORDERED, PROMISED, SHORT = "cancelled", "ordered", "promised", "short"
PART_SHIPPED, SHIPPED = "part_shipped", "shipped"
PART_INVOICED, INVOICED, PAID, RETURNED = "part_invoiced", "invoiced", "paid", "returned"
STAGES = (
    *(CANCELLED, ORDERED, SHORT, PROMISED, PART_SHIPPED, SHIPPED),
    *(PART_INVOICED, INVOICED, PAID, RETURNED),
)


@dataclass(frozen=True, slots=True, kw_only=True)
class LineFacts:
    """What is known of a line: quantities in its own unit, money in the order's currency.

    ``billed`` is the net of its invoices, ``open_bills`` whether one of these is not settled;
    ``promised`` whether it has a day.
    """

    quantity: Decimal
    net: Decimal
    service: bool = False
    promised: bool = False
    missing: Decimal = ZERO
    shipped: Decimal = ZERO
    returned: Decimal = ZERO
    billed: Decimal = ZERO
    open_bills: bool = False


def stage_of_line(line: LineFacts) -> str:
    """The furthest stage that the facts support.

    What came back whole is returned, whatever was billed of it. A service needs no shipping.

    >>> stage_of_line(LineFacts(quantity=Decimal(4), net=Decimal(10), shipped=Decimal(1)))
    'part_shipped'
    """
    if not line.quantity:
        return CANCELLED
    if line.returned and line.returned >= line.quantity:
        return RETURNED
    if line.billed:
        if line.billed < line.net:
            return PART_INVOICED
        return INVOICED if line.open_bills else PAID
    if line.shipped:
        return SHIPPED if line.shipped >= line.quantity else PART_SHIPPED
    if line.missing:
        return SHORT
    return PROMISED if line.promised else ORDERED
