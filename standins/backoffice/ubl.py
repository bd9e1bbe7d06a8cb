"""The back office's papers as UBL 2.1: order responses, despatch advices, invoices, credit notes.

Source: OASIS Universal Business Language 2.1. Codes of order responses: UNCL 4343 for the whole, UNCL 1229 for a
line; of invoices UNCL 1001; tax categories UNCL 5305 (all of UN/EDIFACT, from memory). Held against the standard's
schemas in the tests.
"""

from collections.abc import Mapping
from decimal import Decimal
from typing import Any
from xml.etree import ElementTree as ET

NAMES = "urn:oasis:names:specification:ubl:schema:xsd:"
CBC, CAC = f"{NAMES}CommonBasicComponents-2", f"{NAMES}CommonAggregateComponents-2"
HOUSE = "Quillfen Growers' Supply"
CODES = {
    "standard": "S",
    "reduced": "S",
    "zero": "Z",
    "exempt": "E",
    "reverse": "AE",
    "export": "G",
}
ACCEPTED, CHANGED, REJECTED = "AP", "CA", "RE"
LINE_TAKEN, LINE_CHANGED, LINE_REFUSED = "5", "3", "7"
Told = Mapping[str, Any]


def _root(name: str) -> ET.Element:
    own = f"{NAMES}{name}-2"
    for prefix, space in (("", own), ("cbc", CBC), ("cac", CAC)):
        ET.register_namespace(prefix, space)
    return ET.Element(f"{{{own}}}{name}")


def _under(node: ET.Element, name: str) -> ET.Element:
    return ET.SubElement(node, f"{{{CAC}}}{name}")


def _text(node: ET.Element, name: str, value: object, **more: str) -> None:
    if value not in (None, ""):
        ET.SubElement(node, f"{{{CBC}}}{name}", more).text = str(value)


def _head(name: str, told: Told) -> ET.Element:
    root = _root(name)
    _text(root, "UBLVersionID", "2.1")
    _text(root, "ID", told["number"])
    _text(root, "IssueDate", told["on"])
    return root


def _parties(root: ET.Element, order: Told, seller: str, buyer: str) -> None:
    for tag, name, number in (
        (seller, HOUSE, ""),
        (buyer, order["customer"]["name"], order["customer"].get("number")),
    ):
        party = _under(_under(root, tag), "Party")
        if number:
            _text(_under(party, "PartyIdentification"), "ID", number)
        _text(_under(party, "PartyName"), "Name", name)


def _written(root: ET.Element) -> str:
    return ET.tostring(root, encoding="unicode")


def _item(node: ET.Element, row: Told) -> None:
    item = _under(node, "Item")
    _text(item, "Name", row.get("text") or row.get("item") or "As ordered")
    if row.get("item"):
        _text(_under(item, "SellersItemIdentification"), "ID", row["item"])


def order_response(told: Told, order: Told) -> str:
    """Whether an order, or a change of one, is taken; by line where lines are told."""
    rows = told.get("lines") or []
    taken = [row for row in rows if row["taken"]]
    code = ACCEPTED if len(taken) == len(rows) else CHANGED if taken else REJECTED
    root = _head("OrderResponse", told)
    _text(root, "OrderResponseCode", code)
    _text(root, "Note", told.get("message"))
    _text(root, "DocumentCurrencyCode", order["currency"])
    _text(_under(root, "OrderReference"), "ID", order["order_number"])
    _parties(root, order, "SellerSupplierParty", "BuyerCustomerParty")
    for row in rows:
        line = _under(_under(root, "OrderLine"), "LineItem")
        _text(line, "ID", row["line"])
        _text(line, "Note", row.get("message"))
        changed = row.get("changed")
        _text(
            line,
            "LineStatusCode",
            LINE_REFUSED if not row["taken"] else LINE_CHANGED if changed else LINE_TAKEN,
        )
        _text(line, "Quantity", row.get("quantity"), unitCode=row.get("unit") or "C62")
        if row.get("net") is not None:
            _text(line, "LineExtensionAmount", row["net"], currencyID=order["currency"])
        if row.get("on"):
            _text(_under(_under(line, "Delivery"), "PromisedDeliveryPeriod"), "EndDate", row["on"])
        _item(line, row)
    return _written(root)


def despatch_advice(told: Told, order: Told) -> str:
    """What left, for whom, to where."""
    root = _head("DespatchAdvice", told)
    _text(_under(root, "OrderReference"), "ID", order["order_number"])
    _parties(root, order, "DespatchSupplierParty", "DeliveryCustomerParty")
    shipment = _under(root, "Shipment")
    _text(shipment, "ID", told["number"])
    delivery = _under(shipment, "Delivery")
    _text(delivery, "ActualDeliveryDate", told["on"])
    place = told.get("to") or {}
    if place.get("street"):
        address = _under(delivery, "DeliveryAddress")
        _text(address, "StreetName", place["street"])
        _text(address, "CityName", place.get("town"))
        _text(address, "PostalZone", place.get("postcode"))
    for row in told["lines"]:
        line = _under(root, "DespatchLine")
        _text(line, "ID", row["line"])
        _text(line, "DeliveredQuantity", row["quantity"], unitCode=row.get("unit") or "C62")
        _text(_under(line, "OrderLineReference"), "LineID", row["line"])
        _item(line, row)
    return _written(root)


