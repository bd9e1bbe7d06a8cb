"""Reading what the back office tells of customers' accounts: holds, invoices, payments, in values that fit.

The forms are described in ``docs/back-office-interface.md``. What cannot be read raises ``Unfit``.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
import re
from typing import Any

from apps.stock.reading import read_rows
from apps.told import read_day, read_decimal, read_text, tidy, unfit
from routecore.money import sum_of

AMOUNT = re.compile(r"\d{1,12}(\.\d{1,2}0{0,4})?", re.ASCII)
BALANCE = re.compile(r"-?" + AMOUNT.pattern, re.ASCII)
QUANTITY = re.compile(r"\d{1,12}(\.\d{1,6})?", re.ASCII)
PERCENT = re.compile(r"\d{1,2}(\.\d{1,4})?", re.ASCII)
CURRENCY = re.compile(r"[A-Z]{3}", re.ASCII)


@dataclass(frozen=True, slots=True, kw_only=True)
class AccountTold:
    """A customer's account: whether the back office holds it, and by currency what is open of it; None where
    it does not say."""

    customer: str
    held: bool
    balances: Mapping[str, Decimal] | None


@dataclass(frozen=True, slots=True, kw_only=True)
class LineTold:
    """A line of an invoice; ``line`` is the order's, None for one that bills no line of an order."""

    line: int | None
    text: str
    net: Decimal
    quantity: Decimal | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class InvoiceTold:
    """An invoice or a credit note, whole; ``settles`` are the invoices that a credit note settles."""

    number: str
    customer: str
    order_number: str
    kind: str
    on: date
    due_on: date
    currency: str
    net: Decimal
    gross: Decimal
    dues: tuple[tuple[date, Decimal], ...]
    early: tuple[Decimal, date] | None
    lines: tuple[LineTold, ...]
    settles: Mapping[str, Decimal]


@dataclass(frozen=True, slots=True, kw_only=True)
class PaymentTold:
    """A payment, whole, and the invoices it settles; what is left over stands on account."""

    number: str
    customer: str
    on: date
    currency: str
    amount: Decimal
    settles: Mapping[str, Decimal]


def read_account(data: Mapping[str, Any]) -> AccountTold:
    """A customer's account."""
    held = data.get("held")
    if not isinstance(held, bool):
        unfit("held")
    customer = read_text(data, "customer", 20)
    return AccountTold(customer=customer, held=held, balances=_balances(data))


def _balances(data: Mapping[str, Any]) -> dict[str, Decimal] | None:
    if data.get("balances") is None:
        return None
    found: dict[str, Decimal] = {}
    for row in read_rows(data, "balances"):
        currency = _currency(row)
        if currency in found:
            unfit("balances")
        found[currency] = read_decimal(row, "amount", BALANCE)
    return found


def read_invoice(data: Mapping[str, Any]) -> InvoiceTold:
    """An invoice or a credit note."""
    kind = data.get("kind")
    if kind not in ("invoice", "credit"):
        unfit("kind")
    gross = read_decimal(data, "gross", AMOUNT, positive=True)
    told = InvoiceTold(
        number=read_text(data, "number", 30),
        customer=read_text(data, "customer", 20),
        order_number=_optional_text(data, "order_number"),
        kind=str(kind),
        on=read_day(data, "on"),
        due_on=read_day(data, "due_on"),
        currency=_currency(data),
        net=read_decimal(data, "net", AMOUNT),
        gross=gross,
        dues=tuple(
            (read_day(row, "on"), read_decimal(row, "amount", AMOUNT, positive=True))
            for row in read_rows(data, "dues")
        ),
        early=_early(data),
        lines=tuple(_line(row) for row in read_rows(data, "lines")),
        settles=_settles(data),
    )
    if told.net > gross or told.due_on < told.on:
        unfit("net" if told.net > gross else "due_on")
    if told.dues and sum_of(amount for _, amount in told.dues) != gross:
        unfit("dues")
    if sum_of(told.settles.values()) > gross or (told.settles and kind == "invoice"):
        unfit("settles")
    return told


def read_payment(data: Mapping[str, Any]) -> PaymentTold:
    """A payment."""
    told = PaymentTold(
        number=read_text(data, "number", 30),
        customer=read_text(data, "customer", 20),
        on=read_day(data, "on"),
        currency=_currency(data),
        amount=read_decimal(data, "amount", AMOUNT, positive=True),
        settles=_settles(data),
    )
    if sum_of(told.settles.values()) > told.amount:
        unfit("settles")
    return told


def _currency(data: Mapping[str, Any]) -> str:
    value = read_text(data, "currency", 3)
    return value if CURRENCY.fullmatch(value) else unfit("currency")


def _optional_text(data: Mapping[str, Any], name: str) -> str:
    value = data.get(name) or ""
    if not isinstance(value, str) or len(value) > 20 or tidy(value) != value:
        unfit(name)
    return value


def _early(data: Mapping[str, Any]) -> tuple[Decimal, date] | None:
    value = data.get("early")
    if value is None:
        return None
    if not isinstance(value, dict):
        unfit("early")
    return read_decimal(value, "percent", PERCENT, positive=True), read_day(value, "until")


def _line(row: Mapping[str, Any]) -> LineTold:
    line = row.get("line")
    if line is not None and (type(line) is not int or not 0 < line < 1_000_000):
        unfit("lines")
    return LineTold(
        line=line,
        text=read_text(row, "text", 200),
        net=read_decimal(row, "net", AMOUNT),
        quantity=None if row.get("quantity") is None else read_decimal(row, "quantity", QUANTITY),
    )


def _settles(data: Mapping[str, Any]) -> dict[str, Decimal]:
    found: dict[str, Decimal] = {}
    for row in read_rows(data, "settles"):
        number = read_text(row, "invoice", 30)
        if number in found:
            unfit("settles")
        found[number] = read_decimal(row, "amount", AMOUNT, positive=True)
    return found
