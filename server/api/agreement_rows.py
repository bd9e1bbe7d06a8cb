"""A framework agreement as lists and pages tell it."""

from datetime import date
from decimal import Decimal
from typing import Any

from api.schemas import Schema
from api.shapes import money
from apps.calloffs.facts import AgreementFacts
from apps.prices.models import Agreement
from routecore.casefile.words import plain


class AgreementRow(Schema):
    """Where one stands. ``quantity``, ``called_off`` and ``left`` in ``unit_name``: its unit, or its currency."""

    id: int
    number: str
    customer_id: int
    customer: str
    item_id: int
    item_code: str
    item: str
    price: str
    per: str
    currency: str
    unit: str
    price_unit: str
    unit_name: str
    in_money: bool
    quantity: str
    called_off: str
    left: str
    valid_from: date
    valid_to: date
    state: str
    percent: str
    time_percent: str
    due_percent: str
    by_end: str | None
    misses: bool
    due_on: date | None
    due: str | None
    asks: bool


def agreement_row(facts: AgreementFacts) -> AgreementRow:
    """The row of an agreement."""
    row, pace, due = facts.agreement, facts.pace, facts.due
    return AgreementRow(
        **_about(row),
        unit_name=row.currency if facts.in_money else row.unit.name,
        in_money=facts.in_money,
        quantity=told_of(facts, facts.committed),
        called_off=told_of(facts, facts.called_off),
        left=told_of(facts, pace.left),
        state=pace.state,
        percent=plain(pace.percent) or "",
        time_percent=plain(pace.time_percent) or "",
        due_percent=plain(pace.due_percent) or "",
        by_end=told_of(facts, pace.by_end) if pace.by_end is not None else None,
        misses=pace.misses,
        due_on=due.on if due else None,
        due=told_of(facts, due.open) if due else None,
        asks=facts.asked,
    )


def told_of(facts: AgreementFacts, value: Decimal) -> str:
    """So much of what was committed, as text."""
    shown = money(value, facts.agreement.currency) if facts.in_money else plain(value)
    return shown or ""


def _about(row: Agreement) -> dict[str, Any]:
    return {
        "id": row.pk,
        "number": row.number,
        "customer_id": row.customer_id,
        "customer": row.customer.name,
        "item_id": row.item_id,
        "item_code": row.item.code,
        "item": row.item.name,
        "price": plain(row.price) or "",
        "per": plain(row.per) or "",
        "currency": row.currency,
        "unit": row.unit_id,
        "price_unit": row.unit.name,
        "valid_from": row.valid_from,
        "valid_to": row.valid_to,
    }
