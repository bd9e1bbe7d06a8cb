"""An order as the confirmation that goes to its buyer."""

from decimal import Decimal
from typing import Any

from apps.catalogue.models import SERVICE
from apps.customers.addresses import address_line
from apps.customers.payment import payment_of
from apps.orders.models import Order, OrderLine
from apps.papers.document import Document, DocumentLine
from apps.papers.words import Language, language_of
from apps.prices.queries import source_names
from apps.quotes.models import Revision
from routecore.casefile.words import plain
from routecore.money import minor_digits


def document_of_order(order: Order, language: str = "") -> Document:
    """The confirmation as plain data, in a language or the customer's own. Seven queries."""
    chosen = language_of(language or order.customer.language)
    lines = list(
        order.lines.select_related("item", "quote_line__revision").prefetch_related("item__units")
    )
    offers = [row.revision for row in order.acceptances.select_related("revision").order_by("pk")]
    return Document(
        kind="order",
        number=order.number,
        letter="",
        draft=False,
        language=chosen.code,
        on=order.accepted_on,
        valid_until=order.leaves_on or order.accepted_on,
        undated=not all(line.promised_on or line.item.kind == SERVICE for line in lines),
        currency=order.currency,
        payment=payment_of(order),
        buyer=order.buyer,
        rep_name=order.owner.name,
        rep_email=order.owner.email,
        priced={"lines": [_priced(line, order) for line in lines], "totals": _totals(order)},
        lines=tuple(_line(line, chosen) for line in lines),
        reference=order.buyer_reference,
        deliver_to=order.delivery_address,
        requested_on=order.requested_on,
        discount_percent=_percent(offers),
        discount_on=order.revision.discount_on,
        sources=source_names(order.customer),
    )


def _percent(offers: list[Revision]) -> Decimal | None:
    """The discount's percent, where one offer alone gives it."""
    return offers[0].discount_percent if len(offers) == 1 else None


def _line(line: OrderLine, language: Language) -> DocumentLine:
    day = line.promised_on
    place = address_line(line.delivery_address)
    when = [
        language.words["leaves"].format(day=language.day(day)) if day else "",
        language.words["to"].format(place=place) if place else "",
    ]
    return DocumentLine(
        key=str(line.pk),
        position=line.position,
        kind="normal",
        text=line.text,
        item=line.item,
        quantity=line.quantity,
        unit=line.unit,
        discount_percent=line.discount_percent,
        tax_category=line.tax_category,
        when=", ".join(filter(None, when)),
    )


def _priced(line: OrderLine, order: Order) -> dict[str, Any]:
    """The locked price; how it came about, where all that was offered is ordered at it."""
    offered = line.quote_line
    whole = (offered.quantity, offered.price, offered.net) == (
        line.quantity,
        line.price,
        line.net,
    )
    answers = {row["id"]: row for row in offered.revision.priced["lines"]} if whole else {}
    return {
        "id": str(line.pk),
        "price": plain(line.price, 2),
        "per": plain(line.per),
        "unit": line.price_unit,
        "net": plain(line.net, minor_digits(order.currency)),
        "steps": answers.get(offered.key, {}).get("steps", []),
    }


def _totals(order: Order) -> dict[str, Any]:
    digits = minor_digits(order.currency)
    names = ("lines_net", "document_discount", "net", "tax_total", "payable_rounding", "payable")
    return {
        **{name: plain(getattr(order, name), digits) for name in names},
        "charge_rows": order.charges,
        "tax": order.tax,
    }
