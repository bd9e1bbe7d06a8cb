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
    "FROM orders_acceptance a JOIN orders_order o ON o.id = a.order_id "
    "JOIN quotes_revision r ON r.id = a.revision_id "
    "WHERE r.quote_id = {row}.id AND o.cancelled_at IS NULL ORDER BY a.id DESC LIMIT 1"
)
_ACCEPTED = f"(SELECT a.revision_id {_ORDER})"
_TAKEN = (
    "FROM orders_orderline t JOIN orders_order k ON k.id = t.order_id "
    "WHERE t.quote_line_id = l.id AND k.cancelled_at IS NULL"
)
_OPEN = (
    f"SELECT COUNT(*) FROM quotes_quoteline l WHERE l.revision_id = {_ACCEPTED} "  # noqa: S608 - names
    f"AND l.quantity > COALESCE((SELECT SUM(t.quantity) {_TAKEN}), 0)"
)
#: Lines of the accepted revision of which something was not ordered: an alternative once it is taken, in
#: the place of its line.
_LEFT = (
    f"SELECT ({_OPEN} AND l.kind = 'alternative' AND EXISTS (SELECT 1 {_TAKEN})) + "  # noqa: S608
    f"({_OPEN} AND l.kind = 'normal' AND l.`key` NOT IN ("
    "SELECT x.alternative_to FROM quotes_quoteline x JOIN orders_orderline y ON y.quote_line_id = x.id "
    "JOIN orders_order z ON z.id = y.order_id AND z.cancelled_at IS NULL "
    f"WHERE x.kind = 'alternative' AND x.revision_id = {_ACCEPTED}))"
)
_OF_REVISION = ("letter", "on", "valid_until", "issued_at", "currency", "net", "payable")

QUOTES = declare(
    Kept(
        table="quotes_quote",
        figures={
            "revision_id": f"SELECT r.id {_NEWEST}",
            "letter": f"SELECT COALESCE((SELECT r.letter {_NEWEST}), '')",
            "`on`": f"SELECT r.`on` {_NEWEST}",
            "valid_until": "SELECT GREATEST(r.valid_until, "
            f"COALESCE({{row}}.allowed_until, r.valid_until)) {_NEWEST}",
            "issued_at": f"SELECT r.issued_at {_NEWEST}",
            "currency": f"SELECT COALESCE((SELECT r.currency {_NEWEST}), '')",
            "net": f"SELECT COALESCE((SELECT r.net {_NEWEST}), 0)",
            "payable": f"SELECT COALESCE((SELECT r.payable {_NEWEST}), 0)",
            "order_pk": f"SELECT o.id {_ORDER}",
            "order_number": f"SELECT o.number {_ORDER}",
            "lines_left": _LEFT,
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
                table="orders_acceptance",
                rows="id = (SELECT r.quote_id FROM quotes_revision r WHERE r.id = {row}.revision_id)",
                columns=("lines_net", "changed_at"),
            ),
            Source(
                table="orders_order",
                rows="id IN (SELECT r.quote_id FROM orders_acceptance a JOIN quotes_revision r "
                "ON r.id = a.revision_id WHERE a.order_id = {row}.id)",
                columns=("cancelled_at",),
            ),
            customer_source(),
            owner_source(),
            Source(table="deals_deal", rows="deal_id = {row}.id", columns=("title",), lasting=True),
        ),
    )
)
