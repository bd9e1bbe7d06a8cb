"""Customers and items as the back office gets to know them."""

from collections.abc import Mapping
from typing import Any
from urllib.parse import quote

from apps.catalogue.models import Item
from apps.customers.addresses import kept
from apps.customers.models import Customer
from apps.customers.payment import payment_of
from apps.handover.gateway import Masters
from routecore.casefile.words import plain

Json = dict[str, Any]


def telling(unknown: Masters) -> dict[str, Json]:
    """By the path at which each is told, what is told of those that the back office does not know."""
    customers = Customer.objects.filter(number__in=unknown.customers).prefetch_related("addresses")
    items = (
        Item.objects.filter(code__in=unknown.items)
        .select_related("group")
        .prefetch_related("units")
    )
    return {
        **{f"/customers/{quote(row.number, safe='')}": _customer(row) for row in customers},
        **{f"/items/{quote(row.code, safe='')}": _item(row) for row in items},
    }


def _customer(row: Customer) -> Json:
    terms = payment_of(row)
    return {
        "number": row.number,
        "name": row.name,
        "currency": row.currency,
        "tax_number": row.tax_number,
        "terms": {"days": terms.terms.days, "end_of_month": terms.terms.end_of_month},
        "addresses": [
            {"kind": each.kind, **kept(each)}
            for each in row.addresses.all()
            if each.retired_at is None
        ],
    }


def _item(row: Item) -> Json:
    units: Mapping[str, object] = {each.unit_id: plain(each.factor) for each in row.units.all()}
    return {
        "code": row.code,
        "name": row.name,
        "kind": row.kind,
        "group": row.group.name if row.group else "",
        "unit": row.base_unit_id,
        "units": units,
        "tax_category": row.tax_category_id,
    }
