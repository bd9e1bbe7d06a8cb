"""Whether our figures of a customer come to what the back office says is open: compared, and told where not.

What is open is invoices less credit notes and money on account; what was given for paying early is not open.
The two are compared once everything was read that the back office told before.
"""

from collections.abc import Iterable, Mapping
from datetime import datetime, timedelta
from decimal import Decimal

from django.db import transaction
from django.db.models import Q, QuerySet

from apps.customers.models import Customer
from apps.customers.upkeep import CHANGED
from apps.ledger.claims import owed
from apps.ledger.models import Account
from apps.people.access import read_for_fulfilment
from apps.people.models import User
from routecore.casefile.words import plain
from routecore.money import minor_digits

#: So many accounts in one go.
BATCH = 100
#: A difference is told once it has lasted so long: an invoice and its account may come one after the other.
PATIENCE = timedelta(minutes=10)
Sums = Mapping[str, Decimal]


def to_check(customers: Iterable[int]) -> None:
    """Something of these customers has changed."""
    Account.objects.filter(customer_id__among=customers).update(checked_at=None)


CHANGED.append(to_check)


def accounts_to_check() -> bool:
    """Whether any account has changed since it was compared."""
    return Account.objects.filter(checked_at__isnull=True).exists()


def told_otherwise(who: User, now: datetime) -> QuerySet[Account]:
    """Accounts of customers that this person may see, and that have differed for a while."""
    rows = Account.objects.filter(
        read_for_fulfilment(who, "customer__owner"),
        differs_since__lte=now - PATIENCE,
        customer__merged_into__isnull=True,
    )
    return rows.order_by("differs_since", "pk")


@transaction.atomic
def compare_accounts(now: datetime, most: int = BATCH) -> int:
    """Compare accounts that have changed, so many at most; how many. A constant number of queries."""
    waiting = Account.objects.filter(checked_at__isnull=True).order_by("pk")
    heads = {
        merged or own
        for own, merged in waiting.values_list("customer", "customer__merged_into")[:most]
    }
    if not heads:
        return 0
    told = _of_families(heads)
    ours: dict[int, dict[str, Decimal]] = {head: {} for head in heads}
    for row in owed(heads):
        own = ours[row.customer]
        own[row.currency] = own.get(row.currency, Decimal(0)) + row.amount
    known = [row for head, rows in told.items() for row in _compared(rows, ours[head], now)]
    Account.objects.bulk_update(known, ["checked_at", "whole", "ours", "differs_since"])
    return len(known)


def _of_families(heads: Iterable[int]) -> dict[int, dict[int, Account | None]]:
    """By customer, the accounts of all records that it is made of, locked; its own first."""
    family = Customer.objects.filter(Q(pk__among=heads) | Q(merged_into__among=heads))
    found: dict[int, dict[int, Account | None]] = {head: {head: None} for head in heads}
    head_of = {}
    for own, merged in family.order_by("pk").values_list("pk", "merged_into"):
        head_of[own] = merged or own
        found[head_of[own]][own] = None
    rows = Account.objects.select_for_update().filter(customer_id__among=head_of)
    for row in rows.order_by("pk"):
        found[head_of[row.customer_id]][row.customer_id] = row
    return found


def _compared(rows: Mapping[int, Account | None], ours: Sums, now: datetime) -> list[Account]:
    """A customer's accounts with what ours come to; whether they differ is known where every record was told."""
    known = [row for row in rows.values() if row is not None]
    whole = len(known) == len(rows)
    told = added(row.told for row in known)
    differ = whole and any(told.get(c, 0) != ours.get(c, 0) for c in {*told, *ours})
    for n, row in enumerate(known):
        row.checked_at, since = now, row.differs_since or now
        first = whole and n == 0
        row.whole = texts(told) if first else None
        row.ours = texts(ours) if first else None
        row.differs_since = since if differ and first else None
    return known


def added(parts: Iterable[Mapping[str, str]]) -> dict[str, Decimal]:
    """Balances of several accounts together, by currency."""
    found: dict[str, Decimal] = {}
    for part in parts:
        for currency, amount in part.items():
            found[currency] = found.get(currency, Decimal(0)) + Decimal(amount)
    return found


def texts(sums: Sums) -> dict[str, str]:
    """Amounts as text, by currency; none of nothing."""
    return {
        currency: plain(amount, minor_digits(currency)) or "0"
        for currency, amount in sums.items()
        if amount
    }
