"""What prices a customer's goods, as the core's values. The same number of queries for any quote."""

from collections.abc import Iterable
from datetime import date
from decimal import Decimal
from typing import Any

from django.conf import settings
from django.db.models import DecimalField, F, OuterRef, Q, QuerySet, Subquery, Sum
from django.db.models.functions import Cast, Coalesce

from apps.catalogue.models import Item, ItemUnit, PriceList
from apps.catalogue.queries import core_rates, price_lists
from apps.columns import quantity_column
from apps.customers.models import Customer
from apps.prices.models import Agreement, CustomerPrice, DiscountRule, Limit
from routecore import pricing, totals

NOTHING = Decimal(0)
ONE = Decimal(1)
MOST_PARENTS = 5


def family_of(customer: Customer) -> list[Customer]:
    """The customer and its parents, nearest first; a circle ends where it closes."""
    found = [customer]
    parent = customer.parent
    while parent is not None and len(found) <= MOST_PARENTS and parent not in found:
        found.append(parent)
        parent = parent.parent
    return found


def price_book(customer: Customer, items: Iterable[int], on: date) -> pricing.PriceBook:
    """All that can price these items for this customer on a day.

    Six queries, and one for each parent of the customer.
    """
    wanted = set(items)
    family = family_of(customer)
    return pricing.PriceBook(
        lists=price_lists(wanted),
        customer=pricing.Customer(
            id=customer.number,
            parents=tuple(row.number for row in family[1:]),
            tier=customer.tier,
            price_list=customer.price_list.code,
        ),
        customer_prices=_customer_prices(family, wanted),
        agreements=_agreements(family, wanted),
        rules=rules_for(family, wanted),
        policy=settings.DISCOUNT_POLICY,
        rates=core_rates(on),
    )


def _entry(row: dict[str, Any]) -> pricing.PriceEntry:
    return pricing.PriceEntry(
        item=row["item__code"],
        unit=row["unit_id"],
        price=row["price"],
        per=row["per"],
        from_quantity=row.get("from_quantity", NOTHING),
        valid_from=row["valid_from"],
        valid_to=row["valid_to"],
        discountable=row["discountable"],
    )


ENTRY = ("item__code", "unit_id", "price", "per", "valid_from", "valid_to", "discountable")


def _customer_prices(family: list[Customer], items: set[int]) -> list[pricing.CustomerPrice]:
    rows = CustomerPrice.objects.filter(customer__in=family, item_id__among=items).order_by("pk")
    return [
        pricing.CustomerPrice(
            customer=row["customer__number"], currency=row["currency"], entry=_entry(row)
        )
        for row in rows.values(*ENTRY, "from_quantity", "currency", "customer__number")
    ]


def _called_off(rows: QuerySet[Agreement]) -> QuerySet[Agreement]:
    """Adds what orders called off: ``called_off_base``, in base units, exactly."""
    exact = DecimalField(max_digits=33, decimal_places=12)
    called = Coalesce(Sum("call_offs__called_off"), NOTHING, output_field=exact)
    return rows.annotate(called_off_base=called)


def with_remaining(rows: QuerySet[Agreement]) -> QuerySet[Agreement]:
    """Adds what orders called off: ``called_off_base`` in base units, exactly; and, to be shown,
    ``called_off`` and ``remaining`` in the agreement's unit."""
    own_unit = ItemUnit.objects.filter(item=OuterRef("item"), unit=OuterRef("unit"))
    factor = Coalesce(Subquery(own_unit.values("factor")[:1]), ONE, output_field=quantity_column())
    in_unit = Cast(F("called_off_base") / factor, quantity_column())
    counted = _called_off(rows).annotate(called_off=in_unit)
    return counted.annotate(remaining=F("quantity") - F("called_off"))


def _agreements(family: list[Customer], items: set[int]) -> list[pricing.Agreement]:
    rows = _called_off(Agreement.objects.filter(customer__in=family, item_id__among=items))
    return [
        pricing.Agreement(
            id=row["number"],
            customer=row["customer__number"],
            currency=row["currency"],
            remaining=row["quantity"],
            called_off=row["called_off_base"],
            entry=_entry(row),
        )
        for row in rows.order_by("valid_to", "pk").values(
            *ENTRY, "number", "currency", "customer__number", "quantity", "called_off_base"
        )
    ]


def rules_for(family: list[Customer], items: set[int]) -> list[pricing.DiscountRule]:
    """The rules that can touch these items for this customer, in their order. One query."""
    customer = family[0]
    whom = Q(customer__isnull=True) | Q(customer__in=family)
    tier = Q(customer_tier="") | Q(customer_tier=customer.tier)
    rows = DiscountRule.objects.filter(
        whom,
        tier,
        Q(item__isnull=True) | Q(item_id__among=items),
        Q(group__isnull=True) | Q(group__in=Item.objects.filter(pk__among=items).values("group")),
    )
    named = rows.select_related("customer", "item", "group").only(*_OF_A_RULE)
    return [core_rule(row) for row in named]


#: What ``core_rule`` reads: of what a rule points at the names alone.
_OF_A_RULE = (
    *("code", "tiers", "customer_tier", "measure", "unit", "over", "graduated", "exclusive"),
    *("currency", "valid_from", "valid_to", "customer__number", "item__code", "group__code"),
)


def core_rule(row: DiscountRule) -> pricing.DiscountRule:
    """A rule as the core's value; raises ``InvalidInput`` for one that cannot be."""
    return pricing.DiscountRule(
        id=row.code,
        tiers=tuple(core_tier(tier) for tier in row.tiers),
        customer=row.customer.number if row.customer else None,
        customer_tier=row.customer_tier or None,
        item=row.item.code if row.item else None,
        group=row.group.code if row.group else None,
        measure=row.measure,
        unit=row.unit_id,
        over=row.over,
        graduated=row.graduated,
        exclusive=row.exclusive,
        currency=row.currency or None,
        valid_from=row.valid_from,
        valid_to=row.valid_to,
    )


def core_tier(tier: dict[str, str]) -> pricing.Tier:
    """A stored tier: ``from`` and one of ``percent``, ``per_unit``, ``per_line``, as text."""
    gives = {key: Decimal(value) for key, value in tier.items() if key != "from"}
    return pricing.Tier(start=Decimal(tier["from"]), **gives)


def limits_of(role: str) -> totals.Limits:
    """What a role may give away; a role without a row has no limits. One query."""
    rows = {row.group: row for row in Limit.objects.filter(role=role)}
    general = rows.pop("", None)
    return totals.Limits(
        line_percent=general.line_percent if general else None,
        document_percent=general.document_percent if general else None,
        margin_floor=general.margin_floor if general else None,
        credit=general.credit if general else None,
        margin_floors={
            group: row.margin_floor for group, row in rows.items() if row.margin_floor is not None
        },
    )


def source_names(customer: Customer) -> dict[str, str]:
    """The words for what a price trail names: lists, rules, the customer and its parents."""
    return {
        **dict(DiscountRule.objects.values_list("code", "name")),
        **dict(PriceList.objects.values_list("code", "name")),
        **{row.number: row.name for row in family_of(customer)},
    }
