"""What a list of deals is filtered, sorted and searched by beside the deal's own columns."""

from apps.kept.figures import (
    CUSTOMER_NAME,
    OWNER_NAME,
    Kept,
    Source,
    customer_source,
    declare,
    owner_source,
)

DEALS = declare(
    Kept(
        table="deals_deal",
        figures={
            "outcome": "SELECT s.outcome FROM deals_stage s WHERE s.id = {row}.stage_id",
            "stage_position": "SELECT s.position FROM deals_stage s WHERE s.id = {row}.stage_id",
            "probability": "SELECT COALESCE({row}.own_probability_percent, s.probability_percent) "
            "FROM deals_stage s WHERE s.id = {row}.stage_id",
            "owner_name": OWNER_NAME,
            "customer_name": CUSTOMER_NAME,
        },
        sources=(
            customer_source(),
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
