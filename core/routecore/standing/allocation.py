"""Payments over several invoices: what each settles, and what is left over.

What is left over stands as unallocated: it lowers the balance and the exposure, not the ageing. Source:
common practice, no source; an invoice's early payment is that of ``routecore.payment``.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.exact import EXACT, ZERO
from routecore.money import in_own_context, sum_of
from routecore.payment import EarlyPayment, Settled, settle


@dataclass(frozen=True, slots=True, kw_only=True)
class Invoiced:
    """An invoice of an account, in the account's currency."""

    number: str
    amount: Decimal
    on: date
    early: EarlyPayment | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Paid:
    """A payment, and how much of it goes to which invoice; the rest stands unallocated."""

    number: str
    amount: Decimal
    on: date
    shares: Mapping[str, Decimal] = field(default_factory=dict)

    def __post_init__(self) -> None:
        if any(share <= 0 for share in self.shares.values()):
            raise InvalidInput("out_of_range", path="shares", facts={"payment": self.number})
        if sum_of(self.shares.values()) > self.amount:
            raise InvalidInput("more_than_paid", path="shares", facts={"payment": self.number})

    @property
    def left(self) -> Decimal:
        """What it settles of no invoice."""
        return EXACT.subtract(self.amount, sum_of(self.shares.values()))


@dataclass(frozen=True, slots=True, kw_only=True)
class Account:
    """What payments leave of each invoice by its number, and what of them settles none."""

    invoices: Mapping[str, Settled]
    unallocated: Decimal

    @property
    def balance(self) -> Decimal:
        """What is open, less what stands unallocated."""
        invoiced = sum_of(row.open_amount for row in self.invoices.values())
        return EXACT.subtract(invoiced, self.unallocated)


@in_own_context
def settle_account(
    invoices: Iterable[Invoiced], payments: Iterable[Paid], currency: str
) -> Account:
    """Every payment put to its invoices. Raises ``InvalidInput`` for a share of an invoice that is not
    there, and for more than an invoice comes to.

    >>> bill = [Invoiced(number=n, amount=Decimal(a), on=date(2026, 11, 1)) for n, a in (("A", 100), ("B", 50))]
    >>> paid = Paid(number="P", amount=Decimal(130), on=date(2026, 11, 20),
    ...     shares={"A": Decimal(100), "B": Decimal(20)})
    >>> found = settle_account(bill, [paid], "EUR")
    >>> str(found.invoices["B"].open_amount), str(found.unallocated), str(found.balance)
    ('30', '10', '20')
    """
    rows = {row.number: row for row in invoices}
    shares: dict[str, list[tuple[date, Decimal]]] = {number: [] for number in rows}
    unallocated = ZERO
    for payment in payments:
        for number, share in payment.shares.items():
            if number not in rows:
                facts = {"payment": payment.number, "invoice": number}
                raise InvalidInput("unknown_invoice", path="shares", facts=facts)
            shares[number].append((payment.on, share))
        unallocated += payment.left
    for number, parts in shares.items():
        if sum_of(amount for _, amount in parts) > rows[number].amount:
            raise InvalidInput("more_than_open", path="shares", facts={"invoice": number})
    settled = {
        number: settle(row.amount, currency, shares[number], invoiced=row.on, early=row.early)
        for number, row in rows.items()
    }
    return Account(invoices=settled, unallocated=unallocated)
