"""What customers bought of each item, day by day, as their invoices tell it."""

from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal

from apps.catalogue.queries import core_items
from apps.customers.models import Customer
from apps.ledger.models import INVOICE, InvoiceLine
from routecore.pricing import Item
from routecore.regulars import Purchase

#: How far back one looks, in months, unless another period is asked for.
USUAL_PERIOD = 24


@dataclass(slots=True)
class Bought:
    """One item as it was bought: by day in the base unit, with what was paid in the buyer's currency.

    ``by`` are the customers of a group who bought it.
    """

    item: Item
    purchases: list[Purchase] = field(default_factory=list)
    by: set[int] = field(default_factory=set)


def buyers_of(customer: Customer, *, group: bool) -> list[int]:
    """The customer, or all of its group: the parent and its members."""
    if not group:
        return [customer.pk]
    head = customer.parent_id or customer.pk
    return [head, *Customer.objects.filter(parent_id=head).values_list("pk", flat=True)]


#: Of an invoice's line: what it bills, of which day and money, and how much left with it.
_LINE = (
    *("order_line__item_id", "invoice__customer_id", "invoice__on", "invoice__currency", "net"),
    *("delivery_line__quantity", "order_line__quantity", "order_line__unit"),
)


def bought(
    customers: Iterable[int],
    since: date,
    until: date,
    currency: str,
    *,
    tax_category: str | None = None,
) -> dict[int, Bought]:
    """By item, what these customers bought between two days, inclusive. Three queries.

    What was paid in another currency than the one asked for counts as a purchase without a price.
    """
    found = _lines(customers, since, until)
    items = core_items({row[0] for row in found}, tax_category)
    result: dict[int, Bought] = {}
    for row in found:
        entry = result.setdefault(row[0], Bought(items[row[0]]))
        _take(entry, row, currency)
    return {item: entry for item, entry in result.items() if entry.purchases}


def bought_each(customers: Iterable[int], since: date, until: date) -> dict[int, dict[int, Bought]]:
    """By customer and item, what each of these bought, without prices. Three queries."""
    found = _lines(customers, since, until)
    items = core_items({row[0] for row in found})
    result: dict[int, dict[int, Bought]] = {}
    for row in found:
        own = result.setdefault(row[1], {})
        _take(own.setdefault(row[0], Bought(items[row[0]])), row, "")
    return {
        buyer: {item: entry for item, entry in own.items() if entry.purchases}
        for buyer, own in result.items()
    }


_Row = tuple[int, int, date, str, Decimal, Decimal | None, Decimal, str]


def _lines(customers: Iterable[int], since: date, until: date) -> list[_Row]:
    """The invoice lines of these customers that bill goods of an order, oldest first. One query."""
    rows = InvoiceLine.objects.filter(
        invoice__customer_id__among=customers,
        invoice__on__range=(since, until),
        invoice__kind=INVOICE,
        order_line__isnull=False,
    )
    return list(rows.order_by("invoice__on", "pk").values_list(*_LINE))


def _take(entry: Bought, row: _Row, currency: str) -> None:
    """Count a line as a purchase; not where the item has lost the unit meanwhile: who knows how much it was."""
    _, buyer, on, paid_in, net, shipped, ordered, unit = row
    units = entry.item.units
    if not units.knows(unit):
        return
    quantity = units.in_base(shipped if shipped is not None else ordered, unit)
    paid = net if paid_in == currency else Decimal(0)
    entry.purchases.append(Purchase(on=on, quantity=quantity, net=paid))
    entry.by.add(buyer)
