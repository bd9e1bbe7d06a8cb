"""From the core's values back to a case file, so that any quote can be priced again elsewhere."""

from collections.abc import Iterable, Mapping, Sequence
from datetime import date
from decimal import Decimal

from routecore.casefile.words import plain
from routecore.casefile.writer import Json
from routecore.pricing import Customer, DiscountRule, Item, PriceBook, PriceEntry
from routecore.totals import DocumentTerms, Line, TaxComponent


def case_from(
    terms: DocumentTerms,
    book: PriceBook,
    lines: Sequence[Line],
    taxes: Mapping[str, tuple[TaxComponent, ...]],
    *,
    tax_reasons: Mapping[str, str] | None = None,
) -> Json:
    """A case that prices to the same cent; it holds what touches these lines and nothing else."""
    items = {line.item.id: line.item for line in lines}
    used = {line.item.tax_category for line in lines} | {c.tax_category for c in terms.charges}
    return _without_none(
        {
            "document": {
                "date": terms.on.isoformat(),
                "currency": terms.currency,
                "payable_rounding": plain(terms.payable_step),
                "tax_rounding": terms.tax_rounding,
            },
            "customer": _customer(book.customer),
            "items": [_item(item) for item in items.values()],
            "price_lists": _lists(book, items),
            "customer_prices": _customer_prices(book, items),
            "agreements": _agreements(book, items),
            "discount_rules": _rules(book, items.values()),
            "discount_policy": book.policy,
            "exchange_rates": _rates(book),
            "taxes": _taxes({name: parts for name, parts in taxes.items() if name in used}),
            "tax_reasons": {
                name: text for name, text in (tax_reasons or {}).items() if name in used and text
            },
            "lines": [_line(line) for line in lines],
            "document_discount": _discount(terms),
            "charges": _charges(terms),
        }
    )


def _customer_prices(book: PriceBook, items: Iterable[str]) -> list[Json]:
    """Of two that say the same, the first: the other never serves."""
    found: dict[object, Json] = {}
    for item in items:
        for _, rows in book.customer_prices(item):
            for row in rows:
                made = {**_entry(row.entry), "customer": row.customer, "currency": row.currency}
                found.setdefault((row.customer, row.currency, _place(row.entry)), made)
    return list(found.values())


def _place(entry: PriceEntry) -> object:
    return entry.item, entry.unit, entry.from_quantity, entry.valid_from


def _agreements(book: PriceBook, items: Iterable[str]) -> list[Json]:
    return [
        {
            **_entry(row.entry),
            "id": row.id,
            "customer": row.customer,
            "currency": row.currency,
            "remaining": plain(row.remaining),
            "called_off": plain(row.called_off) if row.called_off else None,
        }
        for item in items
        for row in book.agreements(item)
    ]


def _rates(book: PriceBook) -> list[Json]:
    return [
        {
            "from": rate.currency,
            "to": rate.to,
            "rate": plain(rate.rate),
            "date": rate.on.isoformat(),
        }
        for rate in book.rates()
    ]


def _taxes(taxes: Mapping[str, tuple[TaxComponent, ...]]) -> Json:
    return {
        category: [
            {"name": part.name, "percent": plain(part.percent), "on": part.on} for part in parts
        ]
        for category, parts in taxes.items()
    }


def _charges(terms: DocumentTerms) -> list[Json]:
    return [
        {
            "name": charge.name,
            "percent": plain(charge.percent),
            "amount": plain(charge.amount),
            "tax_category": charge.tax_category,
        }
        for charge in terms.charges
    ]


def _without_none(value: dict[str, object]) -> Json:
    """The same without the fields that say nothing: absent means default."""

    def clean(part: object) -> object:
        if isinstance(part, dict):
            return {key: clean(entry) for key, entry in part.items() if entry is not None}
        return [clean(entry) for entry in part] if isinstance(part, list) else part

    return {key: clean(entry) for key, entry in value.items() if entry is not None}


def _day(day: date | None) -> str | None:
    return day.isoformat() if day else None


def _customer(customer: Customer) -> Json:
    return {
        "id": customer.id or None,
        "parent": list(customer.parents) or None,
        "tier": customer.tier or None,
        "price_list": customer.price_list,
    }


def _item(item: Item) -> Json:
    factors: dict[str, Decimal] = dict(item.units.factors)
    return {
        "id": item.id,
        "group": item.group or None,
        "base_unit": item.units.base,
        "units": {unit: plain(factor) for unit, factor in factors.items()},
        "weight_kg": plain(item.weight_kg),
        "cost": plain(item.cost),
        "tax_category": item.tax_category,
        "minimum_quantity": plain(item.minimum_quantity),
        "pack_multiple": plain(item.pack_multiple),
    }


def _entry(entry: PriceEntry) -> Json:
    return {
        "item": entry.item,
        "unit": entry.unit,
        "per": plain(entry.per),
        "from": plain(entry.from_quantity),
        "price": plain(entry.price),
        "valid_from": _day(entry.valid_from),
        "valid_to": _day(entry.valid_to),
        "discountable": entry.discountable,
    }


def _lists(book: PriceBook, items: Iterable[str]) -> list[Json]:
    wanted = list(items)
    return [
        {
            "id": price_list.id,
            "currency": price_list.currency,
            "derives_from": price_list.derives_from,
            "factor": plain(price_list.factor),
            "round_to": plain(price_list.round_to),
            "entries": _entries(book, price_list.id, wanted),
        }
        for price_list, _ in book.chain
    ]


def _entries(book: PriceBook, price_list: str, items: Iterable[str]) -> list[Json]:
    found: dict[object, Json] = {}
    for item in items:
        for entry in book.entries(price_list, item):
            found.setdefault(_place(entry), _entry(entry))
    return list(found.values())


def _rules(book: PriceBook, items: Iterable[Item]) -> list[Json]:
    found: dict[str, DiscountRule] = {}
    for item in items:
        for rule in book.rules(item):
            found.setdefault(rule.id, rule)
    order = book.order()
    return [
        {
            "id": rule.id,
            "for": {"customer": rule.customer, "tier": rule.customer_tier},
            "on": {"item": rule.item, "group": rule.group},
            "measure": rule.measure,
            "unit": rule.unit,
            "over": rule.over,
            "tiers": [
                {
                    "from": plain(tier.start),
                    "percent": plain(tier.percent),
                    "per_unit": plain(tier.per_unit),
                    "per_line": plain(tier.per_line),
                }
                for tier in rule.tiers
            ],
            "graduated": rule.graduated,
            "exclusive": rule.exclusive,
            "currency": rule.currency,
            "valid_from": _day(rule.valid_from),
            "valid_to": _day(rule.valid_to),
        }
        for rule in sorted(found.values(), key=lambda rule: order[rule.id])
    ]


def _line(line: Line) -> Json:
    return {
        "id": line.id,
        "item": line.item.id,
        "quantity": plain(line.quantity),
        "unit": line.unit,
        "kind": line.kind,
        "alternative_to": line.alternative_to,
        "price": plain(line.price),
        "discount_percent": plain(line.discount_percent),
        "discount_amount": plain(line.discount_amount),
    }


def _discount(terms: DocumentTerms) -> Json | None:
    if terms.discount is None:
        return None
    return {
        "percent": plain(terms.discount.percent),
        "amount": plain(terms.discount.amount),
        "on": terms.discount.on,
    }
