"""A revision through the core: rows in, the priced document and its stored form out."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from decimal import Decimal

from apps.catalogue.queries import core_items, price_book, tax_table
from apps.customers.models import Customer
from apps.errors import Invalid
from apps.quotes.models import QuoteLine, Revision
from routecore.casefile.writer import Json, plain, result_of
from routecore.errors import CoreError
from routecore.money import minor_digits
from routecore.pricing import PassedOver, PriceEntry, Step
from routecore.totals import (
    DocumentDiscount,
    DocumentTerms,
    Line,
    PricedDocument,
    PricedLine,
    price_document,
)


@dataclass(frozen=True, slots=True, kw_only=True)
class DraftLine:
    """A line as the desk sends it; ``key`` is the desk's own name for it."""

    key: str
    item_id: int
    quantity: Decimal
    unit: str
    text: str = ""
    discount_percent: Decimal | None = None


def price_revision(
    revision: Revision, customer: Customer, lines: Sequence[DraftLine]
) -> PricedDocument:
    """The revision's price as of its date. Eight queries, however many lines.

    Raises ``Invalid`` with the path to the line that the core refuses.
    """
    ids = {line.item_id for line in lines}
    items = core_items(ids, customer.tax_category_id)
    book = price_book(customer.price_list, ids)
    made = []
    for n, line in enumerate(lines):
        if line.item_id not in items:
            raise Invalid("unknown_item", "There is no such item.", path=f"lines[{n}].item_id")
        try:
            made.append(
                Line(
                    id=line.key,
                    item=items[line.item_id],
                    quantity=line.quantity,
                    unit=line.unit,
                    discount_percent=line.discount_percent,
                )
            )
        except CoreError as error:
            raise Invalid(error.code, _words(error), path=f"lines[{n}].{error.path}") from error
    return price_document(terms_of(revision), book, made, tax_table())


def terms_of(revision: Revision) -> DocumentTerms:
    """The revision's date, currency, rounding and document discount, as the core's values."""
    percent, amount = revision.discount_percent, revision.discount_amount
    given = percent is not None or amount is not None
    discount = DocumentDiscount(percent=percent, amount=amount) if given else None
    return DocumentTerms(
        on=revision.on,
        currency=revision.currency,
        payable_step=revision.payable_step,
        discount=discount,
    )


def _words(error: CoreError) -> str:
    facts = ", ".join(str(value) for value in error.facts.values())
    return {
        "unknown_unit": f"This item is not sold in the unit {facts}.",
        "not_positive": "The quantity must be greater than 0.",
        "out_of_range": "A discount lies between 0 and 100 %.",
        "double_id": "Two lines have the same key.",
    }.get(error.code, f"{error.code.replace('_', ' ')} {facts}".strip())


def draft_lines(rows: Iterable[QuoteLine]) -> list[DraftLine]:
    """Stored lines as the desk sends them."""
    return [
        DraftLine(
            key=row.key,
            item_id=row.item_id,
            quantity=row.quantity,
            unit=row.unit,
            text=row.text,
            discount_percent=row.discount_percent,
        )
        for row in rows
    ]


def stored_form(document: PricedDocument) -> Json:
    """The answer as it is stored and shown: the case format's result, and each line's steps."""
    result = result_of(document)
    digits = minor_digits(document.currency)
    lines = result["lines"]
    assert isinstance(lines, list)
    for shown, line in zip(lines, document.lines, strict=True):
        shown["steps"] = [_step(step, digits) for step in line.steps]
        shown["passed_over"] = [_passed(passed, digits) for passed in line.passed_over]
        shown["next_entry"] = _next_entry(line, digits)
    return result


def _step(step: Step, digits: int) -> Json:
    return {
        "code": step.code,
        "source": step.source.removeprefix("price_list:"),
        "value": plain(step.value, digits),
        "per": plain(step.per),
        "unit": step.unit,
        "percent": plain(step.percent),
        "from": plain(step.from_quantity),
    }


def _passed(passed: PassedOver, digits: int) -> Json:
    return {
        "source": passed.source.removeprefix("price_list:"),
        "reason": passed.reason,
        "price": plain(passed.price, digits),
        "per": plain(passed.per),
        "unit": passed.unit,
        "day": passed.day.isoformat() if passed.day else None,
        "from": plain(passed.from_quantity),
        "currency": passed.currency,
    }


def _next_entry(line: PricedLine, digits: int) -> Json | None:
    entry: PriceEntry | None = line.found.next_entry if line.found else None
    if entry is None:
        return None
    return {
        "price": plain(entry.price, digits),
        "per": plain(entry.per),
        "unit": entry.unit,
        "from": plain(entry.from_quantity),
    }
