"""A quote by its newest revision and the order that it became, for lists, sums and searches."""

from apps.kept.figures import (
    CUSTOMER_NAME,
    OWNER_NAME,
    Kept,
    Source,
    customer_source,
    declare,
    owner_source,
)

_NEWEST = "FROM quotes_revision r WHERE r.quote_id = {row}.id ORDER BY r.id DESC LIMIT 1"
_ORDER = (
    "FROM orders_order o JOIN quotes_revision r ON r.id = o.revision_id "
    "WHERE r.quote_id = {row}.id ORDER BY o.id DESC LIMIT 1"
)
_OF_REVISION = ("letter", "on", "valid_until", "issued_at", "currency", "net", "payable")

QUOTES = declare(
    Kept(
        table="quotes_quote",
        figures={
            "revision_id": f"SELECT r.id {_NEWEST}",
            "letter": f"SELECT COALESCE((SELECT r.letter {_NEWEST}), '')",
            "`on`": f"SELECT r.`on` {_NEWEST}",
            "valid_until": f"SELECT r.valid_until {_NEWEST}",
            "issued_at": f"SELECT r.issued_at {_NEWEST}",
            "currency": f"SELECT COALESCE((SELECT r.currency {_NEWEST}), '')",
            "net": f"SELECT COALESCE((SELECT r.net {_NEWEST}), 0)",
            "payable": f"SELECT COALESCE((SELECT r.payable {_NEWEST}), 0)",
            "order_pk": f"SELECT o.id {_ORDER}",
            "order_number": f"SELECT o.number {_ORDER}",
            "owner_name": OWNER_NAME,
            "customer_name": CUSTOMER_NAME,
            "deal_title": "SELECT COALESCE((SELECT d.title FROM deals_deal d "
            "WHERE d.id = {row}.deal_id), '')",
        },
        sources=(
            Source(
                table="quotes_revision",
                rows="id = {row}.quote_id",
                columns=tuple(f"`{column}`" for column in _OF_REVISION),
            ),
            Source(
                table="orders_order",
                rows="id = (SELECT r.quote_id FROM quotes_revision r WHERE r.id = {row}.revision_id)",
            ),
            customer_source(),
            owner_source(),
            Source(table="deals_deal", rows="deal_id = {row}.id", columns=("title",), lasting=True),
        ),
    )
)
