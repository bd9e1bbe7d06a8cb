"""A revision through the core: rows in, the priced document and its stored form out."""

from collections.abc import Container, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from decimal import ROUND_HALF_UP, Decimal
from typing import Any

from apps.catalogue.queries import core_items, tax_table
from apps.customers.models import Customer
from apps.errors import Invalid
from apps.prices.queries import price_book
from apps.quotes.models import WORDS_ONLY, QuoteLine, Revision
from routecore.casefile.words import plain
from routecore.casefile.writer import Json, result_of
from routecore.errors import CoreError
from routecore.exact import SIX_DECIMALS
from routecore.money import minor_digits
from routecore.pricing import Item, PassedOver, PriceBook, Step
from routecore.totals import (
    Charge,
    DocumentDiscount,
    DocumentTerms,
    Line,
    PricedDocument,
    PricedLine,
    TaxComponent,
    price_document,
)


@dataclass(frozen=True, slots=True, kw_only=True)
class DraftLine:
    """A line as the desk sends it; ``key`` is the desk's own name for it.

    A heading or a note has words and no item. ``price`` is typed, per unit, with its reason.
    """

    key: str
    item_id: int | None = None
    quantity: Decimal | None = None
    unit: str = ""
    kind: str = "normal"
    alternative_to: str = ""
    text: str = ""
    price: Decimal | None = None
    price_reason: str = ""
    discount_percent: Decimal | None = None
    discount_amount: Decimal | None = None
    depot_id: int | None = None
    wanted_on: date | None = None

    @property
    def words_only(self) -> bool:
        """Whether this is a heading or a note."""
        return self.kind in WORDS_ONLY


@dataclass(frozen=True, slots=True, kw_only=True)
class Question:
    """Everything that one price computation of a revision takes."""

    terms: DocumentTerms
    book: PriceBook
    lines: list[Line] = field(default_factory=list)
    taxes: Mapping[str, tuple[TaxComponent, ...]] = field(default_factory=dict)

    def answer(self) -> PricedDocument:
        """The core's answer."""
        return price_document(self.terms, self.book, self.lines, self.taxes)


@dataclass(frozen=True, slots=True, kw_only=True)
class Prices:
    """What the house has for some items and one customer, on a day, as the core's values."""

    items: Mapping[int, Item]
    book: PriceBook
    taxes: Mapping[str, tuple[TaxComponent, ...]]


def question_of(revision: Revision, customer: Customer, lines: Sequence[DraftLine]) -> Question:
    """The revision as the core's values, as of its date. The same queries, however many lines.

    Raises ``Invalid`` with the path to the line that the core refuses.
    """
    ids = {line.item_id for line in lines if line.item_id is not None}
    prices = Prices(
        items=core_items(ids, customer.tax_category_id),
        book=price_book(customer, ids, revision.on),
        taxes=tax_table(),
    )
    return question_with(prices, revision, lines)


def question_with(prices: Prices, revision: Revision, lines: Sequence[DraftLine]) -> Question:
    """The same, with prices that were read before."""
    items = prices.items
    made = []
    for n, line in enumerate(lines):
        if line.words_only:
            continue
        if line.item_id is None or line.item_id not in items:
            raise Invalid("unknown_item", path=f"lines[{n}].item_id")
        try:
            made.append(
                Line(
                    id=line.key,
                    item=items[line.item_id],
                    quantity=line.quantity or Decimal(0),
                    unit=line.unit,
                    kind=line.kind,
                    alternative_to=line.alternative_to or None,
                    price=line.price,
                    discount_percent=line.discount_percent,
                    discount_amount=line.discount_amount,
                )
            )
        except CoreError as error:
            raise Invalid.of(error, path=f"lines[{n}].{error.path}") from error
    return Question(
        terms=terms_of(revision),
        book=prices.book,
        lines=made,
        taxes=prices.taxes,
    )


def price_revision(
    revision: Revision, customer: Customer, lines: Sequence[DraftLine]
) -> PricedDocument:
    """The revision's price as of its date."""
    return question_of(revision, customer, lines).answer()


