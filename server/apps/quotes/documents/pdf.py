"""The quote as a PDF, set by typst from a template and plain data."""

from datetime import date
from decimal import Decimal
import json
from pathlib import Path

import font_hanken_grotesk
import typst

from apps.catalogue.models import TaxCategory
from apps.catalogue.queries import unit_names
from apps.quotes.documents.seller import SELLER
from apps.quotes.models import QuoteLine, Revision
from routecore.money import minor_digits

TEMPLATE = Path(__file__).with_name("quote.typ")
FONTS = Path(font_hanken_grotesk.__file__).with_name("files")
MINUS = "\N{MINUS SIGN}"
GAP = "\N{NO-BREAK SPACE}"


def make_pdf(revision: Revision, lines: list[QuoteLine]) -> bytes:
    """The document of a revision whose lines are frozen; about 0.1 s for two pages."""
    return typst.compile(
        str(TEMPLATE),
        font_paths=[str(FONTS)],
        ignore_system_fonts=True,
        sys_inputs={"data": json.dumps(paper_data(revision, lines))},
    )


def paper_data(revision: Revision, lines: list[QuoteLine]) -> dict[str, object]:
    """All that the template prints, as finished text: it computes nothing."""
    quote, digits = revision.quote, minor_digits(revision.currency)
    priced, units = revision.priced, unit_names()
    by_key = {line["id"]: line for line in priced["lines"]}
    reasons = dict(TaxCategory.objects.values_list("code", "reason"))
    totals = priced["totals"]
    return {
        "seller": SELLER,
        "buyer": revision.buyer,
        "number": quote.number,
        "letter": revision.letter,
        "date": day(revision.on),
        "valid_until": day(revision.valid_until),
        "reference": revision.buyer_reference,
        "message": revision.message,
        "rep": {"name": quote.owner.name, "email": quote.owner.email},
        "currency": revision.currency,
        "terms": terms_text(revision.terms_days, revision.terms_end_of_month),
        "lines": [_row(row, by_key.get(row.key), digits, units) for row in lines],
        "numbers": line_numbers([row.kind for row in lines]),
        "sums": _sums(revision, totals, digits),
        "tax_reasons": [
            reasons[row["category"]]
            for row in totals["tax"]
            if not row["name"] and reasons.get(row["category"])
        ],
        "payable": amount(totals["payable"], digits),
    }


def line_numbers(kinds: list[str]) -> list[str]:
    """Goods are numbered; what stands instead of, or beside, a line takes its number and a letter.

    >>> line_numbers(["heading", "normal", "alternative", "optional", "note", "normal"])
    ['', '1', '1a', '1b', '', '2']
    """
    found: list[str] = []
    number, letter = 0, 0
    for kind in kinds:
        if kind in ("heading", "note"):
            found.append("")
        elif kind == "normal" or not number:
            number, letter = number + 1, 0
            found.append(str(number))
        else:
            found.append(f"{number}{chr(97 + letter % 26)}")
            letter += 1
    return found


def _row(
    row: QuoteLine, priced: dict[str, str] | None, digits: int, units: dict[str, str]
) -> dict[str, str]:
    """One row as finished text. What is not counted stands in brackets."""
    if priced is None or row.item is None or row.quantity is None:
        return {"kind": row.kind, "text": row.text}
    net = amount(priced["net"], digits) if priced["net"] is not None else "—"
    return {
        "kind": row.kind,
        "code": row.item.code,
        "text": row.text,
        "quantity": number(row.quantity),
        "unit": units.get(row.unit, row.unit),
        "price": amount(priced["price"], digits) if priced["price"] is not None else "—",
        "per": _per(priced, row, units),
        "discount": _discount(row, digits),
        "net": net if row.kind == "normal" else f"({net})",
    }


def _discount(row: QuoteLine, digits: int) -> str:
    if row.discount_percent:
        return f"{number(row.discount_percent)} %"
    return amount(row.discount_amount, digits) if row.discount_amount else ""


def _sums(revision: Revision, totals: dict[str, object], digits: int) -> list[list[str]]:
    rows = [["Lines", amount(totals["lines_net"], digits)]]
    if Decimal(str(totals["document_discount"])):
        label = "Discount"
        if revision.discount_percent is not None:
            on = " of the gross" if revision.discount_on == "gross" else ""
            label += f" {number(revision.discount_percent)} %{on}"
        rows.append([label, MINUS + amount(totals["document_discount"], digits)])
    charges = totals["charge_rows"]
    assert isinstance(charges, list)
    rows += [[charge["name"], amount(charge["amount"], digits)] for charge in charges]
    if len(rows) > 1:
        rows.append(["Net", amount(totals["net"], digits)])
    tax = totals["tax"]
    assert isinstance(tax, list)
    for row in tax:
        if row["name"]:
            label = f"{row['name']} {number(row['percent'])} % on {amount(row['base'], digits)}"
            rows.append([label, amount(row["amount"], digits)])
    if Decimal(str(totals["payable_rounding"])):
        rows.append(["Rounding", amount(totals["payable_rounding"], digits)])
    return rows


def _per(line: dict[str, str], row: QuoteLine, units: dict[str, str]) -> str:
    unit = units.get(line["unit"], line["unit"])
    if line["per"] != "1":
        return f"per {number(line['per'])} {unit}"
    return f"per {unit}" if line["unit"] != row.unit else ""


def terms_text(days: int, end_of_month: str) -> str:
    """The payment terms in words.

    >>> terms_text(30, ""), terms_text(30, "after"), terms_text(10, "before")
    ('net 30 days', 'net 30 days, end of month', 'net 10 days after the end of the month')
    """
    if end_of_month == "before":
        return f"net {days} days after the end of the month"
    return f"net {days} days" + (", end of month" if end_of_month else "")


def day(value: date) -> str:
    """A date in words, as 24 November 2026."""
    return f"{value.day} {value:%B %Y}"


def amount(value: object, digits: int) -> str:
    """An amount or price with grouped thousands, a true minus, at least so many decimals.

    >>> amount("-1234.5", 2).replace(GAP, " ").replace(MINUS, "-")
    '-1 234.50'
    """
    whole, _, rest = f"{Decimal(str(value)):f}".partition(".")
    grouped = f"{abs(int(whole)):,}".replace(",", GAP)
    sign = MINUS if whole.startswith("-") else ""
    rest = rest.rstrip("0").ljust(digits, "0")
    return f"{sign}{grouped}.{rest}" if rest else f"{sign}{grouped}"


def number(value: object) -> str:
    """A quantity or percent without needless zeros."""
    return amount(value, 0)
