"""The kinds of price records that an administrator keeps: their fields, and how each is checked.

One table-driven way for all of them, so that permission, versions, the record of changes and the
preview are written once.
"""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from django.db.models import Model, QuerySet

from apps.catalogue.models import (
    GOODS,
    MADE,
    SERVICE,
    ExchangeRate,
    Item,
    PriceEntry,
    PriceList,
    TaxCategory,
)
from apps.errors import Invalid
from apps.people.models import ROLES
from apps.prices import checks
from apps.prices.fields import Field
from apps.prices.models import Agreement, CustomerPrice, DiscountRule, Limit
from apps.prices.queries import core_rule, with_remaining
from routecore.errors import CoreError
from routecore.pricing.rules import MEASURES, SPANS


@dataclass(frozen=True, slots=True, kw_only=True)
class Kind:
    """A kind of record: its table, its fields, what a search looks at, how the core checks it.

    ``overlap`` names what two records must not share from the same day; ``fixed`` the fields that
    stay as they were made, because documents were counted with them. ``count`` adds what is told.
    """

    name: str
    label: str
    model: type[Model]
    fields: tuple[Field, ...]
    search: tuple[str, ...]
    order: tuple[str, ...]
    check: Callable[[Any], object]
    overlap: tuple[str, ...] = ()
    fixed: tuple[str, ...] = ()
    joins: tuple[str, ...] = field(default=())
    children: tuple[str, ...] = ()
    count: Callable[[QuerySet[Any]], QuerySet[Any]] | None = None
    most: int = 80

    def rows(self) -> QuerySet[Any]:
        """Every record, in order."""
        rows = self.model._default_manager.all()
        rows = self.count(rows) if self.count else rows
        rows = rows.select_related(*self.joins).prefetch_related(*self.children)
        return rows.order_by(*self.order)


PRICE = (
    Field(name="price", label="Price", kind="decimal"),
    Field(name="per", label="per", kind="decimal"),
)
VALID = (
    Field(name="valid_from", label="Valid from", kind="date", needed=False),
    Field(name="valid_to", label="to", kind="date", needed=False),
)
SOLD = (
    Field(name="item", label="Item", kind="item"),
    Field(name="unit", label="Unit", kind="unit"),
)
FROM = Field(name="from_quantity", label="From", kind="decimal")

