"""A document as a UBL 2.1 Quotation.

Source: OASIS Universal Business Language 2.1, UBL-Quotation-2.1; sums after EN 16931. An alternative
stands as ``AlternativeLineItem`` with the line that it may take the place of; an option, for which the
standard has no place, as a note. Checked against the standard's schema in the tests.
"""

from collections.abc import Iterable
from decimal import Decimal

from apps.catalogue.models import TaxCategory
from apps.papers.document import Document, DocumentLine
from apps.papers.ubl_parts import (
    Element,
    root_of,
    write_buyer,
    write_category,
    write_delivery,
    write_seller,
    written,
)
from apps.papers.words import ENGLISH


def quotation_of(document: Document) -> bytes:
    """The XML document, as the stored answer has its figures."""
    reasons = dict(TaxCategory.objects.values_list("code", "reason"))
    root = root_of("Quotation", document.currency)
    _Writer(document, reasons).write(root)
    return written(root)


class _Writer:
    def __init__(self, document: Document, reasons: dict[str, str]):
        self.document, self.rows, self.priced = document, document.lines, document.answers
        self.totals = document.priced["totals"]
        self.percents = {row["category"]: row["percent"] for row in self.totals["tax"]}
        self.reasons = reasons

    def write(self, root: Element) -> None:
        """Everything, in the schema's order."""
        document = self.document
        root.text("UBLVersionID", "2.1")
        root.text("ID", f"{document.number}-{document.letter}")
        root.text("IssueDate", document.on.isoformat())
        for note in self._notes():
            root.text("Note", note)
        root.text("PricingCurrencyCode", document.currency)
        root.text("LineCountNumeric", sum(row.kind == "normal" for row in self.rows))
        root.under("ValidityPeriod").text("EndDate", document.valid_until.isoformat())
        if document.reference:
            reference = root.under("RequestForQuotationDocumentReference")
            reference.text("ID", document.reference)
        seller = root.under("SellerSupplierParty").under("Party")
        write_seller(seller, rep=document.rep_name, mail=document.rep_email)
        write_buyer(root.under("BuyerCustomerParty").under("Party"), document.buyer)
        write_delivery(root, document.deliver_to, document.requested_on)
        self._allowances(root)
        self._tax(root.under("TaxTotal"))
        self._sums(root.under("QuotedMonetaryTotal"))
        for row in self.rows:
            if row.kind == "normal" and row.key in self.priced:
                self._line(root.under("QuotationLine"), row)

    def _notes(self) -> Iterable[str]:
        if self.document.message:
            yield self.document.message
        # The standard's quotation has no element for payment terms.
        yield f"Payment {ENGLISH.terms(self.document.payment)}"
        for row in self.rows:
            if row.kind == "note":
                yield row.text
            elif row.kind == "optional" and row.item and row.key in self.priced:
                net = self.priced[row.key]["net"]
                yield f"Option: {row.text} ({row.item.code}), {net} {self.document.currency}"

    def _allowances(self, root: Element) -> None:
        if Decimal(self.totals["document_discount"]):
            discount = root.under("AllowanceCharge")
            discount.text("ChargeIndicator", "false")
            discount.text("AllowanceChargeReason", "Discount")
            discount.amount("Amount", self.totals["document_discount"])
        for row in self.totals["charge_rows"]:
            charge = root.under("AllowanceCharge")
            charge.text("ChargeIndicator", "true")
            charge.text("AllowanceChargeReason", row["name"])
            charge.amount("Amount", row["amount"])
            self._category(charge.under("TaxCategory"), row["tax_category"])

    def _category(self, node: Element, category: str) -> None:
        write_category(node, category, self.percents.get(category, "0"), self.reasons)

    def _tax(self, node: Element) -> None:
        node.amount("TaxAmount", self.totals["tax_total"])
        for row in self.totals["tax"]:
            part = node.under("TaxSubtotal")
            part.amount("TaxableAmount", row["base"])
            part.amount("TaxAmount", row["amount"])
            self._category(part.under("TaxCategory"), row["category"])

    def _sums(self, node: Element) -> None:
        node.amount("LineExtensionAmount", self.totals["lines_net"])
        node.amount("TaxExclusiveAmount", self.totals["net"])
        node.amount("TaxInclusiveAmount", self.totals["gross"])
        node.amount("AllowanceTotalAmount", self.totals["document_discount"])
        node.amount("ChargeTotalAmount", self.totals["charges"])
        node.amount("PayableRoundingAmount", self.totals["payable_rounding"])
        node.amount("PayableAmount", self.totals["payable"])

    def _line(self, node: Element, row: DocumentLine) -> None:
        node.text("ID", row.position)
        self._item(node.under("LineItem"), row)
        for other in self.rows:
            if other.kind == "alternative" and other.alternative_to == row.key:
                self._item(node.under("AlternativeLineItem"), other)

    def _item(self, node: Element, row: DocumentLine) -> None:
        line = self.priced[row.key]
        assert row.item is not None
        node.text("ID", row.position)
        node.text("Quantity", f"{row.quantity:f}", unitCode=row.unit)
        if line["net"] is not None:
            node.amount("LineExtensionAmount", line["net"])
        if Decimal(line["discount"] or "0"):
            discount = node.under("AllowanceCharge")
            discount.text("ChargeIndicator", "false")
            discount.amount("Amount", line["discount"])
        if line["price"] is not None:
            price = node.under("Price")
            price.amount("PriceAmount", line["price"])
            price.text("BaseQuantity", line["per"], unitCode=line["unit"])
        item = node.under("Item")
        item.text("Name", row.text)
        item.under("SellersItemIdentification").text("ID", row.item.code)
        self._category(item.under("ClassifiedTaxCategory"), row.tax_category)
