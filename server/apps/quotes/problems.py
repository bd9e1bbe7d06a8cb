"""What keeps a quote from being issued, in words for a person."""

from collections.abc import Mapping
from typing import Any

#: By the core's code, or the house's own. Those of a line follow "Line 3 …".
WORDS = {
    "needs_price": "needs a price: no list that serves this customer has one today.",
    "below_minimum": "is below the minimum order of {above}.",
    "not_a_multiple": "does not fit the pack: {near} would.",
    "unknown_original": "is an alternative to a line that is not there.",
    "reason_needed": "has a price agreed by hand: say why.",
    "nothing_counted": "The quote has no line yet.",
    "discount_not_reached": (
        "The lines can bear {reached} of the {wanted} off the gross; charges bear no discount. "
        "Lower the discount, or the charges."
    ),
    "needs_tax_reason": "The tax category {category} has no tax and gives no reason for it.",
}


def said(problem: Mapping[str, Any]) -> str:
    """The words for a problem of an answer, with its facts."""
    near = " or ".join(q for q in (problem.get("below"), problem.get("above")) if q)
    names = ("above", "wanted", "reached", "category")
    facts = {name: problem.get(name) or "nothing that can be typed" for name in names}
    return WORDS[problem["code"]].format(near=near or "no quantity in this unit", **facts)
