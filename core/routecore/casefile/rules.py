"""Reading a case file: discount rules."""

from collections.abc import Mapping

from routecore.casefile.faults import Node
from routecore.exact import HUNDRED, ZERO
from routecore.pricing import DiscountRule, Item, Tier
from routecore.pricing.rules import MEASURES, SPANS


def read_rules(root: Node, items: Mapping[str, Item]) -> list[DiscountRule]:
    """The rules in their order."""
    found: dict[str, DiscountRule] = {}
    for node in root.objects("discount_rules"):
        rule = _rule(node, items)
        if rule and node.first(rule.id, found):
            found[rule.id] = rule
    return list(found.values())


def _rule(node: Node, items: Mapping[str, Item]) -> DiscountRule | None:
    name = node.text("id")
    customer, customer_tier = _pair(node, "for", "customer", "tier")
    item, group = _pair(node, "on", "item", "group")
    if item is not None and item not in items:
        node.fault("on.item", f"no item {item}")
    measure = node.text("measure", default="quantity", choices=MEASURES)
    unit = node.optional_text("unit")
    over = node.text("over", default="line", choices=SPANS)
    tiers = [tier for tier in map(_tier, node.objects("tiers")) if tier]
    graduated = node.flag("graduated", default=False)
    exclusive = node.flag("exclusive", default=False)
    currency = node.currency() if node.get("currency") is not None else None
    first, last = node.day("valid_from"), node.day("valid_to")
    node.close()
    return node.build(
        lambda: DiscountRule(
            id=name,
            tiers=tuple(tiers),
            customer=customer,
            customer_tier=customer_tier,
            item=item,
            group=group,
            measure=measure,
            unit=unit,
            over=over,
            graduated=graduated,
            exclusive=exclusive,
            currency=currency,
            valid_from=first,
            valid_to=last,
        )
    )


def _pair(node: Node, key: str, one: str, other: str) -> tuple[str | None, str | None]:
    """Whom or what a rule is for: two names, either of which may be missing."""
    part = node.object(key)
    if part is None:
        return None, None
    named = part.optional_text(one), part.optional_text(other)
    part.close()
    return named


def _tier(node: Node) -> Tier | None:
    start = node.decimal("from", minimum=ZERO)
    percent = node.optional_decimal("percent", minimum=ZERO, maximum=HUNDRED)
    per_unit = node.optional_decimal("per_unit", minimum=ZERO)
    per_line = node.optional_decimal("per_line", minimum=ZERO)
    node.close()
    return node.build(
        lambda: Tier(start=start, percent=percent, per_unit=per_unit, per_line=per_line)
    )
