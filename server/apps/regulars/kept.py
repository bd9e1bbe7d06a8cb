"""Whose customer a kept day is of."""

from apps.kept.figures import Kept, Source, declare

DAYS = declare(
    Kept(
        table="regulars_customerday",
        figures={
            "whose_id": "SELECT c.owner_id FROM customers_customer c WHERE c.id = {row}.customer_id",
        },
        sources=(
            Source(
                table="customers_customer",
                rows="customer_id = {row}.id",
                columns=("owner_id",),
                lasting=True,
            ),
        ),
    )
)
