"""From an offer to orders: what a part of it comes to, and what of it is left."""

from routecore.ordering.parts import (
    Given,
    Offered,
    TakenUp,
    is_left,
    net_of_part,
    terms_of_part,
)

__all__ = [
    "Given",
    "Offered",
    "TakenUp",
    "is_left",
    "net_of_part",
    "terms_of_part",
]
