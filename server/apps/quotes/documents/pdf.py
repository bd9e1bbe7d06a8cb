"""The quote as a PDF, set by typst from a template and plain data."""

from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from django.db.models import Count

from apps.catalogue.models import TaxCategory
from apps.catalogue.queries import unit_names
from apps.customers.addresses import address_line
from apps.customers.payment import payment_of
from apps.errors import Invalid
from apps.prices.queries import source_names
from apps.quotes.buyer import buyer_of
from apps.quotes.documents.look import SENTENCES, Template
from apps.quotes.documents.seller import SELLER
from apps.quotes.documents.setting import set_document, set_pictures
from apps.quotes.documents.words import Language, language_of
from apps.quotes.models import QuoteLine, Revision
from routecore.money import minor_digits

#: Over every page of a draft, whatever its layout: it cannot be taken for an offer that was made.
DRAFT_MARK = """
#let marked = json(bytes(sys.inputs.data)).words.draft
#set page(foreground: rotate(-38deg, text(size: 110pt, weight: "bold",
  fill: rgb("#A81E1E").transparentize(82%))[#upper(marked)]))
"""
MINUS = "\N{MINUS SIGN}"
GAP = "\N{NO-BREAK SPACE}"


def make_pdf(revision: Revision, lines: list[QuoteLine], template: Template) -> bytes:
    """The document of a revision, in the buyer's language; until it is issued, it says "Draft".

    Raises ``Invalid`` where the template's layout cannot be set.
    """
    language = language_of(revision.quote.customer.language)
    layout = template.layout()
    if revision.issued_at is None:
        layout = DRAFT_MARK + layout
    return set_document(layout, paper_data(revision, lines, template, language))


def sample_pages(template: Template, revision_id: int | None, language: str) -> list[str]:
    """A template's pages as pictures (base64 PNG), tried on a quote in a language."""
    revision = sample_revision(revision_id)
    lines = list(revision.lines.select_related("item").prefetch_related("item__units"))
    data = paper_data(revision, lines, template, language_of(language))
    return set_pictures(template.layout(), data)


def sample_revision(revision_id: int | None) -> Revision:
    """The revision that a template is tried on: the one named, or the one that shows the most."""
    rows = Revision.objects.select_related("quote__customer", "quote__owner", "quote__contact")
    rows = rows.filter(pk=revision_id) if revision_id else rows.filter(lines__item__isnull=False)
    kinds = Count("lines__kind", distinct=True)
    found = (
        rows.annotate(kinds=kinds, size=Count("lines")).order_by("-kinds", "-size", "-pk").first()
    )
    if found is None:
        raise Invalid("no_quote", path="revision_id")
    found.buyer = found.buyer or buyer_of(found.quote)
    return found


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


def paper_data(
    revision: Revision, lines: list[QuoteLine], template: Template, language: Language
) -> dict[str, object]:
    """All that the template prints, as finished text: it computes nothing."""
    quote = revision.quote
    pen = _Pen(language, minor_digits(revision.currency))
    by_key = {line["id"]: line for line in revision.priced["lines"]}
    goods = _Goods(unit_names(language.code), source_names(quote.customer), _tax_rates())
    totals = revision.priced["totals"]
    until = language.day(revision.valid_until)
    terms = language.terms(payment_of(revision))
    facts = {
        "until": until,
        "terms": terms,
        "buyer": revision.buyer["name"],
        "mail": quote.owner.email,
        "name": quote.owner.name,
        "number": f"{quote.number} {revision.letter}",
    }
    said = {**language.words, **template.wording.get(language.code, {})}
    return {
        "language": language.code,
        "look": template.look.as_data(),
        "words": {
            **language.words,
            **{key: said[key].format(**facts) for key in SENTENCES},
            "signature": pen.word("signature", buyer=revision.buyer["name"]),
        },
        "seller": SELLER,
        "buyer": revision.buyer,
        "number": quote.number,
        "letter": revision.letter,
        "date": language.day(revision.on),
        "valid_until": until,
        "reference": revision.buyer_reference,
        "deliver_to": address_line(revision.deliver_to),
        "wanted": language.day(revision.requested_on) if revision.requested_on else "",
        "message": revision.message,
        "rep": {"name": quote.owner.name, "email": quote.owner.email},
        "currency": revision.currency,
        "terms": terms,
        "lines": [_row(row, by_key.get(row.key), pen, goods) for row in lines],
        "numbers": line_numbers([row.kind for row in lines]),
        "sums": _sums(revision, totals, pen, tax_rows=template.look.tax_rows),
        "tax_reasons": _reasons(totals, language.code),
        "payable": pen.amount(totals["payable"]),
    }


@dataclass(frozen=True, slots=True)
class _Goods:
    """The words for units, price sources and taxes that lines name by code."""

    units: dict[str, str]
    sources: dict[str, str]
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
    row: QuoteLine, priced: dict[str, Any] | None, pen: _Pen, goods: _Goods
) -> dict[str, object]:
    """One row as finished text. What is not counted stands in brackets."""
    if priced is None or row.item is None or row.quantity is None:
        return {"kind": row.kind, "text": row.text}
    net = pen.amount(priced["net"]) if priced["net"] is not None else "—"
    category = row.tax_category or _category(row)
    return {
        "kind": row.kind,
        "code": row.item.code,
        "text": row.text,
        "quantity": pen.number(row.quantity),
        "unit": goods.units.get(row.unit, row.unit),
        "price": pen.amount(priced["price"]) if priced["price"] is not None else "—",
        "per": _per(priced, row, pen, goods.units),
        "discount": _discount(row, pen),
        "tax": " + ".join(f"{pen.number(rate)} %" for rate in goods.taxes.get(category, [])) or "—",
        "net": net if row.kind == "normal" else f"({net})",
        "trail": _trail(row, priced, pen, goods),
    }


def _category(row: QuoteLine) -> str:
    assert row.item is not None
    return row.revision.quote.customer.tax_category_id or row.item.tax_category_id


#: Where a price starts: what comes after one of these replaces it in the buyer's eyes.
STARTS = ("typed", "agreement", "customer_price", "list_price")


def _trail(
    row: QuoteLine, priced: dict[str, Any], pen: _Pen, goods: _Goods
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


def _holds(row: QuoteLine, pen: _Pen, goods: _Goods) -> list[tuple[str, str]]:
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


def _discount(row: QuoteLine, pen: _Pen) -> str:
    if row.discount_percent:
        return f"{pen.number(row.discount_percent)} %"
    return pen.amount(row.discount_amount) if row.discount_amount else ""


def _sums(
    revision: Revision, totals: dict[str, Any], pen: _Pen, *, tax_rows: bool
) -> list[list[str]]:
    rows = [[pen.word("lines"), pen.amount(totals["lines_net"])]]
    if Decimal(str(totals["document_discount"])):
        label = pen.word("document_discount")
        if revision.discount_percent is not None:
            on = f" {pen.word('of_gross')}" if revision.discount_on == "gross" else ""
            label += f" {pen.number(revision.discount_percent)} %{on}"
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


def _per(line: dict[str, str], row: QuoteLine, pen: _Pen, units: dict[str, str]) -> str:
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
