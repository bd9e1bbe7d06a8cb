"""What a price record must be to make sense: the core judges, its refusal gets the field's path."""

from decimal import Decimal
from typing import Any

from apps.catalogue.models import ItemGroup
from apps.errors import Invalid
from apps.prices.fields import children_of
from routecore import pricing, quantity
from routecore.agreement import quantity_for
from routecore.money import minor_digits

MOST_DECIMALS = 3
"""What an amount's column holds."""


def currency_check(code: str) -> None:
    """A currency in use, whose amounts the tables hold: not the two with four decimals."""
    if minor_digits(code) > MOST_DECIMALS:
        facts = {"what": "decimals", "value": code, "most": MOST_DECIMALS}
        raise Invalid("unknown_currency", path="currency", facts=facts)


def entry_check(row: Any) -> object:
    """A price: its unit is one of the item's, its price and quantity are possible."""
    currency = getattr(row, "currency", "")
    if currency:
        currency_check(currency)
    factors = {unit.unit_id: unit.factor for unit in row.item.units.all()}
    if row.unit_id != row.item.base_unit_id and row.unit_id not in factors:
        raise Invalid("unknown_unit", path="unit")
    return pricing.PriceEntry(
        item=row.item.code,
        unit=row.unit_id,
        price=row.price,
        per=row.per,
        from_quantity=getattr(row, "from_quantity", Decimal(0)),
        valid_from=row.valid_from,
        valid_to=row.valid_to,
    )


def agreement_check(row: Any) -> object:
    """An agreement: a quantity, or an amount that says what quantity; and a price as any other."""
    checked = entry_check(row)
    if row.amount is not None:
        row.quantity = _bought(row)
    if row.quantity is None:
        raise Invalid("required", path="quantity")
    if row.quantity <= 0:
        raise Invalid("not_positive", path="quantity")
    return checked


def _bought(row: Any) -> Decimal:
    """What an amount buys at the agreement's price; rounded up to what a quantity's column holds."""
    if row.amount <= 0:
        raise Invalid("not_positive", path="amount")
    if row.price <= 0:
        raise Invalid("not_positive", path="price")
    return quantity_for(row.amount, row.price, row.per)


def limit_check(row: Any) -> object:
    """Limits: percents, and a group that exists."""
    for name in ("line_percent", "document_percent", "margin_floor"):
        value = getattr(row, name)
        if value is not None and not 0 <= value <= 100:
            raise Invalid("out_of_range", path=name, facts={"what": "percent"})
    if row.credit is not None and row.credit < 0:
        raise Invalid("negative", path="credit")
    if row.credit is not None and row.group:
        raise Invalid("not_for_group", path="credit")
    if row.group and not ItemGroup.objects.filter(code=row.group).exists():
        raise Invalid("unknown", path="group", facts={"value": row.group})
    return row


def rate_check(row: Any) -> object:
    """A rate: a currency that exists, and more than nothing."""
    currency_check(row.currency)
    return pricing.Rate(currency=row.currency, to=row.currency, rate=row.rate, on=row.on)


def list_check(row: Any) -> object:
    """A list: a factor above 0, and no circle of lists that derive from each other."""
    currency_check(row.currency)
    if row.factor <= 0:
        raise Invalid("not_positive", path="factor")
    if row.round_to is not None and row.round_to <= 0:
        raise Invalid("not_positive", path="round_to")
    seen, source = [row.code], row.derives_from
    while source is not None:
        if source.code in seen or source.pk == row.pk:
            circle = " → ".join([*seen, source.code])
            raise Invalid("circular_list", path="derives_from", facts={"circle": circle})
        seen.append(source.code)
        source = source.derives_from
    return row


def item_check(row: Any) -> object:
    """An item: packs with factors above 0, sold by a unit that it has."""
    units = quantity.Units(base=row.base_unit_id, factors=children_of(row, "units"))
    if not units.knows(row.sales_unit_id):
        raise Invalid("unknown_unit", path="sales_unit")
    if row.pack_multiple is not None and row.pack_multiple <= 0:
        raise Invalid("not_positive", path="pack_multiple")
    return pricing.Item(id=row.code, units=units, cost=row.cost, weight_kg=row.weight_kg)


def category_check(row: Any) -> object:
    """A tax category: its taxes, or the reason why there is none."""
    if not children_of(row, "components") and not row.reason:
        raise Invalid("reason_needed", path="reason")
    return row
