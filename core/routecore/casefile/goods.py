"""Reading a case file: its items."""

from collections.abc import Mapping
from decimal import Decimal

from routecore.casefile.faults import Node
from routecore.exact import ZERO
from routecore.pricing import Item
from routecore.quantity import Units

FIGURES = ("weight_kg", "cost", "minimum_quantity", "pack_multiple")


def read_items(root: Node) -> dict[str, Item]:
    """The items by their ids."""
    found: dict[str, Item] = {}
    for node in root.objects("items"):
        item = _item(node)
        if item is not None and node.first(item.id, found):
            found[item.id] = item
    return found


def _item(node: Node) -> Item | None:
    units = node.object("units")
    factors: dict[str, Decimal] = {}
    if units:
        factors = {unit: units.decimal(unit, positive=True) for unit in units.value}
    code, base = node.text("id"), node.text("base_unit")
    figures = {key: node.optional_decimal(key, minimum=ZERO) for key in FIGURES}
    category = node.text("tax_category", default="standard")
    group = node.text("group", default="")
    node.close()
    return node.build(lambda: _made(code, base, factors, category, group, figures))


def _made(
    code: str,
    base: str,
    factors: Mapping[str, Decimal],
    category: str,
    group: str,
    figures: Mapping[str, Decimal | None],
) -> Item:
    return Item(
        id=code,
        units=Units(base=base, factors=factors),
        tax_category=category,
        group=group,
        weight_kg=figures["weight_kg"],
        cost=figures["cost"],
        minimum_quantity=figures["minimum_quantity"],
        pack_multiple=figures["pack_multiple"] or None,
    )
