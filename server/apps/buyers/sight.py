"""What a buyer sees of a quote: texts in their language, nothing of cost, margin, or anybody else."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal
from typing import Any

from django.utils import timezone

from apps.buyers.flows import Choice
from apps.buyers.models import ACCEPTS, BuyerAnswer, BuyerLink
from apps.buyers.words import words_of
from apps.catalogue.queries import unit_names
from apps.files.queries import with_paper
from apps.orders.flows import Plan
from apps.orders.models import Delivery
from apps.orders.queries import state_of
from apps.papers.document import Document, line_numbers
from apps.papers.pdf import amount
from apps.papers.seller import SELLER
from apps.papers.words import Language, language_of
from apps.quotes.documents import document_of
from apps.quotes.models import WORDS_ONLY
from routecore.casefile.words import plain
from routecore.money import minor_digits


@dataclass(frozen=True, slots=True, kw_only=True)
class SeenLine:
    """A line: what it is, what of it is taken, what it comes to. ``choice`` says how it can be taken."""

    key: str
    number: str
    text: str
    words_only: bool
    choice: str
    instead_of: str
    original: str
    offered: str
    quantity: str
    unit: str
    price: str
    discount: str
    net: str
    taken: bool


def page_of(
    link: BuyerLink, choice: Choice | None, plan: Plan | None, typed: Mapping[str, str]
) -> dict[str, Any]:
    """The page's texts. ``plan`` is what the choice comes to; None where nothing can be ordered any more."""
    revision = link.revision
    document = document_of(revision)
    language = language_of(document.language)
    digits = minor_digits(revision.currency)
    words = {**language.words, **words_of(language.code)}
    return {
        "language": language.code,
        "words": words,
        "seller": SELLER,
        "number": f"{document.number} {document.letter}",
        "on": language.day(document.on),
        "until": language.day(revision.quote.valid_until or document.valid_until),
        "buyer": document.buyer,
        "message": document.message,
        "rep": {"name": document.rep_name, "mail": document.rep_email},
        "terms": language.terms(document.payment),
        "currency": document.currency,
        "lines": _lines(document, choice, plan, typed, language, digits),
        "sums": _sums(plan, words, language, digits) if plan else [],
        "open": plan is not None,
        "mark": plan.mark if plan else "",
        "payable": plain(plan.totals.payable, digits) if plan else "",
        "yes": words["yes"].format(
            payable=amount(plan.totals.payable, digits, language.decimal),
            currency=document.currency,
        )
        if plan
        else "",
        "quantities": link.quantities,
        "files": [{"id": row.pk, "name": row.name} for row in with_paper(revision)],
        "said": [
            _said(row, words, language, digits, document.currency)
            for row in link.answers.order_by("pk")
        ],
        "waits": link.answers.filter(kind=ACCEPTS, state="new").exists(),
    }


def _lines(
    document: Document,
    choice: Choice | None,
    plan: Plan | None,
    typed: Mapping[str, str],
    language: Language,
    digits: int,
) -> list[SeenLine]:
    priced, units = document.answers, unit_names()
    taken = {row.line.row.key: row for take in plan.takes for row in take.rows} if plan else {}
    numbers = line_numbers([line.kind for line in document.lines])
    texts = {line.key: line.text for line in document.lines}
    found = []
    for line, number in zip(document.lines, numbers, strict=True):
        told, mine = priced.get(line.key, {}), taken.get(line.key)
        net = mine.net if mine else told.get("net") or 0
        price = told.get("price")
        found.append(
            SeenLine(
                key=line.key,
                number=number,
                text=line.text,
                words_only=line.kind in WORDS_ONLY,
                choice={"alternative": "instead", "optional": "take"}.get(line.kind, ""),
                instead_of=texts.get(line.alternative_to, ""),
                original=line.alternative_to,
                offered=amount(line.quantity or 0, 0, language.decimal),
                quantity=typed.get(f"q-{line.key}")
                or _text(mine.quantity if mine else line.quantity, language),
                unit=units.get(line.unit, line.unit),
                price=_price(told, line.unit, units, language) if price is not None else "",
                discount=f"{amount(line.discount_percent, 0, language.decimal)} %"
                if line.discount_percent
                else "",
                net=amount(net, digits, language.decimal),
                taken=choice is not None and line.key in choice.lines,
            )
        )
    return found


def _price(told: Mapping[str, Any], unit: str, units: Mapping[str, str], language: Language) -> str:
    """The price; per what, where that is not one of the line's unit."""
    price = amount(told["price"], 2, language.decimal)
    if told["per"] == "1" and told["unit"] == unit:
        return price
    many = "" if told["per"] == "1" else f"{amount(told['per'], 0, language.decimal)} "
    return f"{price} {language.words['per']} {many}{units.get(told['unit'], told['unit'])}"


def _text(quantity: Decimal | None, language: Language) -> str:
    return (plain(quantity) or "").replace(".", language.decimal)


def _sums(
    plan: Plan, words: Mapping[str, str], language: Language, digits: int
) -> list[tuple[str, str]]:
    totals = plan.totals

    def money(value: Decimal) -> str:
        return amount(value, digits, language.decimal)

    rows = [(words["lines"], money(totals.lines_net))]
    if totals.document_discount:
        rows.append((words["document_discount"], money(-totals.document_discount)))
    rows += [(row.name, money(row.amount)) for row in totals.charge_rows if row.amount]
    rows.append((words["net"], money(totals.net)))
    rows += [
        (f"{row.name} {amount(row.percent, 0, language.decimal)} %", money(row.amount))
        for row in totals.tax
    ]
    if totals.payable_rounding:
        rows.append((words["rounding"], money(totals.payable_rounding)))
    rows.append((words["payable"], money(totals.payable)))
    return rows


def _said(
    row: BuyerAnswer, words: Mapping[str, str], language: Language, digits: int, currency: str
) -> dict[str, Any]:
    """What was said before, and what became of it: where the order stands, what left of it."""
    facts = {
        "name": row.name,
        "day": _day(row.at, language),
        "words": row.words,
        "currency": currency,
    }
    if row.kind == ACCEPTS:
        facts["payable"] = amount(row.payable or 0, digits, language.decimal)
    told: dict[str, Any] = {
        "words": words["accepted" if row.kind == ACCEPTS else "asked"].format(**facts),
        "reply": words["replied"].format(reply=row.reply) if row.reply else "",
    }
    if row.order is not None:
        state = words[f"state_{state_of(row.order)}"]
        told["order"] = f"{words['ordered'].format(number=row.order.number)} {state}."
        told["left"] = [
            words["left"].format(day=language.day(each.on))
            for each in Delivery.objects.filter(order=row.order).order_by("on", "pk")
        ]
    return told


def _day(at: datetime, language: Language) -> str:
    return language.day(timezone.localdate(at))
