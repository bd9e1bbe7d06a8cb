"""What UBL documents share: elements in the order of the schema, parties, tax categories, payment terms.

Source: OASIS Universal Business Language 2.1. Checked against the standard's schemas in the tests.
"""

from collections.abc import Iterable, Mapping
from datetime import date
from decimal import Decimal
from xml.etree import ElementTree as ET

from apps.papers.seller import SELLER
from apps.papers.words import ENGLISH
from routecore.casefile.words import plain
from routecore.dates import Terms
from routecore.money import minor_digits
from routecore.payment import Due, EarlyPayment, PaymentTerms

NAMES = "urn:oasis:names:specification:ubl:schema:xsd:"
CBC = f"{NAMES}CommonBasicComponents-2"
CAC = f"{NAMES}CommonAggregateComponents-2"
#: Categories of UN/ECE 5305.
CODES = {
    "standard": "S",
    "reduced": "S",
    "zero": "Z",
    "exempt": "E",
    "reverse": "AE",
    "export": "G",
}


class Element:
    """An element that grows children in the order of the schema."""

    def __init__(self, node: ET.Element, currency: str):
        self.node = node
        self.currency = currency

    def under(self, name: str) -> "Element":
        """A new aggregate child."""
        return Element(ET.SubElement(self.node, f"{{{CAC}}}{name}"), self.currency)

    def text(self, name: str, value: object, **attributes: str) -> None:
        """A basic child; nothing for an empty value."""
        if value not in (None, ""):
            ET.SubElement(self.node, f"{{{CBC}}}{name}", attributes).text = str(value)

    def amount(self, name: str, value: str) -> None:
        """An amount in the document's currency."""
        self.text(name, value, currencyID=self.currency)


def root_of(name: str, currency: str) -> Element:
    """The root of a document, as ``Order``."""
    own = f"{NAMES}{name}-2"
    for prefix, space in (("", own), ("cbc", CBC), ("cac", CAC)):
        ET.register_namespace(prefix, space)
    return Element(ET.Element(f"{{{own}}}{name}"), currency)


def written(root: Element) -> bytes:
    """The document as it is sent."""
    body: bytes = ET.tostring(root.node, encoding="utf-8", xml_declaration=True)
    return body


def write_seller(party: Element, *, rep: str = "", mail: str = "") -> None:
    """The house, and who speaks for it."""
    party.under("PartyName").text("Name", SELLER["name"])
    address = party.under("PostalAddress")
    address.text("StreetName", SELLER["street"])
    address.text("CityName", SELLER["town"])
    if rep:
        contact = party.under("Contact")
        contact.text("Name", rep)
        contact.text("ElectronicMail", mail)


def write_buyer(party: Element, buyer: Mapping[str, str]) -> None:
    """The customer as the document keeps them."""
    if buyer.get("number"):
        party.under("PartyIdentification").text("ID", buyer["number"])
    party.under("PartyName").text("Name", buyer["name"])
    if buyer.get("street"):
        address = party.under("PostalAddress")
        address.text("StreetName", buyer["street"])
        address.text("CityName", buyer.get("town"))
        address.text("PostalZone", buyer.get("postcode"))
    if buyer.get("contact"):
        party.under("Contact").text("Name", buyer["contact"])


def write_delivery(root: Element, place: Mapping[str, str] | None, wanted: date | None) -> None:
    """Where goods go, and by when they are wanted; nothing where neither is known."""
    if not place and not wanted:
        return
    delivery = root.under("Delivery")
    if wanted:
        delivery.text("LatestDeliveryDate", wanted.isoformat())
    write_place(delivery, place)


def write_place(delivery: Element, place: Mapping[str, str] | None) -> None:
    """The address of a delivery; nothing where it is not known."""
    if place:
        address = delivery.under("DeliveryAddress")
        address.text("StreetName", place["street"])
        address.text("CityName", place["town"])
        address.text("PostalZone", place["postcode"])
        address.under("Country").text("IdentificationCode", place["country"])


def write_category(node: Element, category: str, percent: str, reasons: Mapping[str, str]) -> None:
    """A tax category with its percent, and its reason where it has none."""
    code = CODES.get(category, "S")
    node.text("ID", code)
    node.text("Percent", percent)
    if code != "S":
        node.text("TaxExemptionReason", reasons.get(category))
    node.under("TaxScheme").text("ID", "VAT")


def write_terms(root: Element, payment: PaymentTerms) -> None:
    """Terms of what is not invoiced yet: in percent and days from the invoice, whose day is not known."""
    rows = [(part.percent, part.terms) for part in payment.instalments] or [
        (Decimal(100), payment.terms)
    ]
    for n, (percent, terms) in enumerate(rows):
        node = root.under("PaymentTerms")
        if not n:
            node.text("Note", ENGLISH.terms(payment))
        node.text("PaymentPercent", plain(percent))
        if not terms.end_of_month and terms.fixed_day is None:
            _period(node, terms)
    if payment.early:
        node = root.under("PaymentTerms")
        node.text("SettlementDiscountPercent", plain(payment.early.percent))
        _period(node, Terms(days=payment.early.days))


def _period(node: Element, terms: Terms) -> None:
    node.under("SettlementPeriod").text("DurationMeasure", terms.days, unitCode="DAY")


def write_dues(
    root: Element,
    dues: Iterable[Due],
    currency: str,
    *,
    early: EarlyPayment | None,
    discount: Decimal | None,
    until: date | None,
) -> None:
    """Terms of an invoice: what falls due on which day, and the discount for paying by a day."""
    digits = minor_digits(currency)
    for due in dues:
        node = root.under("PaymentTerms")
        node.amount("Amount", plain(due.amount, digits) or "0")
        node.text("PaymentDueDate", due.on.isoformat())
    if early and discount is not None and until:
        node = root.under("PaymentTerms")
        node.text("SettlementDiscountPercent", plain(early.percent))
        node.amount("SettlementDiscountAmount", plain(discount, digits) or "0")
        node.under("SettlementPeriod").text("EndDate", until.isoformat())