def terms_of(revision: Revision) -> DocumentTerms:
    """The revision's date, currency, rounding, discount and charges, as the core's values."""
    percent, amount = revision.discount_percent, revision.discount_amount
    given = percent is not None or amount is not None
    return DocumentTerms(
        on=revision.on,
        currency=revision.currency,
        payable_step=revision.payable_step,
        discount=DocumentDiscount(percent=percent, amount=amount, on=revision.discount_on)
        if given
        else None,
        charges=tuple(_charge(row) for row in revision.charges),
    )


def _charge(row: dict[str, Any]) -> Charge:
    figures = {
        name: Decimal(row[name]) if row.get(name) is not None else None
        for name in ("percent", "amount")
    }
    return Charge(name=row["name"], tax_category=row["tax_category"], **figures)


def draft_lines(rows: Iterable[QuoteLine]) -> list[DraftLine]:
    """Stored lines as the desk sends them."""
    return [
        DraftLine(
            key=row.key,
            item_id=row.item_id,
            quantity=row.quantity,
            unit=row.unit,
            kind=row.kind,
            alternative_to=row.alternative_to,
            text=row.text,
            price=row.typed_price,
            price_reason=row.price_reason,
            discount_percent=row.discount_percent,
            discount_amount=row.discount_amount,
            depot_id=row.depot_id,
            wanted_on=row.wanted_on,
        )
        for row in rows
    ]


def stored_form(document: PricedDocument) -> Json:
    """The answer as it is stored and shown: the case format's result, and each line's steps."""
    result = result_of(document, in_words=False)
    digits = minor_digits(document.currency)
    lines = result["lines"]
    assert isinstance(lines, list)
    for shown, line in zip(lines, document.lines, strict=True):
        shown["steps"] = [_step(step, digits) for step in line.steps]
        shown["passed_over"] = [_passed(passed, digits) for passed in line.passed_over]
    return result


def typing_form(document: PricedDocument, whole: Container[str]) -> Json:
    """The answer as it is shown while somebody types: sums, and what a row of the desk shows.

    Lines whose ids are in ``whole`` come with everything, as in the stored form.
    """
    digits = minor_digits(document.currency)
    kept = [line for line in document.lines if line.id in whole]
    stored = stored_form(replace(document, lines=tuple(kept)))
    in_full = dict(zip((line.id for line in kept), _rows(stored), strict=True))
    stored["lines"] = [in_full.get(line.id) or _row(line, digits) for line in document.lines]
    return stored


def _rows(stored: Json) -> list[Json]:
    rows = stored["lines"]
    assert isinstance(rows, list)
    return rows


def _row(line: PricedLine, digits: int) -> Json:
    return {
        "id": line.id,
        "price": plain(line.price, digits),
        "per": plain(line.per),
        "unit": line.unit,
        "net": plain(line.net, digits),
        "margin_percent": plain(line.margin_percent, 1),
    }


def _step(step: Step, digits: int) -> Json:
    value = None if step.value is None else step.value.quantize(SIX_DECIMALS, ROUND_HALF_UP)
    return {
        "code": step.code,
        "source": step.source.partition(":")[2] or step.source,
        "value": plain(value, digits),
        "per": plain(step.per),
        "unit": step.unit,
        "percent": plain(step.percent),
        "from": plain(step.from_quantity),
        "rate": plain(step.rate),
        "day": step.day.isoformat() if step.day else None,
        "currency": step.currency,
    }


def _passed(passed: PassedOver, digits: int) -> Json:
    kind, _, source = passed.source.partition(":")
    return {
        "kind": kind,
        "source": source or passed.source,
        "reason": passed.reason,
        "price": plain(passed.price, digits),
        "per": plain(passed.per),
        "unit": passed.unit,
        "day": passed.day.isoformat() if passed.day else None,
        "from": plain(passed.from_quantity),
        "currency": passed.currency,
    }
