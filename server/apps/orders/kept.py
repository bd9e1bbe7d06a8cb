"""How far an order has come: goods ordered and shipped, gross invoiced and settled, the handover."""

from apps.kept.figures import (
    CUSTOMER_NAME,
    OWNER_NAME,
    Kept,
    Source,
    customer_source,
    declare,
    owner_source,
)

_HANDOVER = "FROM handover_handover h WHERE h.order_id = {row}.id"

ORDERS = declare(
    Kept(
        table="orders_order",
        figures={
            "goods_quantity": "SELECT COALESCE(SUM(l.quantity), 0) FROM orders_orderline l "
            "JOIN catalogue_item i ON i.id = l.item_id "
            "WHERE l.order_id = {row}.id AND i.kind <> 'service'",
            "leaves_on": "SELECT MAX(COALESCE(l.promised_on, l.wanted_on, {row}.requested_on)) "
            "FROM orders_orderline l JOIN catalogue_item i ON i.id = l.item_id "
            "WHERE l.order_id = {row}.id AND i.kind <> 'service'",
            "shipped_quantity": "SELECT COALESCE(SUM(d.quantity), 0) FROM orders_deliveryline d "
            "JOIN orders_orderline l ON l.id = d.order_line_id WHERE l.order_id = {row}.id",
            "invoiced": "SELECT COALESCE(SUM(i.gross), 0) FROM ledger_invoice i "
            "WHERE i.order_id = {row}.id AND i.kind = 'invoice'",
            "settled": "SELECT COALESCE(SUM(i.settled + i.discount), 0) FROM ledger_invoice i "
            "WHERE i.order_id = {row}.id AND i.kind = 'invoice'",
            "credited": "SELECT COALESCE(SUM(i.credited), 0) FROM ledger_invoice i "
            "WHERE i.order_id = {row}.id AND i.kind = 'invoice'",
            "handover_state": f"SELECT COALESCE((SELECT h.state {_HANDOVER}), '')",
            "backoffice_number": f"SELECT COALESCE((SELECT h.backoffice_number {_HANDOVER}), '')",
            "owner_name": OWNER_NAME,
            "customer_name": CUSTOMER_NAME,
        },
        sources=(
            Source(
                table="orders_orderline",
                rows="id = {row}.order_id",
                columns=("quantity", "promised_on", "wanted_on"),
            ),
            Source(
                table="orders_deliveryline",
                rows="id = (SELECT l.order_id FROM orders_orderline l WHERE l.id = {row}.order_line_id)",
                columns=("quantity",),
            ),
            Source(
                table="ledger_invoice",
                rows="id = {row}.order_id",
                columns=("gross", "settled", "credited", "discount", "order_id"),
            ),
            Source(
                table="handover_handover",
                rows="id = {row}.order_id",
                columns=("state", "backoffice_number"),
            ),
            customer_source(),
            owner_source(),
        ),
    )
)
