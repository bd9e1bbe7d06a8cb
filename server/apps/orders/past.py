"""What a customer paid for an item before: one point an order line, oldest first."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from apps.orders.models import OrderLine
from routecore.money import CONTEXT, round_to_step
from routecore.quantity import Units

MOST = 24
STEP = Decimal("0.0001")


@dataclass(frozen=True, slots=True, kw_only=True)
class PastPrice:
    """A price that was paid, per base unit, after all discounts; ``quantity`` in the base unit."""

    on: date
    order: str
    order_id: int
    currency: str
    quantity: Decimal
    price: Decimal


def past_prices(customer: int, item: int) -> list[PastPrice]:
    """The newest two dozen, oldest first. Three queries."""
    rows = (
        OrderLine.objects.filter(
            order__customer_id=customer, order__cancelled_at=None, item_id=item
        )
        .select_related("order", "item")
        .prefetch_related("item__units")
        .order_by("-order__accepted_on", "-pk")[:MOST]
    )
    found = []
    for row in rows:
        factors = {unit.unit_id: unit.factor for unit in row.item.units.all()}
        base = Units(base=row.item.base_unit_id, factors=factors)
        quantity = base.convert(row.quantity, row.unit, base.base)
        found.append(
            PastPrice(
                on=row.order.accepted_on,
                order=row.order.number,
                order_id=row.order_id,
                currency=row.order.currency,
                quantity=quantity,
                price=round_to_step(CONTEXT.divide(row.net - row.discount_share, quantity), STEP),
            )
        )
    return found[::-1]
