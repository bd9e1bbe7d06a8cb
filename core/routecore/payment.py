"""Payment terms in full: instalments, and a discount for paying early.

Source: the arithmetic of "2/10, net 30" as in the textbooks of trade credit (from memory, recomputed
in ``tests/reference/test_trade.py``); the splitting of an amount is Hamilton's (``money``).
"""

from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import date, timedelta
from decimal import Decimal

from routecore.dates import Terms
from routecore.errors import InvalidInput
from routecore.exact import EXACT, HUNDRED, ZERO, nearest
from routecore.money import in_own_context, percent_of, round_amount, split_amount, sum_of

HUNDREDTH = Decimal("0.01")


@dataclass(frozen=True, slots=True, kw_only=True)
class Part:
    """An instalment: so many percent of the amount, due by its own terms."""

    percent: Decimal
    terms: Terms

    def __post_init__(self) -> None:
        if not 0 < self.percent <= HUNDRED:
            raise InvalidInput("out_of_range", path="percent", facts={"value": self.percent})


@dataclass(frozen=True, slots=True, kw_only=True)
class EarlyPayment:
    """So many percent off for paying within so many days of the invoice."""

    percent: Decimal
    days: int

    def __post_init__(self) -> None:
        if not 0 < self.percent < HUNDRED:
            raise InvalidInput("out_of_range", path="early.percent", facts={"value": self.percent})
        if not 0 <= self.days <= 365:
            raise InvalidInput("out_of_range", path="early.days", facts={"value": self.days})

    def last_day(self, invoiced: date) -> date:
        """The last day on which it is given."""
        return invoiced + timedelta(days=self.days)

    @in_own_context
    def yearly_rate(self, net_days: int, year_days: int = 365) -> Decimal:
        """What a buyer pays a year, in percent, simple, who lets it go and pays after ``net_days``.

        To a hundredth. The discount is earned on what is paid, over the days between.

        >>> EarlyPayment(percent=Decimal(2), days=10).yearly_rate(30)
        Decimal('37.24')
        """
        if net_days <= self.days:
            raise InvalidInput("out_of_order", path="early.days", facts={"value": self.days})
        top = EXACT.multiply(self.percent * HUNDRED, Decimal(year_days))
        under = EXACT.multiply(HUNDRED - self.percent, Decimal(net_days - self.days))
        return nearest(top, under, HUNDREDTH)


@dataclass(frozen=True, slots=True)
class Due:
    """A part of an amount, and the day on which it falls due."""

    on: date
    amount: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class PaymentTerms:
    """What an invoice falls due by: one date, or instalments; and a discount for paying early.

    Instalments add up to a hundred percent; an early payment's days lie before the first due date.
    """

    terms: Terms = field(default_factory=Terms)
    instalments: tuple[Part, ...] = ()
    early: EarlyPayment | None = None

    def __post_init__(self) -> None:
        parts = sum_of(part.percent for part in self.instalments)
        if self.instalments and parts != HUNDRED:
            raise InvalidInput("not_hundred", path="instalments", facts={"value": parts})

    def schedule(self, amount: Decimal, currency: str, invoiced: date) -> tuple[Due, ...]:
        """What falls due when; the parts add up to the amount exactly, in order of their days.

        >>> thirds = tuple(
        ...     Part(percent=Decimal(p), terms=Terms(days=d))
        ...     for p, d in (("33.33", 10), ("33.33", 40), ("33.34", 70)))
        >>> rows = PaymentTerms(instalments=thirds).schedule(Decimal("100.00"), "EUR", date(2026, 1, 1))
        >>> [str(row.amount) for row in rows]
        ['33.33', '33.33', '33.34']
        """
        if not self.instalments:
            return (Due(self.terms.due(invoiced), amount),)
        weights = [part.percent for part in self.instalments]
        parts = split_amount(amount, weights, currency)
        rows = [
            Due(part.terms.due(invoiced), share)
            for part, share in zip(self.instalments, parts, strict=True)
        ]
        return tuple(sorted(rows, key=lambda row: row.on))

    def last_due(self, invoiced: date) -> date:
        """The day by which all of it is due."""
        return max(row.on for row in self.schedule(HUNDRED, "EUR", invoiced))

    def early_yearly_rate(self, invoiced: date) -> Decimal | None:
        """The yearly rate of the early payment against the first due date; None without one."""
        if self.early is None:
            return None
        first = min(row.on for row in self.schedule(HUNDRED, "EUR", invoiced))
        days = (first - invoiced).days
        return self.early.yearly_rate(days) if days > self.early.days else None


@in_own_context
def open_dues(dues: Iterable[Due], settled: Decimal) -> tuple[Due, ...]:
    """What is open of each part of an amount: what was settled goes to the earliest parts first.

    >>> parts = [Due(date(2026, 1, 10), Decimal(30)), Due(date(2026, 2, 10), Decimal(70))]
    >>> [str(row.amount) for row in open_dues(parts, Decimal(45))]
    ['55']
    """
    left, found = settled, []
    for row in sorted(dues, key=lambda row: row.on):
        taken = min(left, row.amount)
        left -= taken
        if row.amount > taken:
            found.append(Due(row.on, row.amount - taken))
    return tuple(found)


@in_own_context
def early_offer(
    amount: Decimal,
    currency: str,
    payments: Iterable[tuple[date, Decimal]],
    *,
    invoiced: date,
    early: EarlyPayment,
    on: date,
) -> Decimal | None:
    """The discount that is still to be had on a day for paying the rest; None where it is not.

    >>> early_offer(Decimal(1000), "EUR", [], invoiced=date(2026, 1, 1), on=date(2026, 1, 11),
    ...     early=EarlyPayment(percent=Decimal(2), days=10))
    Decimal('20.00')
    """
    paid = sum((value for _, value in payments), ZERO)
    off = round_amount(percent_of(amount, early.percent), currency)
    if on > early.last_day(invoiced) or paid >= amount - off:
        return None
    return off


@dataclass(frozen=True, slots=True, kw_only=True)
class Settled:
    """What payments leave of an invoice. ``early``: ``taken`` (it settles the rest), ``too_late``
    (the discount was kept back after its last day, and stays open), or nothing."""

    open_amount: Decimal
    discount: Decimal
    early: str = ""


@in_own_context
def settle(
    amount: Decimal,
    currency: str,
    payments: Iterable[tuple[date, Decimal]],
    *,
    invoiced: date,
    early: EarlyPayment | None = None,
) -> Settled:
    """What is open of an invoice after payments on their days.

    An early-payment discount counts where what was paid by its last day comes to the amount less the
    discount; then the invoice is settled in full.

    >>> settle(Decimal(1000), "EUR", [(date(2026, 1, 9), Decimal(980))],
    ...     invoiced=date(2026, 1, 1), early=EarlyPayment(percent=Decimal(2), days=10))
    Settled(open_amount=Decimal('0'), discount=Decimal('20'), early='taken')
    """
    rows = list(payments)
    paid = sum((value for _, value in rows), ZERO)
    if early is None or paid >= amount:
        return Settled(open_amount=amount - paid, discount=ZERO)
    off = round_amount(percent_of(amount, early.percent), currency)
    in_time = sum((value for day, value in rows if day <= early.last_day(invoiced)), ZERO)
    if in_time >= amount - off:
        return Settled(open_amount=ZERO, discount=amount - paid, early="taken")
    late = "too_late" if paid >= amount - off else ""
    return Settled(open_amount=amount - paid, discount=ZERO, early=late)
