"""An invoice or a credit note as UBL 2.1, with what falls due when and the discount for paying early.

Source: OASIS Universal Business Language 2.1, UBL-Invoice-2.1 and UBL-CreditNote-2.1. What the back office has not
told (how the tax is divided) is left out. Checked against the standard's schemas in the tests.
"""

from decimal import Decimal

from apps.ledger.flows import dues_of, early_of
from apps.ledger.models import CREDIT, Invoice, InvoiceLine
from apps.papers.ubl_parts import Element, root_of, write_buyer, write_dues, write_seller, written
from routecore.casefile.words import plain
from routecore.money import minor_digits, percent_of, round_amount


def invoice_document(invoice: Invoice) -> bytes:
    """The XML document. One query beside the invoice's own."""
    credit = invoice.kind == CREDIT
    root = root_of("CreditNote" if credit else "Invoice", invoice.currency)
    root.text("UBLVersionID", "2.1")
    root.text("ID", invoice.number)
    root.text("IssueDate", invoice.on.isoformat())
    if not credit:
        root.text("DueDate", invoice.due_on.isoformat())
        root.text("InvoiceTypeCode", "380")
    root.text("DocumentCurrencyCode", invoice.currency)
    if invoice.order:
        root.under("OrderReference").text("ID", invoice.order.number)
    write_seller(root.under("AccountingSupplierParty").under("Party"))
    buyer = {"number": invoice.customer.number, "name": invoice.customer.name}
    write_buyer(root.under("AccountingCustomerParty").under("Party"), buyer)
    if not credit:
        _terms(root, invoice)
    _sums(root, invoice)
    _lines(root, invoice)
    return written(root)


def _terms(root: Element, invoice: Invoice) -> None:
    early = early_of(invoice)
    discount = None
    if early:
        discount = round_amount(percent_of(invoice.gross, early.percent), invoice.currency)
    write_dues(
        root,
        dues_of(invoice),
        invoice.currency,
        early=early,
        discount=discount,
        until=invoice.early_until,
    )


def _sums(root: Element, invoice: Invoice) -> None:
    digits = minor_digits(invoice.currency)
    tax = plain(invoice.gross - invoice.net, digits) or "0"
    root.under("TaxTotal").amount("TaxAmount", tax)
    sums = root.under("LegalMonetaryTotal")
    for name, value in (
        ("LineExtensionAmount", invoice.net),
        ("TaxExclusiveAmount", invoice.net),
        ("TaxInclusiveAmount", invoice.gross),
        ("PrepaidAmount", invoice.settled),
        ("PayableAmount", invoice.open_amount),
    ):
        sums.amount(name, plain(value, digits) or "0")


def _lines(root: Element, invoice: Invoice) -> None:
    """Its lines; one of the whole where none are known, as the standard asks for one."""
    rows = list(invoice.lines.select_related("order_line__item", "delivery_line").order_by("pk"))
    for n, row in enumerate(rows or [InvoiceLine(text="As agreed", net=invoice.net)], start=1):
        _line(root, invoice, row, n)


def _line(root: Element, invoice: Invoice, row: InvoiceLine, number: int) -> None:
    credit = invoice.kind == CREDIT
    node = root.under("CreditNoteLine" if credit else "InvoiceLine")
    ordered, shipped = row.order_line, row.delivery_line
    quantity = shipped.quantity if shipped else ordered.quantity if ordered else Decimal(1)
    node.text("ID", number)
    node.text(
        "CreditedQuantity" if credit else "InvoicedQuantity",
        plain(quantity),
        unitCode=ordered.unit if ordered else "C62",
    )
    node.amount("LineExtensionAmount", plain(row.net, minor_digits(invoice.currency)) or "0")
    item = node.under("Item")
    item.text("Name", row.text)
    if ordered:
        item.under("SellersItemIdentification").text("ID", ordered.item.code)
