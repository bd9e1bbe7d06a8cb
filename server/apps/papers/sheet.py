"""A document as a spreadsheet: its lines and its sums."""

from decimal import Decimal
import io

from openpyxl import Workbook
from openpyxl.styles import Font

from apps.catalogue.queries import unit_names
from apps.cells import defused
from apps.papers.document import Document

HEADINGS = ("#", "Item", "What", "Kind", "Quantity", "Unit", "Price", "per", "Discount %", "Net")


def workbook_of(document: Document) -> bytes:
    """Numbers are numbers; no text is one that a spreadsheet would run."""
    book, units = Workbook(), unit_names()
    sheet = book.active
    assert sheet is not None
    sheet.title = f"{document.number} {document.letter}"
    sheet.append(
        [defused(str(document.buyer["name"])), "", f"Date {document.on}", document.currency]
    )
    sheet.append([])
    sheet.append(list(HEADINGS))
    for cell in sheet[3]:
        cell.font = Font(bold=True)
    priced = document.answers
    for row in document.lines:
        line = priced.get(row.key, {})
        sheet.append(
            [
                row.position,
                defused(row.item.code) if row.item else "",
                defused(row.text),
                row.kind,
                row.quantity,
                defused(units.get(row.unit, row.unit)),
                _number(line.get("price")),
                f"{line.get('per', '')} {units.get(line.get('unit', ''), '')}".strip(),
                row.discount_percent,
                _number(line.get("net")),
            ]
        )
    sheet.append([])
    totals = document.priced["totals"]
    for name, key in SUMS:
        sheet.append(["", "", name, *[""] * 6, _number(totals[key])])
    for letter, width in zip("ABCDEFGHIJ", (6, 12, 44, 11, 11, 9, 12, 11, 11, 13), strict=True):
        sheet.column_dimensions[letter].width = width
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


SUMS = (
    ("Lines", "lines_net"),
    ("Discount", "document_discount"),
    ("Charges", "charges"),
    ("Net", "net"),
    ("Tax", "tax_total"),
    ("Rounding", "payable_rounding"),
    ("Payable", "payable"),
)


def _number(text: str | None) -> Decimal | None:
    return None if text is None else Decimal(text)
