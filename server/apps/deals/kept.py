"""What a list of deals is filtered, sorted and searched by beside the deal's own columns."""

from apps.kept.figures import OWNER_NAME, Kept, Source, declare, owner_source

DEALS = declare(
    Kept(
        table="deals_deal",
        figures={
            "outcome": "SELECT s.outcome FROM deals_stage s WHERE s.id = {row}.stage_id",
            "stage_position": "SELECT s.position FROM deals_stage s WHERE s.id = {row}.stage_id",
            "probability": "SELECT COALESCE({row}.own_probability_percent, s.probability_percent) "
            "FROM deals_stage s WHERE s.id = {row}.stage_id",
            "owner_name": OWNER_NAME,
            "customer_name": "SELECT c.name FROM customers_customer c WHERE c.id = {row}.customer_id",
        },
        sources=(
            Source(
                table="customers_customer",
                rows="customer_id = {row}.id",
                columns=("name",),
                lasting=True,
            ),
            owner_source(),
            Source(
                table="deals_stage",
                rows="stage_id = {row}.id",
                columns=("outcome", "position", "probability_percent"),
                lasting=True,
            ),
        ),
    )
)