def invoice(told: Told, order: Told) -> str:
    """An invoice over what left."""
    return _written(_bill("Invoice", told, order))


def credit_note(told: Told, order: Told) -> str:
    """A credit note on an invoice."""
    return _written(_bill("CreditNote", told, order))


def _bill(kind: str, told: Told, order: Told) -> ET.Element:
    credit, currency = kind == "CreditNote", order["currency"]
    root = _head(kind, told)
    if credit:
        _text(root, "CreditNoteTypeCode", "381")
    else:
        _text(root, "DueDate", told["due_on"])
        _text(root, "InvoiceTypeCode", "380")
    _text(root, "DocumentCurrencyCode", currency)
    _text(_under(root, "OrderReference"), "ID", order["order_number"])
    if told.get("invoice"):
        _text(
            _under(_under(root, "BillingReference"), "InvoiceDocumentReference"),
            "ID",
            told["invoice"],
        )
    _parties(root, order, "AccountingSupplierParty", "AccountingCustomerParty")
    taxes = {row["category"]: row for row in told["taxes"]}
    for row in told["charges"]:
        charge = _under(root, "AllowanceCharge")
        _text(charge, "ChargeIndicator", "true")
        _text(charge, "AllowanceChargeReason", row["name"])
        _text(charge, "Amount", row["amount"], currencyID=currency)
        _category(_under(charge, "TaxCategory"), taxes.get(row["tax_category"], {}))
    _tax(root, told, currency)
    _sums(root, told, currency)
    for n, row in enumerate(told["lines"], start=1):
        _line(root, "CreditNoteLine" if credit else "InvoiceLine", n, row, taxes, currency)
    return root


def _tax(root: ET.Element, told: Told, currency: str) -> None:
    total = _under(root, "TaxTotal")
    tax = sum((Decimal(row["amount"]) for row in told["taxes"]), Decimal(0))
    _text(total, "TaxAmount", f"{tax:f}", currencyID=currency)
    for row in told["taxes"]:
        part = _under(total, "TaxSubtotal")
        _text(part, "TaxableAmount", row["base"], currencyID=currency)
        _text(part, "TaxAmount", row["amount"], currencyID=currency)
        _category(_under(part, "TaxCategory"), row)


def _category(node: ET.Element, row: Told) -> None:
    code = CODES.get(str(row.get("category") or ""), "S")
    _text(node, "ID", code)
    _text(node, "Percent", row.get("percent") or "0")
    if code not in ("S", "Z"):
        _text(node, "TaxExemptionReason", row.get("name") or "Exempt")
    _text(_under(node, "TaxScheme"), "ID", "VAT")


def _sums(root: ET.Element, told: Told, currency: str) -> None:
    lines = sum((Decimal(row["net"]) for row in told["lines"]), Decimal(0))
    charges = sum((Decimal(row["amount"]) for row in told["charges"]), Decimal(0))
    gross, rounding = Decimal(told["gross"]), Decimal(told["rounding"])
    sums = _under(root, "LegalMonetaryTotal")
    for name, value in (
        ("LineExtensionAmount", lines),
        ("TaxExclusiveAmount", Decimal(told["net"])),
        ("TaxInclusiveAmount", gross - rounding),
        ("ChargeTotalAmount", charges),
        ("PayableRoundingAmount", rounding),
        ("PayableAmount", gross),
    ):
        if value or name not in ("ChargeTotalAmount", "PayableRoundingAmount"):
            _text(sums, name, f"{value:f}", currencyID=currency)


def _line(
    root: ET.Element, name: str, n: int, row: Told, taxes: Mapping[str, Told], currency: str
) -> None:
    line = _under(root, name)
    _text(line, "ID", n)
    quantity = "InvoicedQuantity" if name == "InvoiceLine" else "CreditedQuantity"
    _text(line, quantity, row["quantity"], unitCode=row.get("unit") or "C62")
    _text(line, "LineExtensionAmount", row["net"], currencyID=currency)
    _text(_under(line, "OrderLineReference"), "LineID", row["line"])
    item = _under(line, "Item")
    _text(item, "Name", row["text"])
    _text(_under(item, "SellersItemIdentification"), "ID", row["item"])
    _category(_under(item, "ClassifiedTaxCategory"), taxes.get(row["category"], {}))
    price = Decimal(row["net"]) / Decimal(row["quantity"])
    _text(
        _under(line, "Price"),
        "PriceAmount",
        f"{price.quantize(Decimal('0.000001')):f}",
        currencyID=currency,
    )
