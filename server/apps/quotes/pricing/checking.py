"""One line's price, asked outside any quote."""

from datetime import date
from decimal import Decimal
from typing import Any

from apps.catalogue.models import Item
from apps.catalogue.queries import core_items, tax_table
from apps.customers.models import Customer
from apps.errors import Invalid
from apps.prices.queries import price_book
from apps.quotes.pricing.question import stored_form
from routecore.errors import CoreError
from routecore.totals import DocumentTerms, Line, price_document


def check_price(
    customer: Customer, item: Item, quantity: Decimal, unit: str, on: date
) -> dict[str, Any]:
    """The stored form of a document with this one line; raises ``Invalid`` for a foreign unit."""
    goods = core_items([item.pk], customer.tax_category_id)[item.pk]
    try:
        line = Line(id="1", item=goods, quantity=quantity, unit=unit)
    except CoreError as error:
        raise Invalid.of(error, path="unit") from error
    terms = DocumentTerms(on=on, currency=customer.currency, payable_step=customer.payable_step)
    return stored_form(
        price_document(terms, price_book(customer, [item.pk], on), [line], tax_table())
    )
