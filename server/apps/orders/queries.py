"""Orders and where they stand. The state follows from rows; nobody sets it."""

from collections.abc import Mapping
from datetime import date
from decimal import Decimal

from django.conf import settings
from django.db.models import Case, Count, DecimalField, F, QuerySet, Sum, Value, When
from django.db.models.functions import Round

from apps.errors import Invalid
from apps.orders.models import Order
from routecore.money import minor_digits

#: States in the order in which an order passes them; a cancelled one passes no further.
STATES = (
    *("ready", "waiting", "under_way", "refused", "held", "taken"),
    *("part_shipped", "shipped", "part_invoiced", "invoiced", "part_paid", "paid", "credited"),
    "cancelled",
)
CANCELLED = "cancelled"


#: Fields of an order that its state follows from.
OF_THE_STATE = (
    *("cancelled_at", "handover_state", "goods_quantity", "shipped_quantity"),
    *("payable", "invoiced", "settled", "credited"),
)


def state_of(order: Order) -> str:
    """The state of an order."""
    if order.cancelled_at is not None:
        return CANCELLED
    return derive_state(
        handover=order.handover_state or None,
        goods=order.goods_quantity,
        shipped=order.shipped_quantity,
        payable=order.payable,
        invoiced=order.invoiced,
        settled=order.settled,
        credited=order.credited,
    )


def derive_state(
    *,
    handover: str | None,
    goods: Decimal,
    shipped: Decimal,
    payable: Decimal,
    invoiced: Decimal,
    settled: Decimal,
    credited: Decimal,
) -> str:
    """The furthest state that the facts support. ``shipped`` counts goods as ordered.

    ``credited`` is what credit notes settled of ``settled``: nobody paid that.
    """
    if settled and settled >= payable:
        return "paid" if settled > credited else "credited"
    if settled > credited:
        return "part_paid"
    if invoiced:
        return "invoiced" if invoiced >= payable else "part_invoiced"
    if shipped:
        return "shipped" if shipped >= goods else "part_shipped"
    return handover or "ready"


def worth_of(rows: QuerySet[Order], rates: Mapping[str, Decimal], on: date) -> tuple[int, Decimal]:
    """How many orders, and their payables in the base currency at a day's rates: each rounded, added.

    The database rounds as ``routecore.money.round_amount`` does. One query. Raises ``Invalid`` for a
    currency without a rate.
    """
    rate = Case(
        *(When(currency=currency, then=Value(rate)) for currency, rate in rates.items()),
        output_field=DecimalField(max_digits=18, decimal_places=6),
    )
    worth = Round(F("payable") * rate, minor_digits(settings.BASE_CURRENCY))
    exact = DecimalField(max_digits=38, decimal_places=9)
    found = rows.order_by().values_list("currency")
    total, count = Decimal(0), 0
    for currency, many, sum_ in found.annotate(
        many=Count("pk"), sum_=Sum(worth, output_field=exact)
    ):
        if sum_ is None:
            raise Invalid("no_rate", path="currency", facts={"currency": currency, "on": on})
        total, count = total + sum_, count + many
    return count, total
