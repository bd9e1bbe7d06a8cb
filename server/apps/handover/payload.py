"""An order as the back office receives it: plain JSON, amounts as strings."""

from datetime import date
from decimal import Decimal

from apps.orders.models import Order, OrderLine
from apps.stock.promising import factors_of
from routecore.casefile.words import plain
from routecore.casefile.writer import Json
from routecore.money import minor_digits


def payload_of(order: Order) -> Json:
    """Everything the back office needs to work the order; its lines carry our line numbers."""
    digits = minor_digits(order.currency)
    rows = list(order.lines.filter(quantity__gt=0).select_related("item", "depot", "order"))
    factors = factors_of(row.item_id for row in rows)
    return {
        "order_number": order.number,
        "accepted_on": order.accepted_on.isoformat(),
        "requested_on": order.requested_on.isoformat() if order.requested_on else None,
        "buyer_reference": order.buyer_reference,
        "partial_deliveries": order.partial_deliveries,
        "currency": order.currency,
        "terms": {
            "days": order.terms_days,
            "end_of_month": order.terms_end_of_month,
            **order.terms_more,
        },
        "customer": {"number": order.customer.number, **order.buyer},
        "delivery_address": order.delivery_address,
        "charges": order.charges,
        "net": plain(order.net, digits),
        "tax": order.tax,
        "tax_total": plain(order.tax_total, digits),
        "payable": plain(order.payable, digits),
        "lines": [
            _line(row, factors.get((row.item_id, row.unit), Decimal(1)), digits) for row in rows
        ],
    }


def _line(row: OrderLine, factor: Decimal, digits: int) -> Json:
    return {
        "line": row.position,
        "item": row.item.code,
        "kind": row.item.kind,
        "text": row.text,
        "quantity": plain(row.quantity),
        "unit": row.unit,
        "base_quantity": plain(row.quantity * factor),
        "depot": row.depot.code if row.depot else None,
        "wanted_on": _iso(row.wanted_on or row.order.requested_on or row.promised_on),
        "reserve_by": _iso(row.reserve_by),
        **({"delivery_address": row.delivery_address} if row.delivery_address else {}),
        "net": plain(row.net - row.discount_share, digits),
        "tax_category": row.tax_category,
    }


def _iso(day: date | None) -> str | None:
    return day.isoformat() if day else None
