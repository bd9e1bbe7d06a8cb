"""What a list of deals is filtered, sorted and searched by beside the deal's own columns."""

from apps.kept.figures import Kept, Source, declare

DEALS = declare(
    Kept(
        table="deals_deal",
        figures={
            "outcome": "SELECT s.outcome FROM deals_stage s WHERE s.id = {row}.stage_id",
            "customer_name": "SELECT c.name FROM customers_customer c WHERE c.id = {row}.customer_id",
        },
        sources=(
            Source(
                table="customers_customer",
                rows="customer_id = {row}.id",
                columns=("name",),
                lasting=True,
            ),
            Source(
                table="deals_stage", rows="stage_id = {row}.id", columns=("outcome",), lasting=True
            ),
        ),
    )
)
