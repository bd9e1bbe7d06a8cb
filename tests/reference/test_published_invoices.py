"""The sums of published invoices rebuilt from their lines.

Sources: the CEN examples of EN 16931 (TC 434) and the XRechnung test suite, as the source package of
``mock-einvoice`` 0.4.0 carries them (``ops/prepare.sh`` fetches it). Our own sums are compared to the
cent: BR-CO-17 itself would let a whole unit pass.

Left out, because they cannot be rebuilt from what they say (a wrong sign or a wrong factor in the
source, or, in 05.01a, an extension that adds other people's payments): those of ``LEFT_OUT``, and
documents that are no invoices with lines.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from decimal import Decimal
from pathlib import Path
import tarfile
from xml.etree import ElementTree as ET

import pytest

from config.paths import VAR
from routecore.exact import units_of
from routecore.money import minor_digits
from routecore.pricing import Item, PriceBook, PriceEntry, PriceList
from routecore.quantity import Units
from routecore.totals import DocumentTerms, Line, TaxComponent, price_document
from routecore.totals.sums import payable_of
from routecore.totals.tax import tax_rows
from tests.core.build import DAY

D = Decimal
CBC = "{urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2}"
CAC = "{urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2}"
LEFT_OUT = (
    "guide-example1", "guide-example2", "guide-example3", "tc434-example1.", "tc434-example2",
    "tc434-example3", "tc434-example10", "03.01a", "03.04a", "03.05a", "01.06", "05.01a",
)  # fmt: skip


@dataclass(frozen=True)
class Published:
    """One invoice of the archive."""

    name: str
    root: ET.Element


def published() -> Iterator[Published]:
    for archive in sorted((VAR / "reference").glob("mock_einvoice-*.tar.gz")):
        with tarfile.open(archive) as opened:
            for member in opened.getmembers():
                path = Path(member.name)
                inside = "external" in path.parts and "unit" not in path.parts
                if not inside or path.suffix != ".xml" or any(x in path.name for x in LEFT_OUT):
                    continue
                file = opened.extractfile(member)
                assert file is not None
                root = ET.fromstring(file.read())
                if root.tag.endswith("}Invoice") and root.find(f"{CAC}InvoiceLine") is not None:
                    yield Published(path.name, root)


INVOICES = list(published())


def number(node: ET.Element | None, path: str, default: str = "0") -> Decimal:
    found = node.findtext(path) if node is not None else None
    return D(found or default)


def category(node: ET.Element | None) -> str:
    """The category and its rate: one key for one tax."""
    assert node is not None
    return f"{node.findtext(f'{CBC}ID')}|{number(node, f'{CBC}Percent')}"


def allowances(node: ET.Element) -> Iterator[tuple[Decimal, ET.Element]]:
    """Charges positive, allowances negative."""
    for part in node.findall(f"{CAC}AllowanceCharge"):
        sign = 1 if part.findtext(f"{CBC}ChargeIndicator", "").strip() == "true" else -1
        yield sign * number(part, f"{CBC}Amount"), part


def line_of(node: ET.Element, n: int) -> tuple[Line | None, PriceEntry, Decimal, str]:
    """The line as ours, its price, what is added to it, and what is signed away."""
    price = node.find(f"{CAC}Price")
    quantity = number(node, f"{CBC}InvoicedQuantity")
    base = number(price, f"{CBC}BaseQuantity", "1")
    tax = node.find(f"{CAC}Item/{CAC}ClassifiedTaxCategory")
    item = Item(id=f"I{n}", units=Units(base="C62"), tax_category=category(tax))
    entry = PriceEntry(
        item=item.id, unit="C62", price=abs(number(price, f"{CBC}PriceAmount")), per=base
    )
    added = sum((amount for amount, _ in allowances(node)), D(0))
    off = -added if added < 0 else None
    line = Line(id=str(n), item=item, quantity=abs(quantity), unit="C62", discount_amount=off)
    return line, entry, max(added, D(0)), item.tax_category


@pytest.mark.parametrize("invoice", INVOICES, ids=[i.name for i in INVOICES])
def test_the_sums_are_the_published_ones(invoice: Published) -> None:
    root = invoice.root
    currency = root.findtext(f"{CBC}DocumentCurrencyCode", "EUR").strip()
    nodes = root.findall(f"{CAC}InvoiceLine")
    rows = [line_of(node, n) for n, node in enumerate(nodes)]
    book = PriceBook(
        lists={
            "base": PriceList(id="base", currency=currency, entries=tuple(row[1] for row in rows))
        }
    )
    taxes = {row[3]: (TaxComponent(name="VAT", percent=D(row[3].split("|")[1])),) for row in rows}
    terms = DocumentTerms(on=DAY, currency=currency)
    document = price_document(terms, book, [row[0] for row in rows if row[0]], taxes)

    nets, taxed = [], []
    for node, row, priced in zip(nodes, rows, document.lines, strict=True):
        sign = -1 if number(node, f"{CBC}InvoicedQuantity") < 0 else 1
        assert priced.net is not None
        net = sign * priced.net + row[2]
        assert net == number(node, f"{CBC}LineExtensionAmount")
        nets.append(net)
        taxed.append((row[3], net))
    sums = root.find(f"{CAC}LegalMonetaryTotal")
    assert sum(nets) == number(sums, f"{CBC}LineExtensionAmount")  # BR-CO-10
    whole = list(allowances(root))
    for amount, part in whole:
        key = category(part.find(f"{CAC}TaxCategory"))
        taxes.setdefault(key, (TaxComponent(name="VAT", percent=D(key.split("|")[1])),))
        taxed.append((key, amount))
    net = sum(nets) + sum(amount for amount, _ in whole)
    assert net == number(sums, f"{CBC}TaxExclusiveAmount")  # BR-CO-13
    digits = minor_digits(currency)
    units: dict[str, list[int]] = {}
    for key, amount in taxed:
        units.setdefault(key, []).append(units_of(amount, digits))
    tax = sum(row.amount for row in tax_rows(units, taxes, digits=digits, rounding="document"))
    totals = [
        total
        for total in root.findall(f"{CAC}TaxTotal")
        if total.find(f"{CBC}TaxAmount").get("currencyID") == currency  # type: ignore[union-attr]
    ]
    assert tax == number(totals[0] if totals else None, f"{CBC}TaxAmount")  # BR-CO-14, 17
    gross = net + tax
    assert gross == number(sums, f"{CBC}TaxInclusiveAmount")  # BR-CO-15
    rounding = number(sums, f"{CBC}PayableRoundingAmount")
    paid = number(sums, f"{CBC}PrepaidAmount")
    payable = gross - paid + rounding
    assert payable == number(sums, f"{CBC}PayableAmount")  # BR-CO-16
    assert payable_of(gross, terms) == gross


def test_enough_of_them_are_read() -> None:
    assert len(INVOICES) >= 20
