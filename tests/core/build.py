"""Short ways to build what the core takes; every value that matters to a test is written there."""

from collections.abc import Sequence
from datetime import date
from decimal import Decimal

from routecore.pricing import Item, PriceBook, PriceEntry, PriceList
from routecore.quantity import Units
from routecore.totals import (
    Charge,
    DocumentDiscount,
    DocumentTerms,
    Line,
    PricedDocument,
    TaxComponent,
    price_document,
)

D = Decimal
DAY = date(2026, 3, 2)
VAT = {"standard": (TaxComponent(name="VAT", percent=D(20)),)}


def item(code: str = "POST", **given: object) -> Item:
    """An item by the piece."""
    units = Units(base=str(given.pop("base", "H87")), factors=given.pop("factors", {}))  # type: ignore[arg-type]
    return Item(id=code, units=units, **given)  # type: ignore[arg-type]


def entry(price: str, *, code: str = "POST", **given: object) -> PriceEntry:
    """A price per piece."""
    return PriceEntry(item=code, unit=str(given.pop("unit", "H87")), price=D(price), **given)  # type: ignore[arg-type]


def book(*entries: PriceEntry, **given: object) -> PriceBook:
    """One base list in EUR; prices, agreements, rules, rates, customer and policy as given."""
    lists = {"base": PriceList(id="base", currency="EUR", entries=entries)}
    return PriceBook(lists=lists, **given)  # type: ignore[arg-type]


def line(goods: Item, quantity: str, **given: object) -> Line:
    """A line in the item's base unit unless told otherwise."""
    unit = str(given.pop("unit", goods.units.base))
    return Line(
        id=str(given.pop("id", "1")),
        item=goods,
        quantity=D(quantity),
        unit=unit,
        **given,  # type: ignore[arg-type]
    )


def price(
    lines: Sequence[Line],
    prices: PriceBook,
    *,
    percent: str = "",
    amount: str = "",
    on: str = "net",
    charges: tuple[Charge, ...] = (),
    step: str = "",
    currency: str = "EUR",
    taxes: dict[str, tuple[TaxComponent, ...]] | None = None,
    tax_rounding: str = "document",
) -> PricedDocument:
    """The priced document of the test's day."""
    discount = None
    if percent or amount:
        discount = DocumentDiscount(
            percent=D(percent) if percent else None,
            amount=D(amount) if amount else None,
            on=on,
        )
    terms = DocumentTerms(
        on=DAY,
        currency=currency,
        payable_step=D(step) if step else None,
        tax_rounding=tax_rounding,
        discount=discount,
        charges=charges,
    )
    return price_document(terms, prices, lines, VAT if taxes is None else taxes)
