"""Two states of a quote side by side: lines, prices, sums, terms. Only what differs is marked."""

from collections.abc import Mapping, Sequence
from copy import copy
from dataclasses import dataclass
from datetime import date
from typing import Any

from apps.customers.addresses import address_line
from apps.customers.payment import payment_of
from apps.papers.words import ENGLISH
from apps.quotes.models import QuoteLine, Revision
from apps.quotes.pricing.question import draft_lines, question_of, stored_form

LINE_FIELDS = ("quantity", "unit", "price", "discount", "net", "kind")
SUMS = (
    *("lines_net", "document_discount", "charges", "net"),
    *("tax_total", "payable_rounding", "payable"),
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Pair:
    """One figure or word before and after."""

    name: str
    before: str | None
    after: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class LinePair:
    """One line before and after; ``change``: ``same``, ``changed``, ``new``, ``gone``."""

    key: str
    text: str
    change: str
    pairs: tuple[Pair, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Comparison:
    """Everything side by side."""

    lines: tuple[LinePair, ...]
    sums: tuple[Pair, ...]
    terms: tuple[Pair, ...]


def compare_revisions(before: Revision, after: Revision) -> Comparison:
    """Two revisions of a quote; lines are matched by their keys, which revisions keep, else by item."""
    return Comparison(
        lines=_line_pairs(_lines(before), _lines(after)),
        sums=_sum_pairs(before.priced, after.priced),
        terms=_term_pairs(before, after),
    )


def priced_again(revision: Revision, today: date) -> Comparison:
    """The draft as it is stored against its price as of today; nothing is changed."""
    again = copy(revision)
    again.on = today
    rows = list(revision.lines.select_related("item"))
    answer = question_of(again, revision.quote.customer, draft_lines(rows)).answer()
    again.priced = stored_form(answer)
    return Comparison(
        lines=_line_pairs(_fields(rows, revision.priced), _fields(rows, again.priced)),
        sums=_sum_pairs(revision.priced, again.priced),
        terms=_term_pairs(revision, again),
    )


def _lines(revision: Revision) -> dict[str, dict[str, str | None]]:
    return _fields(list(revision.lines.select_related("item")), revision.priced)


def _fields(
    rows: Sequence[QuoteLine], priced: Mapping[str, Any]
) -> dict[str, dict[str, str | None]]:
    answers = {line["id"]: line for line in priced["lines"]}
    found = {}
    for row in rows:
        line = answers.get(row.key, {})
        quantity = None if row.quantity is None else f"{row.quantity.normalize():f}"
        found[row.key] = {
            "item": row.item.code if row.item else "",
            "text": f"{row.item.code} {row.text}" if row.item else row.text,
            "quantity": quantity,
            "unit": row.unit,
            "price": line.get("price"),
            "discount": line.get("discount"),
            "net": line.get("net"),
            "kind": row.kind,
        }
    return found


def _line_pairs(
    before: dict[str, dict[str, str | None]], after: dict[str, dict[str, str | None]]
) -> tuple[LinePair, ...]:
    twins = _twins(before, after)
    taken = set(twins.values())
    sides = [(key, before.get(twins.get(key, ""), {}), row) for key, row in after.items()]
    sides += [(key, row, {}) for key, row in before.items() if key not in taken]
    found = []
    for key, one, other in sides:
        pairs = tuple(
            Pair(name=name, before=one.get(name), after=other.get(name)) for name in LINE_FIELDS
        )
        differs = any(pair.before != pair.after for pair in pairs)
        change = "new" if not one else "gone" if not other else "changed" if differs else "same"
        text = other.get("text") or one.get("text") or ""
        found.append(LinePair(key=key, text=text, change=change, pairs=pairs))
    return tuple(found)


def _twins(
    before: dict[str, dict[str, str | None]], after: dict[str, dict[str, str | None]]
) -> dict[str, str]:
    """For later keys the earlier one: the same with the same item, else the first left of the item.

    A line whose item was changed is one gone and one new.
    """
    found = {
        key: key
        for key, row in after.items()
        if key in before and before[key]["item"] == row["item"]
    }
    left = {key: row["item"] for key, row in before.items() if key not in found and row["item"]}
    for key, row in after.items():
        twin = next((other for other, item in left.items() if item == row["item"]), None)
        if key not in found and twin is not None:
            found[key] = twin
            del left[twin]
    return found


def _sum_pairs(before: Mapping[str, Any], after: Mapping[str, Any]) -> tuple[Pair, ...]:
    one, other = before["totals"], after["totals"]
    return tuple(Pair(name=name, before=one[name], after=other[name]) for name in SUMS)


def _term_pairs(before: Revision, after: Revision) -> tuple[Pair, ...]:
    def terms(revision: Revision) -> dict[str, str]:
        percent = revision.discount_percent
        return {
            "on": revision.on.isoformat(),
            "valid_until": revision.valid_until.isoformat(),
            "payment": ENGLISH.terms(payment_of(revision)),
            "requested_on": revision.requested_on.isoformat() if revision.requested_on else "",
            "deliver_to": address_line(revision.deliver_to),
            "discount": f"{percent.normalize():f} on {revision.discount_on}" if percent else "",
            "charges": ", ".join(row["name"] for row in revision.charges),
            "reference": revision.buyer_reference,
            "message": revision.message,
            "paper": revision.paper,
        }

    one, other = terms(before), terms(after)
    return tuple(Pair(name=name, before=one[name], after=other[name]) for name in one)
