"""What customers have ordered and not been billed for yet."""

from collections.abc import Iterable
from decimal import Decimal

from apps.customers.standing import AHEAD, Ahead
from apps.orders.models import DeliveryLine, Order


def ahead(customers: Iterable[int]) -> list[Ahead]:
    """Orders that are not wholly invoiced, split into delivered and not. Two queries."""
    columns = ("customer_id", "currency", "payable", "invoiced", "lines_net", "shipped_quantity")
    rows = Order.objects.filter(customer_id__in=list(customers), billed=False).only(*columns)
    pending = list(rows)
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
    rows = DeliveryLine.objects.filter(order_line__order_id__in=orders).values_list(
        "order_line__order_id", "quantity", "order_line__quantity", "order_line__net"
    )
    sums: dict[int, Decimal] = {}
    for order, shipped, ordered, net in rows:
        sums[order] = sums.get(order, Decimal(0)) + net * shipped / ordered
    return sums


AHEAD.append(ahead)
