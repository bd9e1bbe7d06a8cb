"""A document as a PDF, set by typst from a template and plain data."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Any

from apps.catalogue.models import TaxCategory
from apps.catalogue.queries import unit_names
from apps.customers.addresses import address_line
from apps.papers.document import Document, DocumentLine, line_numbers
from apps.papers.look import SENTENCES, Template
from apps.papers.seller import SELLER
from apps.papers.setting import set_document, set_pictures
from apps.papers.words import Language, language_of
from routecore.money import minor_digits

#: Over every page of a draft, whatever its layout: it cannot be taken for an offer that was made.
DRAFT_MARK = """
#let marked = json(bytes(sys.inputs.data)).words.draft
#set page(foreground: rotate(-38deg, text(size: 110pt, weight: "bold",
  fill: rgb("#A81E1E").transparentize(82%))[#upper(marked)]))
"""
#: Of a document on the route's line, how far along it stands, in percent.
ORDER = "order"
STOPS = {"quote": 33, ORDER: 66}
MINUS = "\N{MINUS SIGN}"
GAP = "\N{NO-BREAK SPACE}"


def make_pdf(document: Document, template: Template) -> bytes:
    """The document in the buyer's language; a draft says "Draft".

    Raises ``Invalid`` where the template's layout cannot be set.
    """
    layout = template.layout()
    if document.draft:
        layout = DRAFT_MARK + layout
    return set_document(layout, paper_data(document, template))


def sample_pages(template: Template, document: Document, language: str) -> list[str]:
    """A template's pages as pictures (base64 PNG), tried on a document in a language."""
    return set_pictures(
        template.layout(), paper_data(replace(document, language=language), template)
    )


@dataclass(frozen=True, slots=True)
class _Pen:
    """Writes figures and words in the buyer's language."""

    language: Language
    digits: int

    def amount(self, value: object) -> str:
        return amount(value, self.digits, self.language.decimal)

    def number(self, value: object) -> str:
        return amount(value, 0, self.language.decimal)

    def word(self, key: str, **facts: str) -> str:
        return self.language.words[key].format(**facts)


def paper_data(document: Document, template: Template) -> dict[str, object]:
    """All that the template prints, as finished text: it computes nothing."""
    pen = _Pen(language_of(document.language), minor_digits(document.currency))
    goods = _Goods(unit_names(pen.language.code), document.sources, _tax_rates())
    answers = document.answers
    return {
        **_head(document, pen),
        "language": pen.language.code,
        "look": template.look.as_data() | ({"signature": False} if document.kind == ORDER else {}),
        "stop": STOPS[document.kind],
        "words": _words(document, template, pen),
        "seller": SELLER,
        "lines": [_row(line, answers.get(line.key), pen, goods) for line in document.lines],
        "numbers": line_numbers([line.kind for line in document.lines]),
        "sums": _sums(document, pen, tax_rows=template.look.tax_rows),
        "tax_reasons": _reasons(document.priced["totals"], pen.language.code),
        "payable": pen.amount(document.priced["totals"]["payable"]),
    }


def _head(document: Document, pen: _Pen) -> dict[str, object]:
    """Who, when, and on which terms."""
    day, wanted = pen.language.day, document.requested_on
    return {
        "buyer": dict(document.buyer),
        "number": document.number,
        "letter": document.letter,
        "date": day(document.on),
        "valid_until": "" if document.undated else day(document.valid_until),
        "reference": document.reference,
        "deliver_to": address_line(document.deliver_to),
        "wanted": day(wanted) if wanted else "",
        "message": document.message,
        "rep": {"name": document.rep_name, "email": document.rep_email},
        "currency": document.currency,
        "terms": pen.language.terms(document.payment),
    }


def _words(document: Document, template: Template, pen: _Pen) -> dict[str, str]:
    """The words of the language, with the house's own sentences filled in."""
    language, buyer = pen.language, str(document.buyer["name"])
    facts = {
        "until": language.day(document.valid_until),
        "terms": language.terms(document.payment),
        "buyer": buyer,
        "mail": document.rep_email,
        "name": document.rep_name,
        "number": f"{document.number} {document.letter}",
    }
    said = {**language.words, **template.wording.get(language.code, {})}
    words = {
        **language.words,
        **{key: said[key].format(**facts) for key in SENTENCES},
        "signature": pen.word("signature", buyer=buyer),
    }
    return words | (_of_order(pen, facts, document) if document.kind == ORDER else {})


def _of_order(pen: _Pen, facts: Mapping[str, str], document: Document) -> dict[str, str]:
    """What a confirmation says in place of an offer; the house's sentences for offers are not for it."""
    return {
        "quote": pen.word("order"),
        "valid_until": "" if document.undated else pen.word("complete"),
        "revision": "",
        "opening": "",
        "hold": pen.word("hold_order", **facts),
        "accept": pen.word("accept_order", **facts),
    }


@dataclass(frozen=True, slots=True)
class _Goods:
    """The words for units, price sources and taxes that lines name by code."""

    units: dict[str, str]
    sources: Mapping[str, str]
    taxes: dict[str, list[Decimal]]


def _tax_rates() -> dict[str, list[Decimal]]:
    """The percents of each tax category, in order. Two queries."""
    rows = TaxCategory.objects.prefetch_related("components")
    return {row.code: [part.percent for part in row.components.all()] for row in rows}


def _reasons(totals: dict[str, Any], language: str) -> list[str]:
    """Why a category bears no tax, as documents must print it."""
    reasons = {
        row.code: (row.reason_de if language == "de" else "") or row.reason
        for row in TaxCategory.objects.all()
    }
    untaxed = [row["category"] for row in totals["tax"] if not row["name"]]
    return [reasons[code] for code in untaxed if reasons.get(code)]


def _row(
    row: DocumentLine, priced: Mapping[str, Any] | None, pen: _Pen, goods: _Goods
) -> dict[str, object]:
    """One row as finished text. What is not counted stands in brackets."""
    if priced is None or row.item is None or row.quantity is None:
        return {"kind": row.kind, "text": row.text}
    net = pen.amount(priced["net"]) if priced["net"] is not None else "—"
    return {
        "kind": row.kind,
        "code": row.item.code,
        "text": row.text,
        "when": row.when,
        "quantity": pen.number(row.quantity),
        "unit": goods.units.get(row.unit, row.unit),
        "price": pen.amount(priced["price"]) if priced["price"] is not None else "—",
        "per": _per(priced, row, pen, goods.units),
        "discount": _discount(row, pen),
        "tax": " + ".join(f"{pen.number(rate)} %" for rate in goods.taxes.get(row.tax_category, []))
        or "—",
        "net": net if row.kind == "normal" else f"({net})",
        "trail": _trail(row, priced, pen, goods),
    }


#: Where a price starts: what comes after one of these replaces it in the buyer's eyes.
STARTS = ("typed", "agreement", "customer_price", "list_price")


def _trail(
    row: DocumentLine, priced: Mapping[str, Any], pen: _Pen, goods: _Goods
) -> list[tuple[str, str]]:
    """How the price came about, as the buyer may see it: what it started from, what came off."""
    start: tuple[str, str] | None = None
    off: list[tuple[str, str]] = []
    label = ""
    for step in priced["steps"]:
        if step["code"] in STARTS:
            label = pen.word(step["code"], source=step["source"])
        if step["code"] in (*STARTS, "derived", "converted") and step["value"] is not None:
            unit = goods.units.get(step["unit"], step["unit"])
            per = "" if step["per"] in (None, "1") else f"{pen.number(step['per'])} "
            start = (label, f"{pen.amount(step['value'])} {pen.word('per')} {per}{unit}")
        elif step["code"] in ("rule", "line_discount") and step["value"] is not None:
            rule = goods.sources.get(step["source"], step["source"])
            name = rule if step["code"] == "rule" else pen.word("line_discount")
            percent = f" {pen.number(step['percent'])} %" if step["percent"] else ""
            off.append((f"{name}{percent}", MINUS + pen.amount(step["value"])))
    return [*_holds(row, pen, goods), *([start] if start else []), *off]


def _holds(row: DocumentLine, pen: _Pen, goods: _Goods) -> list[tuple[str, str]]:
    """What a pack holds, where the line is not in the item's base unit."""
    assert row.item is not None
    if row.unit == row.item.base_unit_id:
        return []
    factor = next((u.factor for u in row.item.units.all() if u.unit_id == row.unit), None)
    if factor is None:
        return []
    base = goods.units.get(row.item.base_unit_id, row.item.base_unit_id)
    unit = goods.units.get(row.unit, row.unit)
    held = pen.word("holds", unit=unit, quantity=f"{pen.number(factor)} {base}")
    return [(held, "")]


def _discount(row: DocumentLine, pen: _Pen) -> str:
    if row.discount_percent:
        return f"{pen.number(row.discount_percent)} %"
    return pen.amount(row.discount_amount) if row.discount_amount else ""


def _sums(document: Document, pen: _Pen, *, tax_rows: bool) -> list[list[str]]:
    totals = document.priced["totals"]
    rows = [[pen.word("lines"), pen.amount(totals["lines_net"])]]
    if Decimal(str(totals["document_discount"])):
        label = pen.word("document_discount")
        if document.discount_percent is not None:
            on = f" {pen.word('of_gross')}" if document.discount_on == "gross" else ""
            label += f" {pen.number(document.discount_percent)} %{on}"
        rows.append([label, MINUS + pen.amount(totals["document_discount"])])
    rows += [[row["name"], pen.amount(row["amount"])] for row in totals["charge_rows"]]
    if len(rows) > 1:
        rows.append([pen.word("net"), pen.amount(totals["net"])])
    if tax_rows:
        rows += [_tax_row(row, pen) for row in totals["tax"] if row["name"]]
    else:
        rows.append([pen.word("tax"), pen.amount(totals["tax_total"])])
    if Decimal(str(totals["payable_rounding"])):
        rows.append([pen.word("rounding"), pen.amount(totals["payable_rounding"])])
    return rows


def _tax_row(row: dict[str, str], pen: _Pen) -> list[str]:
    base = f"{pen.word('on')} {pen.amount(row['base'])}"
    return [f"{row['name']} {pen.number(row['percent'])} % {base}", pen.amount(row["amount"])]


def _per(line: Mapping[str, Any], row: DocumentLine, pen: _Pen, units: dict[str, str]) -> str:
    unit = units.get(line["unit"], line["unit"])
    if line["per"] != "1":
        return f"{pen.word('per')} {pen.number(line['per'])} {unit}"
    return f"{pen.word('per')} {unit}" if line["unit"] != row.unit else ""


def amount(value: object, digits: int, sign_of_decimals: str = ".") -> str:
    """An amount or price with grouped thousands, a true minus, at least so many decimals.

    >>> amount("-1234.5", 2).replace(GAP, " ").replace(MINUS, "-")
    '-1 234.50'
    """
    whole, _, rest = f"{Decimal(str(value)):f}".partition(".")
    grouped = f"{abs(int(whole)):,}".replace(",", GAP)
    sign = MINUS if whole.startswith("-") else ""
    rest = rest.rstrip("0").ljust(digits, "0")
    return f"{sign}{grouped}{sign_of_decimals}{rest}" if rest else f"{sign}{grouped}"
