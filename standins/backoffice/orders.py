"""What the back office checks before it takes an order."""

from typing import Any

NEEDED = ("order_number", "customer", "currency", "lines", "net", "payable", "terms")


def fault_of(body: object) -> str | None:
    """Why this order cannot be taken, in a sentence; None where it can."""
    if not isinstance(body, dict):
        return "An order is a JSON object."
    for name in NEEDED:
        if not body.get(name):
            return f"The order has no {name.replace('_', ' ')}."
    if not body.get("delivery_address"):
        return "The order has no delivery address."
    if not isinstance(body["lines"], list) or not all(map(_complete, body["lines"])):
        return "A line has no item, quantity or net."
    return None


def _complete(line: Any) -> bool:
    return isinstance(line, dict) and all(
        line.get(name) for name in ("line", "item", "kind", "quantity", "net")
    )
