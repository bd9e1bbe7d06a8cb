"""The kinds of price records that an administrator keeps: their fields, and how each is checked.

One table-driven way for all of them, so that permission, versions, the record of changes and the
preview are written once.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal, InvalidOperation
import json
from typing import Any

from django.db.models import Model, QuerySet

from apps.catalogue.models import ExchangeRate, Item, ItemGroup, PriceEntry, PriceList, Unit
from apps.customers.models import Customer
from apps.errors import Invalid
from apps.people.models import ROLES
from apps.prices.models import Agreement, CustomerPrice, DiscountRule, Limit
from apps.prices.queries import core_rule, core_tier
from routecore import pricing
from routecore.errors import CoreError
from routecore.money import minor_digits
from routecore.pricing.rules import MEASURES, SPANS


@dataclass(frozen=True, slots=True, kw_only=True)
class Field:
    """A field: its name, the words over it, its type, and whether it may be empty.

    ``kind``: ``text``, ``decimal``, ``date``, ``flag``, ``tiers``, ``choice`` (one of ``choices``),
    or a reference by code: ``item``, ``unit``, ``customer``, ``list``, ``group``.
    """

    name: str
    label: str
    kind: str = "text"
    needed: bool = True
    choices: tuple[str, ...] = ()
    digits: int = 6


@dataclass(frozen=True, slots=True, kw_only=True)
class Kind:
    """A kind of record: its table, its fields, what a search looks at, how the core checks it."""

    name: str
    label: str
    model: type[Model]
    fields: tuple[Field, ...]
    search: tuple[str, ...]
    order: tuple[str, ...]
    check: Callable[[Any], object]
    overlap: tuple[str, ...] = ()
    joins: tuple[str, ...] = field(default=())

    def rows(self) -> QuerySet[Any]:
        """Every record, in order."""
        rows = self.model._default_manager.all()
        return rows.select_related(*self.joins).order_by(*self.order)


REFERENCES: dict[str, tuple[type[Model], str]] = {
    "item": (Item, "code"),
    "unit": (Unit, "code"),
    "customer": (Customer, "number"),
    "list": (PriceList, "code"),
    "group": (ItemGroup, "code"),
}


def _check_entry(row: Any) -> object:
    currency = getattr(row, "currency", "")
    if currency:
        minor_digits(currency)
    factors = {unit.unit_id: unit.factor for unit in row.item.units.all()}
    if row.unit_id != row.item.base_unit_id and row.unit_id not in factors:
        raise Invalid("unknown_unit", "The item is not sold in this unit.", path="unit")
    return pricing.PriceEntry(
        item=row.item.code,
        unit=row.unit_id,
        price=row.price,
        per=row.per,
        from_quantity=getattr(row, "from_quantity", Decimal(0)),
        valid_from=row.valid_from,
        valid_to=row.valid_to,
    )


def _check_agreement(row: Any) -> object:
    if row.quantity <= 0:
        raise Invalid("not_positive", "The agreed quantity is more than nothing.", path="quantity")
    return _check_entry(row)


def _check_limit(row: Any) -> object:
    for name in ("line_percent", "document_percent", "margin_floor"):
        value = getattr(row, name)
        if value is not None and not 0 <= value <= 100:
            raise Invalid("out_of_range", "A percent lies between 0 and 100.", path=name)
    if row.group and not ItemGroup.objects.filter(code=row.group).exists():
        raise Invalid("unknown", f"There is no item group {row.group}.", path="group")
    return row


def _check_rate(row: Any) -> object:
    minor_digits(row.currency)
    return pricing.Rate(currency=row.currency, to=row.currency, rate=row.rate, on=row.on)


PRICE = (
    Field(name="price", label="Price", kind="decimal"),
    Field(name="per", label="per", kind="decimal"),
)
VALID = (
    Field(name="valid_from", label="Valid from", kind="date", needed=False),
    Field(name="valid_to", label="to", kind="date", needed=False),
)
GOODS = (
    Field(name="item", label="Item", kind="item"),
    Field(name="unit", label="Unit", kind="unit"),
)
FROM = Field(name="from_quantity", label="From", kind="decimal")

KINDS = {
    kind.name: kind
    for kind in (
        Kind(
            name="entries",
            label="Price lists",
            model=PriceEntry,
            fields=(Field(name="price_list", label="List", kind="list"), *GOODS, FROM, *PRICE, *VALID),
            search=("item__code", "item__name", "price_list__code", "price_list__name"),
            order=("price_list__code", "item__code", "from_quantity", "valid_from", "pk"),
            check=_check_entry,
            overlap=("price_list_id", "item_id", "unit_id", "from_quantity"),
            joins=("price_list", "item"),
        ),
        Kind(
            name="customer_prices",
            label="Customer prices",
            model=CustomerPrice,
            fields=(
                Field(name="customer", label="Customer", kind="customer"),
                *GOODS,
                Field(name="currency", label="Currency"),
                FROM,
                *PRICE,
                *VALID,
                Field(name="discountable", label="Rules apply", kind="flag"),
            ),
            search=("customer__name", "customer__number", "item__code", "item__name"),
            order=("customer__name", "item__code", "from_quantity", "pk"),
            check=_check_entry,
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
                *GOODS,
                Field(name="currency", label="Currency"),
                Field(name="quantity", label="Quantity", kind="decimal"),
                *PRICE,
                Field(name="valid_from", label="Valid from", kind="date"),
                Field(name="valid_to", label="to", kind="date"),
                Field(name="discountable", label="Rules apply", kind="flag"),
            ),
            search=("number", "customer__name", "item__code", "item__name"),
            order=("number",),
            check=_check_agreement,
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
            ),
            search=("role", "group"),
            order=("role", "group"),
            check=_check_limit,
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
            check=_check_rate,
        ),
    )
}  # fmt: skip


def shown(row: Any, spec: Field) -> str:
    """A field's value as text: codes for references, plain decimals, ISO dates."""
    value = getattr(row, spec.name)
    if value is None:
        return ""
    if spec.kind in REFERENCES:
        return str(getattr(value, REFERENCES[spec.kind][1]))
    if spec.kind == "decimal":
        return f"{Decimal(value).normalize():f}"
    if spec.kind == "flag":
        return "yes" if value else "no"
    if spec.kind == "tiers":
        return "; ".join(_tier_words(tier) for tier in value)
    return value.isoformat() if isinstance(value, date) else str(value)


