"""How much of an invoice is settled, how much of that by credit notes; whose it is, how long it took; how much of a
payment is used; what was billed on a day, of whom."""

from django.conf import settings

from apps.kept.figures import CUSTOMER_NAME, Kept, Source, declare, summed
from routecore.money import minor_digits

_SUM = "SELECT COALESCE(SUM(a.amount), 0) FROM ledger_allocation a WHERE a.{key} = {{row}}.id"

INVOICES = declare(
    # An order keeps its owner and its day: what follows from them is looked up when the invoice is booked.
    Kept(
        table="ledger_invoice",
        figures={
            # Two sums: with OR between them the database reads all allocations for each of many rows.
            "settled": f"SELECT ({_SUM.format(key='invoice_id')}) + ({_SUM.format(key='credit_id')})",
            "credited": f"{_SUM.format(key='invoice_id')} AND a.credit_id IS NOT NULL",
            "whose_id": "SELECT COALESCE("
            "(SELECT o.owner_id FROM orders_order o WHERE o.id = {row}.order_id), "
            "(SELECT c.owner_id FROM customers_customer c WHERE c.id = {row}.customer_id))",
            "customer_name": CUSTOMER_NAME,
            "took": "SELECT (SELECT DATEDIFF({row}.`on`, o.accepted_on) FROM orders_order o "
            "WHERE o.id = {row}.order_id)",
        },
        sources=(
            Source(
                table="ledger_allocation",
                rows="id IN ({row}.invoice_id, {row}.credit_id)",
                columns=("amount",),
            ),
            Source(
                table="customers_customer",
                rows="customer_id = {row}.id",
                columns=("name", "owner_id"),
                lasting=True,
            ),
        ),
    )
)
PAYMENTS = declare(
    Kept(
        table="ledger_payment",
        figures={"used": _SUM.format(key="payment_id")},
        sources=(
            Source(table="ledger_allocation", rows="id = {row}.payment_id", columns=("amount",)),
        ),
    )
)
#: As ``apps.forecast.revenue.billed_net`` has it.
_NET = (
    "ROUND(CASE {row}.kind WHEN 'credit' THEN -{row}.net ELSE {row}.net END * {row}.base_rate, "
    f"{minor_digits(settings.BASE_CURRENCY)})"
)
BILLED_DAYS = declare(
    summed(
        table="ledger_billedday",
        of="ledger_invoice",
        by=("`on`", "whose_id"),
        parts={"net": _NET},
        columns=("kind", "net", "base_rate"),
    )
)
