"""How much of an invoice is settled, how much of that by credit notes; how much of a payment is used."""

from apps.kept.figures import Kept, Source, declare

_SUM = "SELECT COALESCE(SUM(a.amount), 0) FROM ledger_allocation a WHERE a.{key} = {{row}}.id"

INVOICES = declare(
    Kept(
        table="ledger_invoice",
        figures={
            # Two sums: with OR between them the database reads all allocations for each of many rows.
            "settled": f"SELECT ({_SUM.format(key='invoice_id')}) + ({_SUM.format(key='credit_id')})",
            "credited": f"{_SUM.format(key='invoice_id')} AND a.credit_id IS NOT NULL",
        },
        sources=(
            Source(
                table="ledger_allocation",
                rows="id IN ({row}.invoice_id, {row}.credit_id)",
                columns=("amount",),
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