UNITS_OF_TIERS = {"percent": "%", "per_unit": "a unit", "per_line": "a line"}


def _tier_words(tier: Mapping[str, str]) -> str:
    """A tier as people type it.

    >>> _tier_words({"from": "100", "percent": "5"})
    'from 100: 5 %'
    """
    name, value = next((k, v) for k, v in tier.items() if k != "from")
    return f"from {tier['from']}: {value} {UNITS_OF_TIERS[name]}"


#: What reading a value that makes no sense raises: numbers, dates, tiers as words or as JSON.
UNREADABLE = (ValueError, InvalidOperation, LookupError, TypeError, StopIteration)


def read_value(spec: Field, text: str) -> Any:
    """What was typed, as the column's value; raises ``Invalid`` with the field's path."""
    plain = text.strip()
    if not plain:
        if spec.needed and spec.kind != "flag":
            raise Invalid("required", f"{spec.label} is needed.", path=spec.name)
        return {"flag": False, "text": ""}.get(spec.kind)
    if spec.kind in REFERENCES:
        model, column = REFERENCES[spec.kind]
        found = model._default_manager.filter(**{column: plain}).first()
        if found is None:
            raise Invalid("unknown", f"There is no {spec.kind} {plain}.", path=spec.name)
        return found
    readers: dict[str, Callable[[], Any]] = {
        "decimal": lambda: _decimal(plain, spec.digits),
        "date": lambda: date.fromisoformat(plain),
        "flag": lambda: plain.lower() in ("yes", "true", "1"),
        "tiers": lambda: _tiers(plain),
        "choice": lambda: _choice(plain, spec.choices),
    }
    try:
        value = readers.get(spec.kind, lambda: plain)()
    except UNREADABLE as error:
        raise Invalid(
            "unreadable", f"{spec.label}: {plain} cannot be read.", path=spec.name
        ) from error
    if spec.kind == "text" and len(plain) > 80:
        raise Invalid("too_long", f"{spec.label} is too long.", path=spec.name)
    return value


def _decimal(text: str, digits: int) -> Decimal:
    value = Decimal(text)
    if not value.is_finite() or abs(value) >= 10**9 or value < 0:
        raise ValueError(text)
    if value != round(value, digits):
        raise ValueError(text)
    return value


def _choice(text: str, choices: tuple[str, ...]) -> str:
    if text not in choices:
        raise ValueError(text)
    return text


def _tiers(text: str) -> list[dict[str, str]]:
    """Tiers as typed, or as JSON: "from 100: 5 %; from 500: 8 %"."""
    if text.startswith("["):
        tiers = json.loads(text)
    else:
        tiers = [_typed_tier(part) for part in text.split(";") if part.strip()]
    for tier in tiers:
        core_tier(tier)
    return list(tiers)


def _typed_tier(text: str) -> dict[str, str]:
    start, _, gives = text.strip().lower().removeprefix("from").partition(":")
    words = gives.split()
    value = words[0].rstrip("%")
    rest = " ".join(words[1:]) or "%"
    name = next(key for key, word in UNITS_OF_TIERS.items() if word == rest)
    return {"from": f"{_decimal(start.strip(), 6)}", name: f"{_decimal(value, 6)}"}


def check_row(kind: Kind, row: Any) -> None:
    """Let the core judge the record; its refusal becomes ``Invalid`` at the field."""
    try:
        kind.check(row)
    except CoreError as error:
        path = {"from_quantity": "from_quantity"}.get(error.path, error.path)
        raise Invalid(
            error.code, error.code.replace("_", " ").capitalize() + ".", path=path
        ) from error
    if kind.overlap:
        _refuse_overlap(kind, row)


def _refuse_overlap(kind: Kind, row: Any) -> None:
    """Two prices for the same, from the same day: nobody could say which holds."""
    same = {name: getattr(row, name) for name in kind.overlap}
    others = kind.model._default_manager.filter(**same, valid_from=row.valid_from).exclude(
        pk=row.pk
    )
    if others.exists():
        raise Invalid(
            "overlap",
            "There is a price for the same from the same day already; change that one.",
            path="valid_from",
        )
