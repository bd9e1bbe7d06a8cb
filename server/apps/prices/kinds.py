"""The kinds of price records that an administrator keeps: their fields, and how each is checked.

One table-driven way for all of them, so that permission, versions, the record of changes and the
preview are written once.
"""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from django.db.models import Model, Q, QuerySet

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
from apps.catalogue.queries import WORDS as ITEM_WORDS
from apps.customers.models import Customer
from apps.customers.queries import WORDS as CUSTOMER_WORDS
from apps.errors import Invalid
from apps.listing import pointing
from apps.people.models import ROLES
from apps.prices import checks
from apps.prices.fields import Field
from apps.prices.models import Agreement, CustomerPrice, DiscountRule, Limit
from apps.prices.queries import core_rule, with_remaining
from apps.searching import MOST_WORDS
from apps.words import record_words
from routecore.errors import CoreError
from routecore.pricing.rules import MEASURES, SPANS


@dataclass(frozen=True, slots=True, kw_only=True)
class Kind:
    """A kind of record: its table, its fields, what a search looks at, how the core checks it.

    ``words`` are looked for in the columns of ``search`` and, by their word index, in what ``found``
    points at. ``overlap`` names what two records must not share from the same day; ``fixed`` the fields that
    stay as they were made, because documents were counted with them. ``count`` adds what is told.
    """

    name: str
    model: type[Model]
    fields: tuple[Field, ...]
    search: tuple[str, ...]
    found: tuple[str, ...]
    order: tuple[str, ...]
    check: Callable[[Any], object]
    overlap: tuple[str, ...] = ()
    fixed: tuple[str, ...] = ()
    joins: tuple[str, ...] = field(default=())
    children: tuple[str, ...] = ()
    count: Callable[[QuerySet[Any]], QuerySet[Any]] | None = None
    most: int = 80

    @property
    def keyed_by_text(self) -> bool:
        """Whether a record's key is a code, not a number."""
        return self.model._meta.pk.get_internal_type() == "CharField"

    @property
    def of_customers(self) -> bool:
        """Whether its records belong to one customer, or may."""
        return any(spec.kind == "customer" for spec in self.fields)

    @property
    def label(self) -> str:
        """What records of this kind are called."""
        return record_words()["kinds"][self.name]

    def rows(self) -> QuerySet[Any]:
        """Every record, in order."""
        return self.model._default_manager.order_by(*self.order)

    def shown(self) -> QuerySet[Any]:
        """Records with what is told and read beside them."""
        rows = self.model._default_manager.all()
        rows = self.count(rows) if self.count else rows
        return rows.select_related(*self.joins).prefetch_related(*self.children)

    def searched(self, rows: QuerySet[Any], words: str) -> QuerySet[Any]:
        """The records that hold every word, in their own columns or in what they point at."""
        for word in words.split()[:MOST_WORDS]:
            match = Q()
            for column in self.search:
                match |= _holding(self.model, column, word)
            for path in self.found:
                match |= pointing(path, _named(path, word))
            rows = rows.filter(match)
        return rows


def _holding(model: type[Model], column: str, word: str) -> Q:
    """Records with a word in a column of their own, or of one of the few that they belong to."""
    path, _, other = column.partition("__")
    if not other:
        return Q(**{f"{column}__icontains": word})
    related: Any = model._meta.get_field(path).related_model
    rows = related._default_manager.filter(**{f"{other}__icontains": word})
    return pointing(path, rows)


def _named(path: str, word: str) -> QuerySet[Any]:
    """The customers or items, sold or not, that a word names."""
    if path == "customer":
        return CUSTOMER_WORDS.holding(Customer.objects.active(), word)
    return ITEM_WORDS.holding(Item.objects.all(), word)


PRICE = (
    Field(name="price", kind="decimal"),
    Field(name="per", kind="decimal"),
)
VALID = (
    Field(name="valid_from", kind="date", needed=False),
    Field(name="valid_to", kind="date", needed=False),
)
SOLD = (
    Field(name="item", kind="item"),
    Field(name="unit", kind="unit"),
)
FROM = Field(name="from_quantity", kind="decimal")

