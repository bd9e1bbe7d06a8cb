"""What a list of customers shows and searches beside the customer's own columns."""

from apps.kept.figures import OWNER_NAME, Kept, Source, declare, owner_source

CUSTOMERS = declare(
    Kept(
        table="customers_customer",
        figures={
            "owner_name": OWNER_NAME,
            "town": "SELECT COALESCE((SELECT a.town FROM customers_address a "
            "WHERE a.customer_id = {row}.id AND a.retired_at IS NULL ORDER BY a.kind, a.id LIMIT 1), '')",
            "towns": "SELECT LEFT(COALESCE(GROUP_CONCAT(DISTINCT a.town ORDER BY a.id SEPARATOR ' '), ''),"
            " 500) FROM customers_address a WHERE a.customer_id = {row}.id AND a.retired_at IS NULL",
            "people": "SELECT LEFT(COALESCE(GROUP_CONCAT(c.name ORDER BY c.id SEPARATOR ' '), ''), 500) "
            "FROM customers_contact c WHERE c.customer_id = {row}.id AND c.retired_at IS NULL",
        },
        sources=(
            owner_source(),
            Source(
                table="customers_address",
                rows="id = {row}.customer_id",
                columns=("town", "kind", "retired_at", "customer_id"),
            ),
            Source(
                table="customers_contact",
                rows="id = {row}.customer_id",
                columns=("name", "retired_at", "customer_id"),
            ),
        ),
    )
)
