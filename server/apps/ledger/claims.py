"""What customers owe: open invoices less credits and money on account."""

from collections.abc import Iterable, Iterator

from apps.customers.standing import OWED, Owed
from apps.ledger.models import CREDIT
from apps.ledger.queries import open_invoices, unallocated


def owed(customers: Iterable[int]) -> Iterator[Owed]:
    """Every open item of these customers. Two queries."""
    wanted = list(customers)
    for row in open_invoices(wanted):
        amount = -row.open_amount if row.kind == CREDIT else row.open_amount
        yield Owed(customer=row.customer_id, currency=row.currency, amount=amount, due=row.due_on)
    for customer, currency, amount in unallocated(wanted):
        yield Owed(customer=customer, currency=currency, amount=-amount)


OWED.append(owed)