KINDS = {
    kind.name: kind
    for kind in (
        Kind(
            name="entries",
            label="List prices",
            model=PriceEntry,
            fields=(Field(name="price_list", label="List", kind="list"), *SOLD, FROM, *PRICE, *VALID),
            search=("item__code", "item__name", "price_list__code", "price_list__name"),
            order=("price_list__code", "item__code", "from_quantity", "valid_from", "pk"),
            check=checks.entry_check,
            overlap=("price_list_id", "item_id", "unit_id", "from_quantity"),
            joins=("price_list", "item"),
        ),
        Kind(
            name="lists",
            label="Price lists",
            model=PriceList,
            fields=(
                Field(name="code", label="Code"),
                Field(name="name", label="Name"),
                Field(name="currency", label="Currency"),
                Field(name="derives_from", label="Derives from", kind="list", needed=False),
                Field(name="factor", label="Factor", kind="decimal"),
                Field(name="round_to", label="Rounded to", kind="decimal", needed=False),
            ),
            search=("code", "name"),
            order=("code",),
            check=checks.list_check,
            fixed=("code", "currency"),
            joins=("derives_from",),
        ),
        Kind(
            name="customer_prices",
            label="Customer prices",
            model=CustomerPrice,
            fields=(
                Field(name="customer", label="Customer", kind="customer"),
                *SOLD,
                Field(name="currency", label="Currency"),
                FROM,
                *PRICE,
                *VALID,
                Field(name="discountable", label="Rules apply", kind="flag"),
            ),
            search=("customer__name", "customer__number", "item__code", "item__name"),
            order=("customer__name", "item__code", "from_quantity", "pk"),
            check=checks.entry_check,
            overlap=("customer_id", "item_id", "unit_id", "currency", "from_quantity"),
            joins=("customer", "item"),
        ),
        Kind(
            name="agreements",
            label="Framework agreements",
            model=Agreement,
            fields=(
                Field(name="number", label="Number"),
                Field(name="customer", label="Customer", kind="customer"),
                *SOLD,
                Field(name="currency", label="Currency"),
                Field(name="quantity", label="Quantity", kind="decimal"),
                Field(name="called_off", label="Called off", kind="told", needed=False),
                Field(name="remaining", label="Left", kind="told", needed=False),
                *PRICE,
                Field(name="valid_from", label="Valid from", kind="date"),
                Field(name="valid_to", label="to", kind="date"),
                Field(name="discountable", label="Rules apply", kind="flag"),
            ),
            search=("number", "customer__name", "item__code", "item__name"),
            order=("number",),
            count=with_remaining,
            check=checks.agreement_check,
            joins=("customer", "item"),
        ),
        Kind(
            name="rules",
            label="Discount rules",
            model=DiscountRule,
            fields=(
                Field(name="position", label="Turn", kind="decimal", digits=0),
                Field(name="code", label="Code"),
                Field(name="name", label="Name"),
                Field(name="customer", label="Customer", kind="customer", needed=False),
                Field(name="customer_tier", label="Tier", needed=False),
                Field(name="item", label="Item", kind="item", needed=False),
                Field(name="group", label="Group", kind="group", needed=False),
                Field(name="measure", label="Measures", kind="choice", choices=MEASURES),
                Field(name="unit", label="in", kind="unit", needed=False),
                Field(name="over", label="over", kind="choice", choices=SPANS),
                Field(name="tiers", label="Tiers", kind="tiers"),
                Field(name="graduated", label="Graduated", kind="flag"),
                Field(name="exclusive", label="Exclusive", kind="flag"),
                *VALID,
            ),
            search=("code", "name", "customer__name", "item__code", "group__name"),
            order=("position", "pk"),
            check=core_rule,
            joins=("customer", "item", "group"),
        ),
        Kind(
            name="limits",
            label="Limits",
            model=Limit,
            fields=(
                Field(name="role", label="Role", kind="choice", choices=ROLES),
                Field(name="group", label="Group", needed=False),
                Field(name="line_percent", label="Line %", kind="decimal", needed=False, digits=4),
                Field(name="document_percent", label="Whole %", kind="decimal", needed=False, digits=4),
                Field(name="margin_floor", label="Margin floor %", kind="decimal", needed=False, digits=4),
                Field(name="credit", label="Over the credit limit", kind="decimal", needed=False),
            ),
            search=("role", "group"),
            order=("role", "group"),
            check=checks.limit_check,
        ),
        Kind(
            name="items",
            label="Items",
            model=Item,
            fields=(
                Field(name="code", label="Code"),
                Field(name="name", label="Name"),
                Field(name="group", label="Group", kind="group"),
                Field(name="kind", label="Kind", kind="choice", choices=(GOODS, SERVICE, MADE)),
                Field(name="base_unit", label="Base unit", kind="unit"),
                Field(name="units", label="Packs", kind="packs", needed=False),
                Field(name="sales_unit", label="Sold by", kind="unit"),
                Field(name="tax_category", label="Tax", kind="category"),
                Field(name="cost", label="Cost", kind="decimal", needed=False),
                Field(name="weight_kg", label="Weight kg", kind="decimal", needed=False),
                Field(name="minimum_quantity", label="Minimum", kind="decimal", needed=False),
                Field(name="pack_multiple", label="Multiple of", kind="decimal", needed=False),
                Field(name="active", label="Sold", kind="flag"),
            ),
            search=("code", "name", "group__name"),
            order=("code",),
            check=checks.item_check,
            fixed=("code", "base_unit"),
            joins=("group", "base_unit", "sales_unit", "tax_category"),
            children=("units",),
            most=120,
        ),
        Kind(
            name="taxes",
            label="Tax categories",
            model=TaxCategory,
            fields=(
                Field(name="code", label="Code"),
                Field(name="name", label="Name"),
                Field(name="components", label="Taxes", kind="taxes", needed=False),
                Field(name="reason", label="Why none", needed=False),
                Field(name="reason_de", label="Why none, in German", needed=False),
            ),
            search=("code", "name"),
            order=("code",),
            check=checks.category_check,
            fixed=("code",),
            children=("components",),
            most=200,
        ),
        Kind(
            name="rates",
            label="Exchange rates",
            model=ExchangeRate,
            fields=(
                Field(name="currency", label="Currency"),
                Field(name="on", label="On", kind="date"),
                Field(name="rate", label="In base currency", kind="decimal"),
            ),
            search=("currency",),
            order=("currency", "-on"),
            check=checks.rate_check,
        ),
    )
}  # fmt: skip


def check_row(kind: Kind, row: Any) -> None:
    """Let the core judge the record; its refusal becomes ``Invalid`` at the field."""
    try:
        kind.check(row)
    except CoreError as error:
        raise Invalid.of(error) from error
    if kind.overlap:
        _refuse_overlap(kind, row)


def _refuse_overlap(kind: Kind, row: Any) -> None:
    """Two prices for the same, from the same day: nobody could say which holds."""
    same = {name: getattr(row, name) for name in kind.overlap}
    others = kind.model._default_manager.filter(**same, valid_from=row.valid_from).exclude(
        pk=row.pk
    )
    if others.exists():
        raise Invalid("overlap", path="valid_from")
