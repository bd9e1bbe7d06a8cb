"""How much of an invoice is settled, and of a payment used."""

from apps.kept.figures import Kept, Source, declare

_SUM = "SELECT COALESCE(SUM(a.amount), 0) FROM ledger_allocation a WHERE a.{key} = {{row}}.id"

INVOICES = declare(
    Kept(
        table="ledger_invoice",
        figures={
            "settled": "SELECT COALESCE(SUM(a.amount), 0) FROM ledger_allocation a "
            "WHERE a.invoice_id = {row}.id OR a.credit_id = {row}.id"
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
