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

#: What its stage asks for and is not there, or the reason why it is closed; nothing where it lacks nothing.
LACKS = (
    "SELECT CASE "
    "WHEN s.outcome = 'open' AND s.asks = 'quote' AND {row}.quoted_amount IS NULL THEN 'quote' "
    "WHEN s.outcome = 'open' AND s.asks = 'decider' AND {row}.contact_id IS NULL THEN 'decider' "
    "WHEN s.outcome IN ('lost', 'parked') AND {row}.reason_id IS NULL THEN 'reason' "
    "ELSE '' END FROM deals_stage s WHERE s.id = {row}.stage_id"
)

DEALS = declare(
    Kept(
        table="deals_deal",
        figures={
            "outcome": "SELECT s.outcome FROM deals_stage s WHERE s.id = {row}.stage_id",
            "stage_position": "SELECT s.position FROM deals_stage s WHERE s.id = {row}.stage_id",
            "probability": "SELECT COALESCE({row}.own_probability_percent, s.probability_percent) "
            "FROM deals_stage s WHERE s.id = {row}.stage_id",
            "lacks": LACKS,
            "owner_name": OWNER_NAME,
            "customer_name": CUSTOMER_NAME,
        },
        sources=(
            customer_source(),
            owner_source(),
            Source(
                table="deals_stage",
                rows="stage_id = {row}.id",
                columns=("outcome", "position", "probability_percent", "asks"),
                lasting=True,
            ),
        ),
    )
)
