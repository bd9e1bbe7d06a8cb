"""Reads of the catalogue, and its rows as the core's values."""

from collections.abc import Iterable
from datetime import date
from decimal import ROUND_HALF_UP, Decimal

from django.conf import settings
from django.db.models import Case, IntegerField, Max, Q, QuerySet, Value, When

from apps.catalogue.models import (
    ExchangeRate,
    Item,
    ItemUnit,
    PriceEntry,
    PriceList,
    TaxCategory,
    TaxComponent,
    Unit,
)
from apps.errors import Invalid
from apps.searching import Index
from routecore import pricing, quantity, totals

WORDS = Index(columns=("code", "name"), first="name", numbers=("code",))
SIX_DECIMALS = Decimal("0.000001")


def find_items(words: str) -> QuerySet[Item]:
    """Active items whose code or name holds every word; those that begin with it come first."""
    rows = Item.objects.filter(active=True)
    if not words.strip():
        return rows.order_by("code")
    rows = items_named(rows, words)
    begins = Q(code__istartswith=words.strip()) | Q(name__istartswith=words.strip())
    rank = Case(When(begins, then=Value(0)), default=Value(1), output_field=IntegerField())
    return rows.order_by(rank, "code")


def items_shown() -> QuerySet[Item]:
    """Items with what a list of them reads beside them. Two queries."""
    return Item.objects.select_related("group").prefetch_related("units")


def items_named(rows: QuerySet[Item], words: str) -> QuerySet[Item]:
    """Those whose code or name holds every word."""
    return WORDS.find(rows, words)


def core_item(row: Item, tax_category: str | None = None) -> pricing.Item:
    """An item of ``items_shown`` with its units; ``tax_category`` replaces its own where given. No query."""
    factors = {each.unit_id: each.factor for each in row.units.all()}
    return pricing.Item(
        id=row.code,
        units=quantity.Units(base=row.base_unit_id, factors=factors),
        tax_category=tax_category or row.tax_category_id,
        group=row.group.code,
        **{name: getattr(row, name) for name in ITEM_FIGURES},
    )


def core_items(ids: Iterable[int], tax_category: str | None = None) -> dict[int, pricing.Item]:
    """Items by id; ``tax_category`` replaces their own where given. Two queries."""
    wanted = set(ids)
    factors: dict[int, dict[str, Decimal]] = {}
    units = ItemUnit.objects.filter(item_id__among=wanted)
    for item, unit, factor in units.values_list("item_id", "unit_id", "factor"):
        factors.setdefault(item, {})[unit] = factor
    rows = Item.objects.filter(pk__among=wanted).values(
        "pk", "code", "base_unit_id", "tax_category_id", "group__code", *ITEM_FIGURES
    )
    return {
        row["pk"]: pricing.Item(
            id=row["code"],
            units=quantity.Units(base=row["base_unit_id"], factors=factors.get(row["pk"], {})),
            tax_category=tax_category or row["tax_category_id"],
            group=row["group__code"],
            **{name: row[name] for name in ITEM_FIGURES},
        )
        for row in rows
    }


ITEM_FIGURES = ("cost", "weight_kg", "minimum_quantity", "pack_multiple")


#: What is read of an entry: whose it is, and its figures.
_ENTRY = (
    *("price_list_id", "item_code", "unit_id"),
    *("price", "per", "from_quantity", "valid_from", "valid_to"),
)


def price_lists(items: Iterable[int]) -> dict[str, pricing.PriceList]:
    """Every list, with its entries for these items. Two queries."""
    entries: dict[int, list[pricing.PriceEntry]] = {}
    rows = PriceEntry.objects.filter(item_id__among=items)
    for of_list, item, unit, *figures in rows.values_list(*_ENTRY):
        price, per, from_quantity, valid_from, valid_to = figures
        entry = pricing.PriceEntry(
            item=item,
            unit=unit,
            price=price,
            per=per,
            from_quantity=from_quantity,
            valid_from=valid_from,
            valid_to=valid_to,
        )
        entries.setdefault(of_list, []).append(entry)
    all_lists = list(PriceList.objects.all())
    codes = {row.pk: row.code for row in all_lists}
    return {
        row.code: pricing.PriceList(
            id=row.code,
            currency=row.currency,
            entries=tuple(entries.get(row.pk, ())),
            derives_from=codes[row.derives_from_id] if row.derives_from_id else None,
            factor=row.factor,
            round_to=row.round_to,
        )
        for row in all_lists
    }


def core_rates(on: date) -> list[pricing.Rate]:
    """The newest rate of each currency up to a day, to the base currency and back. Two queries.

    The house keeps what one unit of a currency is worth in the base currency; the way back is one
    divided by that, to six decimals.
    """
    base, found = settings.BASE_CURRENCY, []
    for currency, day, rate in _newest_rates(on):
        back = (1 / rate).quantize(SIX_DECIMALS, ROUND_HALF_UP)
        found.append(pricing.Rate(currency=currency, to=base, rate=rate, on=day))
        found.append(pricing.Rate(currency=base, to=currency, rate=back, on=day))
    return found


def tax_table() -> dict[str, tuple[totals.TaxComponent, ...]]:
    """Every category's components, in order; a category without any gives an empty tuple."""
    table: dict[str, tuple[totals.TaxComponent, ...]] = dict.fromkeys(
        TaxCategory.objects.values_list("code", flat=True), ()
    )
    for row in TaxComponent.objects.order_by("category_id", "position"):
        table[row.category_id] += (
            totals.TaxComponent(name=row.name, percent=row.percent.normalize(), on=row.on),
        )
    return table


def unit_names(language: str = "en") -> dict[str, str]:
    """The word for each unit code; English where the language has none."""
    rows = Unit.objects.values_list("code", "name", "name_de")
    return {code: german if language == "de" and german else name for code, name, german in rows}


def rate_on(currency: str, on: date) -> Decimal:
    """Base currency per one of this currency: the latest rate not after the day.

    Raises ``Invalid`` where there is none; money is never added without a rate.
    """
    return rates_on(on, [currency])[currency]


def rates_on(on: date, currencies: Iterable[str]) -> dict[str, Decimal]:
    """The rates of several currencies on a day. Two queries at most."""
    found = {settings.BASE_CURRENCY: Decimal(1)}
    wanted = set(currencies) - set(found)
    if wanted:
        found |= {currency: rate for currency, _, rate in _newest_rates(on, wanted)}
    for currency in wanted - set(found):
        raise Invalid("no_rate", path="currency", facts={"currency": currency, "on": on})
    return found


def newest_rates(on: date) -> dict[str, Decimal]:
    """The rate of every currency that has one, on a day. Two queries."""
    known = {currency: rate for currency, _, rate in _newest_rates(on)}
    return {settings.BASE_CURRENCY: Decimal(1), **known}


def _newest_rates(
    on: date, currencies: Iterable[str] | None = None
) -> list[tuple[str, date, Decimal]]:
    """(currency, day, rate) of the newest rate of each currency up to a day."""
    rows = ExchangeRate.objects.filter(on__lte=on)
    if currencies is not None:
        rows = rows.filter(currency__in=set(currencies))
    days = dict(rows.order_by().values_list("currency").annotate(Max("on")))
    match = Q()
    for currency, day in days.items():
        match |= Q(currency=currency, on=day)
    newest = ExchangeRate.objects.filter(match) if days else ExchangeRate.objects.none()
    return list(newest.values_list("currency", "on", "rate"))
