"""How much of an agreement orders have called off, beside its day."""

from apps.kept.figures import Kept, Source, declare

DAYS = declare(
    Kept(
        table="calloffs_agreementday",
        figures={
            "called_off": "SELECT COALESCE(SUM(l.called_off), 0) FROM orders_orderline l "
            "WHERE l.agreement_id = {row}.agreement_id",
        },
        sources=(
            Source(
                table="orders_orderline",
                rows="agreement_id = {row}.agreement_id",
                columns=("called_off",),
            ),
        ),
    )
)