KINDS = {
    kind.name: kind
    for kind in (
        Kind(
            name="entries",
            model=PriceEntry,
            fields=(Field(name="price_list", kind="list"), *SOLD, FROM, *PRICE, *VALID),
            search=("price_list__name",),
            found=("item",),
            order=("list_code", "item_code", "from_quantity", "valid_from", "pk"),
            check=checks.entry_check,
            overlap=("price_list_id", "item_id", "unit_id", "from_quantity"),
            joins=("price_list", "item", "unit"),
        ),
        Kind(
            name="lists",
            model=PriceList,
            fields=(
                Field(name="code"),
                Field(name="name"),
                Field(name="currency"),
                Field(name="derives_from", kind="list", needed=False),
                Field(name="factor", kind="decimal"),
                Field(name="round_to", kind="decimal", needed=False),
            ),
            search=("code", "name"),
            found=(),
            order=("code",),
            check=checks.list_check,
            fixed=("code", "currency"),
            joins=("derives_from",),
        ),
        Kind(
            name="customer_prices",
            model=CustomerPrice,
            fields=(
                Field(name="customer", kind="customer"),
                *SOLD,
                Field(name="currency"),
                FROM,
                *PRICE,
                *VALID,
                Field(name="discountable", kind="flag"),
            ),
            search=(),
            found=("customer", "item"),
            order=("customer__name", "item__code", "from_quantity", "pk"),
            check=checks.entry_check,
            overlap=("customer_id", "item_id", "unit_id", "currency", "from_quantity"),
            joins=("customer", "item", "unit"),
        ),
        Kind(
            name="agreements",
            model=Agreement,
            fields=(
                Field(name="number"),
                Field(name="customer", kind="customer"),
                *SOLD,
                Field(name="currency"),
                Field(name="quantity", kind="decimal", needed=False),
                Field(name="amount", kind="decimal", needed=False),
                Field(name="called_off", kind="told", needed=False),
                Field(name="remaining", kind="told", needed=False),
                *PRICE,
                Field(name="valid_from", kind="date"),
                Field(name="valid_to", kind="date"),
                Field(name="discountable", kind="flag"),
            ),
            search=("number",),
            found=("customer", "item"),
            order=("number",),
            count=with_remaining,
            check=checks.agreement_check,
            joins=("customer", "item", "unit"),
        ),
        Kind(
            name="rules",
            model=DiscountRule,
            fields=(
                Field(name="position", kind="decimal", digits=0),
                Field(name="code"),
                Field(name="name"),
                Field(name="customer", kind="customer", needed=False),
                Field(name="customer_tier", needed=False),
                Field(name="item", kind="item", needed=False),
                Field(name="group", kind="group", needed=False),
                Field(name="measure", kind="choice", choices=MEASURES),
                Field(name="unit", kind="unit", needed=False),
                Field(name="over", kind="choice", choices=SPANS),
                Field(name="tiers", kind="tiers"),
                Field(name="graduated", kind="flag"),
                Field(name="exclusive", kind="flag"),
                *VALID,
            ),
            search=("code", "name", "group__name"),
            found=("customer", "item"),
            order=("position", "pk"),
            check=core_rule,
            joins=("customer", "item", "group", "unit"),
        ),
        Kind(
            name="limits",
            model=Limit,
            fields=(
                Field(name="role", kind="choice", choices=ROLES),
                Field(name="group", needed=False),
                Field(name="line_percent", kind="decimal", needed=False, digits=4),
                Field(name="document_percent", kind="decimal", needed=False, digits=4),
                Field(name="margin_floor", kind="decimal", needed=False, digits=4),
                Field(name="credit", kind="decimal", needed=False),
            ),
            search=("role", "group"),
            found=(),
            order=("role", "group"),
            check=checks.limit_check,
        ),
        Kind(
            name="items",
            model=Item,
            fields=(
                Field(name="code"),
                Field(name="name"),
                Field(name="group", kind="group"),
                Field(name="kind", kind="choice", choices=(GOODS, SERVICE, MADE)),
                Field(name="base_unit", kind="unit"),
                Field(name="units", kind="packs", needed=False),
                Field(name="sales_unit", kind="unit"),
                Field(name="tax_category", kind="category"),
                Field(name="cost", kind="decimal", needed=False),
                Field(name="weight_kg", kind="decimal", needed=False),
                Field(name="minimum_quantity", kind="decimal", needed=False),
                Field(name="pack_multiple", kind="decimal", needed=False),
                Field(name="active", kind="flag"),
            ),
            search=("group__name",),
            found=("pk",),
            order=("code",),
            check=checks.item_check,
            fixed=("code", "base_unit"),
            joins=("group", "base_unit", "sales_unit", "tax_category"),
            children=("units",),
            most=120,
        ),
        Kind(
            name="taxes",
            model=TaxCategory,
            fields=(
                Field(name="code"),
                Field(name="name"),
                Field(name="components", kind="taxes", needed=False),
                Field(name="reason", needed=False),
                Field(name="reason_de", needed=False),
            ),
            search=("code", "name"),
            found=(),
            order=("code",),
            check=checks.category_check,
            fixed=("code",),
            children=("components",),
            most=200,
        ),
        Kind(
            name="rates",
            model=ExchangeRate,
            fields=(
                Field(name="currency"),
                Field(name="on", kind="date"),
                Field(name="rate", kind="decimal"),
            ),
            search=("currency",),
            found=(),
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
