"""What customers owe: open invoices less credits and money on account."""

from collections.abc import Iterable, Iterator

from apps.customers.standing import OWED, Owed
from apps.customers.upkeep import OPEN
from apps.ledger.flows import open_parts
from apps.ledger.models import CREDIT, Invoice
from apps.ledger.queries import open_invoices, unallocated

COLUMNS = ("customer_id", "kind", "currency", "gross", "open_amount", "due_on", "dues")


def owed(customers: Iterable[int]) -> Iterator[Owed]:
    """Every open item of these customers. Two queries."""
    wanted = list(customers)
    for row in open_invoices(wanted).values_list(*COLUMNS, named=True):
        sign = -1 if row.kind == CREDIT else 1
        for part in open_parts(row):
            yield Owed(
                customer=row.customer_id,
                currency=row.currency,
                amount=sign * part.amount,
                due=part.on,
            )
    for customer, currency, amount in unallocated(wanted):
        yield Owed(customer=customer, currency=currency, amount=-amount)


OWED.append(owed)


def still_open(customer: int) -> tuple[str, int]:
    """How many invoices and credits of a customer are not settled."""
    return "invoices", Invoice.objects.filter(customer=customer).exclude(open_amount=0).count()


OPEN.append(still_open)
