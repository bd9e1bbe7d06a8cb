"""An order as a UBL 2.1 Order, with its payment terms.

Source: OASIS Universal Business Language 2.1, UBL-Order-2.1; sums after EN 16931. Checked against the standard's
schema in the tests.
"""

from collections.abc import Iterator, Mapping
from decimal import Decimal
from itertools import repeat

from apps.catalogue.models import TaxCategory
from apps.customers.payment import payment_of
from apps.orders.models import Order, OrderLine
from apps.papers.ubl_parts import (
    Element,
    root_of,
    write_buyer,
    write_category,
    write_delivery,
    write_seller,
    write_terms,
    written,
)
from routecore.casefile.words import plain
from routecore.money import minor_digits


def order_document(order: Order) -> bytes:
    """The XML document. Three queries beside the order's own."""
    reasons = dict(TaxCategory.objects.values_list("code", "reason"))
    lines = list(order.lines.select_related("item"))
    root = root_of("Order", order.currency)
    digits = minor_digits(order.currency)
    root.text("UBLVersionID", "2.1")
    root.text("ID", order.number)
    root.text("IssueDate", order.accepted_on.isoformat())
    root.text("DocumentCurrencyCode", order.currency)
    root.text("LineCountNumeric", len(lines))
    root.text("CustomerReference", order.buyer_reference)
    for name, offer in zip(_references(), _offers(order), strict=False):
        root.under(name).text("ID", offer)
    write_buyer(root.under("BuyerCustomerParty").under("Party"), order.buyer)
    seller = root.under("SellerSupplierParty").under("Party")
    write_seller(seller, rep=order.owner.name, mail=order.owner.email)
    write_delivery(root, order.delivery_address, order.requested_on)
    write_terms(root, payment_of(order))
    _allowances(root, order, reasons)
    _tax(root.under("TaxTotal"), order, reasons)
    _sums(root.under("AnticipatedMonetaryTotal"), order)
    percents = _percents(order)
    for row in lines:
        line = root.under("OrderLine").under("LineItem")
        _line(line, row, percents, reasons, digits, parts=order.partial_deliveries)
    return written(root)


def _references() -> Iterator[str]:
    """The offer that the order has its terms of is its quotation, any other a further document."""
    yield "QuotationDocumentReference"
    yield from repeat("AdditionalDocumentReference")


def _offers(order: Order) -> list[str]:
    rows = order.acceptances.order_by("pk").values_list(
        "revision__quote__number", "revision__letter"
    )
    return [f"{number}-{letter}" for number, letter in rows]


def _sums(node: Element, order: Order) -> None:
    digits = minor_digits(order.currency)
    charges = sum((Decimal(row["amount"]) for row in order.charges), Decimal(0))
    for name, value in (
        ("LineExtensionAmount", order.lines_net),
        ("TaxExclusiveAmount", order.net),
        ("TaxInclusiveAmount", order.gross),
        ("AllowanceTotalAmount", order.document_discount),
        ("ChargeTotalAmount", charges),
        ("PayableRoundingAmount", order.payable_rounding),
        ("PayableAmount", order.payable),
    ):
        node.amount(name, plain(value, digits) or "0")


def _percents(order: Order) -> dict[str, str]:
    return {row["category"]: row["percent"] for row in order.tax}


def _allowances(root: Element, order: Order, reasons: Mapping[str, str]) -> None:
    digits = minor_digits(order.currency)
    if order.document_discount:
        discount = root.under("AllowanceCharge")
        discount.text("ChargeIndicator", "false")
        discount.text("AllowanceChargeReason", "Discount")
        discount.amount("Amount", plain(order.document_discount, digits) or "0")
    for row in order.charges:
        charge = root.under("AllowanceCharge")
        charge.text("ChargeIndicator", "true")
        charge.text("AllowanceChargeReason", row["name"])
        charge.amount("Amount", row["amount"])
        category = row["tax_category"]
        percent = _percents(order).get(category, "0")
        write_category(charge.under("TaxCategory"), category, percent, reasons)


def _tax(node: Element, order: Order, reasons: Mapping[str, str]) -> None:
    node.amount("TaxAmount", plain(order.tax_total, minor_digits(order.currency)) or "0")
    for row in order.tax:
        part = node.under("TaxSubtotal")
        part.amount("TaxableAmount", row["base"])
        part.amount("TaxAmount", row["amount"])
        write_category(part.under("TaxCategory"), row["category"], row["percent"], reasons)


def _line(
    node: Element,
    row: OrderLine,
    percents: Mapping[str, str],
    reasons: Mapping[str, str],
    digits: int,
    *,
    parts: bool,
) -> None:
    node.text("ID", row.position)
    node.text("Quantity", plain(row.quantity), unitCode=row.unit)
    node.amount("LineExtensionAmount", plain(row.net, digits) or "0")
    node.text("PartialDeliveryIndicator", "true" if parts else "false")
    write_delivery(node, row.delivery_address, row.wanted_on or row.promised_on)
    price = node.under("Price")
    price.amount("PriceAmount", plain(row.price) or "0")
    price.text("BaseQuantity", plain(row.per), unitCode=row.price_unit)
    item = node.under("Item")
    item.text("Name", row.text)
    item.under("SellersItemIdentification").text("ID", row.item.code)
    category = row.tax_category
    percent = percents.get(category, "0")
    write_category(item.under("ClassifiedTaxCategory"), category, percent, reasons)
