"""When goods can be promised: what is on hand, what comes, and who has it already."""

from routecore.promise.atp import Commitment, Period, Receipt, Stock, periods_of, riders_of
from routecore.promise.dates import Held, held_dates, what_moves
from routecore.promise.offer import (
    COMING,
    IN_STOCK,
    SHORT,
    Answer,
    Part,
    Proposal,
    Rules,
    answer_of,
    proposals,
)

__all__ = [
    "COMING",
    "IN_STOCK",
    "SHORT",
    "Answer",
    "Commitment",
    "Held",
    "Part",
    "Period",
    "Proposal",
    "Receipt",
    "Rules",
    "Stock",
    "answer_of",
    "held_dates",
    "periods_of",
    "proposals",
    "riders_of",
    "what_moves",
]
