"""Open items by age: not due, 1-30, 31-60, 61-90, over 90 days past due.

Credit notes and unallocated payments stand apart; they lower the balance, not a bucket.
Source: common practice, no source.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from routecore.exact import EXACT, ZERO, nearest
from routecore.money import in_own_context, sum_of

BUCKETS = ("not_due", "1_30", "31_60", "61_90", "over_90")


@dataclass(frozen=True, slots=True, kw_only=True)
class OpenItem:
    """What is still open of an invoice (positive) or a credit (negative), in one currency."""

    due: date
    open_amount: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class Ageing:
    """Amounts by bucket; ``credits`` is negative or zero; ``oldest_days`` past due, 0 if none."""

    buckets: dict[str, Decimal]
    credits: Decimal
    oldest_days: int

    @property
    def invoices(self) -> Decimal:
        """All open invoices, without the credits."""
        return sum_of(self.buckets.values())

    @property
    def overdue(self) -> Decimal:
        """What is past its due date."""
        return EXACT.subtract(self.invoices, self.buckets["not_due"])

    @property
    def balance(self) -> Decimal:
        """Open invoices less credits."""
        return EXACT.add(self.invoices, self.credits)


def bucket_of(days_late: int) -> str:
    """The bucket for a number of days past due.

    >>> bucket_of(0), bucket_of(30), bucket_of(31), bucket_of(91)
    ('not_due', '1_30', '31_60', 'over_90')
    """
    if days_late <= 0:
        return "not_due"
    for last, name in ((30, "1_30"), (60, "31_60"), (90, "61_90")):
        if days_late <= last:
            return name
    return "over_90"


@in_own_context
def age_open_items(items: Iterable[OpenItem], on: date) -> Ageing:
    """The ageing of open items on a day."""
    buckets = dict.fromkeys(BUCKETS, ZERO)
    credit = ZERO
    oldest = 0
    for item in items:
        if item.open_amount < 0:
            credit += item.open_amount
            continue
        if not item.open_amount:
            continue
        late = (on - item.due).days
        buckets[bucket_of(late)] += item.open_amount
        oldest = max(oldest, late)
    return Ageing(buckets=buckets, credits=credit, oldest_days=oldest)


@in_own_context
def days_to_pay(payments: Iterable[tuple[Decimal, int]]) -> Decimal | None:
    """Days from invoice to payment, weighted by amount, to a hundredth; None without payments.

    Source: from memory, recomputed.

    >>> days_to_pay([(Decimal(1000), 30), (Decimal(2000), 45), (Decimal(500), 60)])
    Decimal('42.86')
    """
    pairs = list(payments)
    paid = sum_of(amount for amount, _ in pairs)
    if not paid:
        return None
    weighted = sum_of(EXACT.multiply(amount, Decimal(days)) for amount, days in pairs)
    return nearest(weighted, paid, Decimal("0.01"))
