"""Orders and where they stand. The state follows from rows; nobody sets it."""

from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal

from django.db.models import F, OuterRef, QuerySet, Subquery, Sum
from django.db.models.functions import Coalesce

from apps.catalogue.models import SERVICE
from apps.columns import amount_column, quantity_column
from apps.ledger.models import INVOICE, Allocation, Invoice
from apps.orders.models import DeliveryLine, Order, OrderLine

#: States in the order in which an order passes them.
STATES = (
    *("ready", "waiting", "under_way", "refused", "held", "taken"),
    *("part_shipped", "shipped", "part_invoiced", "invoiced", "part_paid", "paid"),
)
FINISHED = "paid"


def _total(rows: QuerySet, key: str, value: str, column: object) -> Coalesce:  # type: ignore[type-arg]
    summed = rows.order_by().values(key).annotate(total=Sum(value)).values("total")
    return Coalesce(Subquery(summed), Decimal(0), output_field=column)  # type: ignore[arg-type]


def with_progress(rows: QuerySet[Order]) -> QuerySet[Order]:
    """Adds what the state follows from: goods ordered and shipped (in net worth of lines),
    invoiced and paid (gross), and the handover's state."""
    goods = OrderLine.objects.filter(order=OuterRef("pk")).exclude(item__kind=SERVICE)
    shipped = DeliveryLine.objects.filter(order_line__order=OuterRef("pk"))
    invoices = Invoice.objects.filter(order=OuterRef("pk"), kind=INVOICE)
    paid = Allocation.objects.filter(invoice__order=OuterRef("pk"))
    return rows.annotate(
        goods_quantity=_total(goods, "order", "quantity", quantity_column()),
        shipped_quantity=_total(shipped, "order_line__order", "quantity", quantity_column()),
        invoiced=_total(invoices, "order", "gross", amount_column()),
        settled=_total(paid, "invoice__order", "amount", amount_column()),
        handover_state=F("handover__state"),
        backoffice_number=F("handover__backoffice_number"),
    )


def state_of(order: Order) -> str:
    """The state of an order that was read ``with_progress``."""
    return derive_state(
        handover=getattr(order, "handover_state", None),
        goods=getattr(order, "goods_quantity"),
        shipped=getattr(order, "shipped_quantity"),
        payable=order.payable,
        invoiced=getattr(order, "invoiced"),
        settled=getattr(order, "settled"),
    )


def derive_state(
    *,
    handover: str | None,
    goods: Decimal,
    shipped: Decimal,
    payable: Decimal,
    invoiced: Decimal,
    settled: Decimal,
) -> str:
    """The furthest state that the facts support. ``shipped`` counts goods as ordered."""
    if settled and settled >= payable:
        return "paid"
    if settled:
        return "part_paid"
    if invoiced:
        return "invoiced" if invoiced >= payable else "part_invoiced"
    if shipped:
        return "shipped" if shipped >= goods else "part_shipped"
    return handover or "ready"


@dataclass(frozen=True)
class OpenOrder:
    """What an order still weighs in a customer's exposure, gross, in its own currency."""

    customer: int
    currency: str
    not_delivered: Decimal
    not_invoiced: Decimal


def open_orders(customers: Iterable[int]) -> list[OpenOrder]:
    """Orders that are not wholly invoiced, split into delivered and not. Three queries."""
    rows = with_progress(Order.objects.filter(customer_id__in=list(customers)))
    pending = [row for row in rows if getattr(row, "invoiced") < row.payable]
    delivered = _delivered_net([row.pk for row in pending])
    found = []
    for row in pending:
        share = delivered.get(row.pk, Decimal(0)) / row.lines_net if row.lines_net else Decimal(0)
        left = row.payable - getattr(row, "invoiced")
        shipped = min(left, max(Decimal(0), row.payable * share - getattr(row, "invoiced")))
        found.append(
            OpenOrder(
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
