"""Available to promise, discrete and cumulative, of one item in one depot.

The first period's is on hand and its receipts less what is committed before the next receipt; each later
receipt's is the receipt less what is committed before the next. What a later period lacks is taken from
earlier ones. The cumulative is what can be promised by a day without breaking an earlier promise.

Source: discrete and cumulative available-to-promise as textbooks of production planning have it (from
memory, recomputed in ``tests/core/test_promise.py``). Quantities are in the item's base unit.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.exact import EXACT, ZERO
from routecore.money import in_own_context, sum_of


@dataclass(frozen=True, slots=True, kw_only=True)
class Receipt:
    """Goods that are planned to come in. ``sure``: the supplier confirmed them."""

    on: date
    quantity: Decimal
    sure: bool = True

    def __post_init__(self) -> None:
        if self.quantity < 0:
            raise InvalidInput(
                "out_of_range", path="receipt.quantity", facts={"value": self.quantity}
            )


@dataclass(frozen=True, slots=True, kw_only=True)
class Commitment:
    """Goods that somebody was promised, or has ordered: how many, by when."""

    line: str
    quantity: Decimal
    by: date

    def __post_init__(self) -> None:
        if self.quantity < 0:
            raise InvalidInput(
                "out_of_range", path="commitment.quantity", facts={"value": self.quantity}
            )


@dataclass(frozen=True, slots=True, kw_only=True)
class Stock:
    """An item in a depot. ``on_hand`` may be negative where more went out than was booked in.

    A receipt whose day has gone by has not come: it is promised to nobody until it is on hand.
    """

    on_hand: Decimal = ZERO
    receipts: tuple[Receipt, ...] = ()
    commitments: tuple[Commitment, ...] = ()

    def coming(self, today: date) -> list[Receipt]:
        """What can still come, in order of its days; of one day, added up."""
        by_day: dict[date, list[Receipt]] = {}
        for receipt in self.receipts:
            if receipt.on >= today and receipt.quantity:
                by_day.setdefault(receipt.on, []).append(receipt)
        return [
            Receipt(
                on=day, quantity=sum_of(r.quantity for r in rows), sure=all(r.sure for r in rows)
            )
            for day, rows in sorted(by_day.items())
        ]

    @property
    def committed(self) -> Decimal:
        """All that somebody has already."""
        return sum_of(row.quantity for row in self.commitments)

    @property
    def free_now(self) -> Decimal:
        """On hand less all that is committed; below zero where more is promised than there is."""
        return EXACT.subtract(self.on_hand, self.committed)


@dataclass(frozen=True, slots=True, kw_only=True)
class Period:
    """From one receipt to the next: what comes in, what is committed, what is left to promise.

    ``free`` is what can still be promised out of this receipt; ``by_then`` out of it and all before.
    ``sure`` is false where an unconfirmed receipt is among them.
    """

    start: date
    received: Decimal
    committed: Decimal
    free: Decimal
    by_then: Decimal
    sure: bool


@in_own_context
def periods_of(stock: Stock, today: date) -> tuple[Period, ...]:
    """The periods from today on, one for each day on which something comes in.

    >>> plan = Stock(on_hand=Decimal(10), receipts=(Receipt(on=date(2026, 12, 7), quantity=Decimal(30)),),
    ...     commitments=(Commitment(line="1", quantity=Decimal(4), by=date(2026, 12, 1)),
    ...                  Commitment(line="2", quantity=Decimal(33), by=date(2026, 12, 9))))
    >>> [(p.start.day, str(p.free), str(p.by_then)) for p in periods_of(plan, date(2026, 11, 26))]
    [(26, '3', '3'), (7, '0', '3')]
    """
    receipts = stock.coming(today)
    starts = [today, *(receipt.on for receipt in receipts if receipt.on > today)]
    received, sure = [stock.on_hand], [True]
    for receipt in receipts:
        if receipt.on == today:
            received[0] += receipt.quantity
            sure[0] = receipt.sure
        else:
            received.append(receipt.quantity)
            sure.append(receipt.sure)
    committed = _by_period(stock.commitments, starts)
    free = _with_shortfalls([have - owed for have, owed in zip(received, committed, strict=True)])
    found, total = [], ZERO
    for n, start in enumerate(starts):
        total += free[n]
        found.append(
            Period(
                start=start,
                received=received[n],
                committed=committed[n],
                free=free[n],
                by_then=total,
                sure=all(sure[: n + 1]),
            )
        )
    return tuple(found)


def riders_of(stock: Stock, today: date) -> tuple[tuple[Commitment, ...], ...]:
    """The commitments of each period, in order of their days: who gets what comes with it."""
    starts = [period.start for period in periods_of(stock, today)]
    found: list[list[Commitment]] = [[] for _ in starts]
    for row in sorted(stock.commitments, key=lambda each: each.by):
        found[_period_at(row.by, starts)].append(row)
    return tuple(map(tuple, found))


def _period_at(day: date, starts: Sequence[date]) -> int:
    """The last period that has begun on a day; the first for what was due before today."""
    return max((n for n, start in enumerate(starts) if start <= day), default=0)


def _by_period(commitments: Sequence[Commitment], starts: Sequence[date]) -> list[Decimal]:
    """What is committed from each start until before the next; what was due before today, in the first."""
    found = [ZERO] * len(starts)
    for row in commitments:
        found[_period_at(row.by, starts)] += row.quantity
    return found


def _with_shortfalls(free: list[Decimal]) -> list[Decimal]:
    """What a period lacks is taken from those before it; what the first lacks stays lacking."""
    left = list(free)
    for n in range(len(left) - 1, 0, -1):
        if left[n] < 0:
            left[n - 1] += left[n]
            left[n] = ZERO
    return left
