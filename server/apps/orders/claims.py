"""What customers have ordered: not billed for yet, and not left yet."""

from collections.abc import Iterable
from datetime import timedelta
from decimal import Decimal

from django.db.models import Sum

from apps.customers.standing import AHEAD, Ahead
from apps.customers.upkeep import OPEN
from apps.orders.models import DeliveryLine, Order, OrderLine
from apps.stock.plans import OURS, Ours
from apps.stock.promising import factors_of


def ahead(customers: Iterable[int]) -> list[Ahead]:
    """Orders that are not wholly invoiced, split into delivered and not. Two queries."""
    columns = ("customer_id", "currency", "payable", "invoiced", "lines_net", "shipped_quantity")
    rows = Order.objects.filter(customer_id__among=customers, billed=False)
    pending = list(rows.values_list("pk", *columns, named=True))
    delivered = _delivered_net([row.pk for row in pending if row.shipped_quantity])
    found = []
    for row in pending:
        share = delivered.get(row.pk, Decimal(0)) / row.lines_net if row.lines_net else Decimal(0)
        left = row.payable - row.invoiced
        shipped = min(left, max(Decimal(0), row.payable * share - row.invoiced))
        found.append(
            Ahead(
                customer=row.customer_id,
                currency=row.currency,
                not_delivered=left - shipped,
                not_invoiced=shipped,
            )
        )
    return found


def _delivered_net(orders: list[int]) -> dict[int, Decimal]:
    rows = DeliveryLine.objects.filter(order_line__order_id__among=orders).values_list(
        "order_line__order_id", "quantity", "order_line__quantity", "order_line__net"
    )
    sums: dict[int, Decimal] = {}
    for order, shipped, ordered, net in rows:
        sums[order] = sums.get(order, Decimal(0)) + net * shipped / ordered
    return sums


AHEAD.append(ahead)


def not_done(customer: int) -> tuple[str, int]:
    """How many orders of a customer are not paid."""
    return "orders", Order.objects.filter(customer=customer, paid=False).count()


OPEN.append(not_done)


#: An order without a day is wanted so many days after it was accepted.
USUAL_DAYS = timedelta(days=7)


def to_leave(items: Iterable[int]) -> list[Ours]:
    """Lines of orders whose goods have not all left, of these items. Three queries."""
    wanted = set(items)
    rows = (
        OrderLine.objects.filter(item_id__among=wanted, order__to_ship=True)
        .annotate(left_already=Sum("delivery_lines__quantity"))
        .values_list(
            *("pk", "order__number", "item_id", "depot_id", "quantity", "unit", "left_already"),
            *(
                "reserve_by",
                "promised_on",
                "wanted_on",
                "order__requested_on",
                "order__accepted_on",
            ),
        )
    )
    factors, found = factors_of(wanted), []
    for pk, number, item, depot, quantity, unit, shipped, *days, accepted in rows:
        left = (quantity - (shipped or Decimal(0))) * factors.get((item, unit), Decimal(1))
        if left > 0:
            by = next((day for day in days if day), accepted + USUAL_DAYS)
            found.append(
                Ours(line=pk, order_number=number, item=item, depot=depot, quantity=left, by=by)
            )
    return found


OURS.append(to_leave)
