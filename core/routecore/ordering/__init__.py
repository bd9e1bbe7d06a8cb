"""From an offer to orders: what a part of it comes to, and what of it is left."""

from routecore.ordering.parts import (
    Given,
    Offered,
    TakenUp,
    is_left,
    net_of_kept,
    net_of_part,
    terms_of_part,
)
from routecore.ordering.stages import STAGES, LineFacts, stage_of_line

__all__ = [
    "STAGES",
    "Given",
    "LineFacts",
    "Offered",
    "TakenUp",
    "is_left",
    "net_of_kept",
    "net_of_part",
    "stage_of_line",
    "terms_of_part",
]
