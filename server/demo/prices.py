"""What the demo agrees beside the lists: each feature of pricing has something to be seen on."""

from datetime import date, timedelta
from decimal import Decimal

from apps.catalogue.models import Item, ItemGroup
from apps.customers.models import Customer
from apps.prices.models import Agreement, CustomerPrice, DiscountRule, Limit

D = Decimal


def make_prices(customers: dict[str, Customer], today: date) -> None:
    """Rules, prices of customers, limits by role."""
    items = {row.code: row for row in Item.objects.all()}
    groups = {row.code: row for row in ItemGroup.objects.all()}
    year = date(today.year, 1, 1), date(today.year + 1, 12, 31)
    _rules(customers, items, groups, today)
    for name, code, price, start in (
        ("Marrow Vale Growers", "POS-200", "7.05", "0"),
        ("Marrow Vale Growers", "POS-200", "6.60", "500"),
        ("Dunmere Estate", "DRI-VAL", "3.55", "0"),
        ("Wren Nurseries", "TOO-SEC", "29.80", "0"),
    ):
        item = items[code]
        CustomerPrice.objects.create(
            customer=customers[name],
            item=item,
            unit=item.base_unit,
            currency="EUR",
            price=D(price),
            from_quantity=D(start),
            valid_from=year[0],
            valid_to=year[1],
        )
    for role, line, whole, floor in (("rep", "8", "4", "12"), ("lead", "20", "12", "5")):
        Limit.objects.create(
            role=role,
            line_percent=D(line),
            document_percent=D(whole),
            margin_floor=D(floor),
        )
    Limit.objects.create(role="rep", group="services", margin_floor=D("4"))


def make_agreements(customers: dict[str, Customer], today: date) -> None:
    """Framework agreements; nothing of the past calls off from them."""
    items = {row.code: row for row in Item.objects.all()}
    for number, name, code, price, quantity in (
        ("FA-0021", "Saltmarsh Vineyards", "WIR-025", "0.585", "40000"),
        ("FA-0022", "Hazelmoor Orchards", "FRO-420", "7.60", "1000"),
        ("FA-0023", "Tarn & Daughters", "FRO-420", "7.80", "2500"),
    ):
        item = items[code]
        Agreement.objects.create(
            number=number,
            customer=customers[name],
            item=item,
            unit=item.base_unit,
            currency="EUR",
            price=D(price),
            quantity=D(quantity),
            valid_from=date(today.year, 1, 1),
            valid_to=today + timedelta(days=220),
        )


#: In which order the rules hold.
RANKS = (
    "NETTING-WEIGHT",
    "POSTS-VALUE",
    "DRIP-METRES",
    "AUTUMN-POSTS",
    "WHOLE-ORDER",
    "CRATES-PIECE",
    "DUNMERE-ALONE",
)


def _rules(
    customers: dict[str, Customer],
    items: dict[str, Item],
    groups: dict[str, ItemGroup],
    today: date,
) -> None:
    year = date(today.year, 1, 1)
    rows = [*_rules_of_groups(groups, today), *_rules_of_items(customers, items, groups)]
    rows.sort(key=lambda row: RANKS.index(str(row["code"])))
    for position, row in enumerate(rows, start=1):
        first = row.pop("valid_from", year)
        DiscountRule.objects.create(position=position, valid_from=first, **row)


def _rules_of_groups(groups: dict[str, ItemGroup], today: date) -> list[dict[str, object]]:
    return [
        {
            "code": "NETTING-WEIGHT",
            "name": "Netting by weight",
            "group": groups["netting"],
            "measure": "weight",
            "over": "group",
            "tiers": [{"from": "150", "percent": "2"}, {"from": "400", "percent": "4"}],
        },
        {
            "code": "POSTS-VALUE",
            "name": "Posts by value, trade",
            "customer_tier": "trade",
            "group": groups["posts"],
            "measure": "amount",
            "over": "group",
            "tiers": [{"from": "2500", "percent": "1.5"}, {"from": "10000", "percent": "3"}],
        },
        {
            "code": "AUTUMN-POSTS",
            "name": "Autumn posts",
            "group": groups["posts"],
            "tiers": [{"from": "1", "percent": "4"}],
            "valid_from": date(today.year, 9, 1),
            "valid_to": max(
                date(today.year, 9, 1), min(date(today.year, 10, 31), today - timedelta(days=1))
            ),
        },
        {
            "code": "WHOLE-ORDER",
            "name": "Large order",
            "measure": "amount",
            "over": "document",
            "tiers": [{"from": "25000", "percent": "1"}, {"from": "60000", "percent": "2"}],
        },
    ]


def _rules_of_items(
    customers: dict[str, Customer], items: dict[str, Item], groups: dict[str, ItemGroup]
) -> list[dict[str, object]]:
    return [
        {
            "code": "DRIP-METRES",
            "name": "Drip line, the metres above",
            "item": items["DRI-016"],
            "graduated": True,
            "tiers": [{"from": "4000", "percent": "3"}, {"from": "20000", "percent": "6"}],
        },
        {
            "code": "CRATES-PIECE",
            "name": "Crates, off each piece",
            "item": items["BIN-CRA"],
            "tiers": [{"from": "400", "per_unit": "0.15"}],
        },
        {
            "code": "DUNMERE-ALONE",
            "name": "Dunmere's own terms",
            "customer": customers["Dunmere Estate"],
            "group": groups["drip"],
            "exclusive": True,
            "tiers": [{"from": "1", "percent": "5"}],
        },
    ]
