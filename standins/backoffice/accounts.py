"""What customers owe the back office: invoices, credit notes, payments, what settles what, and holds.

Each of them is told whole, under the number of its last change (``goods.touch``). Amounts are decimal text.
"""

from collections.abc import Mapping, Sequence
from datetime import date, timedelta
from decimal import ROUND_HALF_UP, Decimal
import json
import sqlite3
from typing import Any

from standins.backoffice.goods import today, touch

TABLES = (
    """CREATE TABLE IF NOT EXISTS accounts (
    customer TEXT PRIMARY KEY, name TEXT NOT NULL, held INTEGER NOT NULL DEFAULT 0)""",
    """CREATE TABLE IF NOT EXISTS invoices (
    number TEXT PRIMARY KEY, customer TEXT NOT NULL, kind TEXT NOT NULL, body TEXT NOT NULL)""",
    """CREATE TABLE IF NOT EXISTS payments (
    number TEXT PRIMARY KEY, customer TEXT NOT NULL, body TEXT NOT NULL)""",
    """CREATE TABLE IF NOT EXISTS settled (
    source TEXT NOT NULL, invoice TEXT NOT NULL, amount TEXT NOT NULL, PRIMARY KEY (source, invoice))""",
)
CENT = Decimal("0.01")


def open_books(db: sqlite3.Connection, books: Mapping[str, Any]) -> None:
    """Take over accounts, invoices and payments, each as it is to be told."""
    for row in books["accounts"]:
        account = (row["customer"], row["name"], int(row["held"]))
        db.execute("INSERT INTO accounts VALUES (?, ?, ?)", account)
    for row in books["invoices"]:
        body = _without(row, "number", "customer", "kind", "settles")
        _book(db, row["number"], row["customer"], row["kind"], body)
        _put(db, row["number"], _shares(row))
    for row in books["payments"]:
        body = _without(row, "number", "customer", "settles")
        values = (row["number"], row["customer"], json.dumps(body))
        db.execute("INSERT INTO payments VALUES (?, ?, ?)", values)
        _put(db, row["number"], _shares(row))
        touch(db, "payment", row["number"])
    for row in books["accounts"]:
        touch(db, "account", row["customer"])


def _without(row: Mapping[str, Any], *names: str) -> dict[str, Any]:
    return {name: value for name, value in row.items() if name not in names}


def _shares(row: Mapping[str, Any]) -> dict[str, Decimal]:
    return {each["invoice"]: Decimal(each["amount"]) for each in row["settles"]}


def know(db: sqlite3.Connection, customer: Mapping[str, Any]) -> None:
    """A customer who has ordered has an account."""
    number = str(customer.get("number") or "")
    if number and not db.execute("SELECT 1 FROM accounts WHERE customer = ?", (number,)).fetchone():
        name = str(customer.get("name") or number)
        db.execute("INSERT INTO accounts (customer, name) VALUES (?, ?)", (number, name))
        touch(db, "account", number)


def bill(db: sqlite3.Connection, told: Mapping[str, Any], order: Mapping[str, Any]) -> None:
    """An order was invoiced: the invoice with its parts and the discount for paying early."""
    on, terms, gross = date.fromisoformat(told["on"]), order["terms"], Decimal(told["gross"])
    early = terms.get("early")
    body = {
        "order_number": order["order_number"],
        "on": told["on"],
        "due_on": told["due_on"],
        "currency": order["currency"],
        "net": told["net"],
        "gross": told["gross"],
        "dues": _parts(on, gross, terms.get("instalments") or []),
        "early": early
        and {
            "percent": str(early["percent"]),
            "until": (on + timedelta(days=int(early["days"]))).isoformat(),
        },
        "lines": _lines(told),
    }
    _book(db, told["number"], _number(order), "invoice", body)


def _lines(told: Mapping[str, Any]) -> list[dict[str, Any]]:
    return [
        {"line": row["line"], "text": row["text"], "net": row["net"], "quantity": row["quantity"]}
        for row in told["lines"]
    ]


def credit_order(db: sqlite3.Connection, told: Mapping[str, Any], order: Mapping[str, Any]) -> None:
    """A credit note for what came back; it settles its invoice as far as that is open."""
    names = ("on", "due_on", "net", "gross")
    body = {
        "order_number": order["order_number"],
        "currency": order["currency"],
        "dues": [],
        "early": None,
        "lines": _lines(told),
        **{name: told[name] for name in names},
    }
    left = min(open_of(db, told["invoice"]), Decimal(told["gross"]))
    _book(db, told["number"], _number(order), "credit", body)
    _put(db, told["number"], {told["invoice"]: left})
    touch(db, "invoice", told["number"])
    _touch_account(db, _number(order))


def _parts(
    on: date, gross: Decimal, instalments: Sequence[Mapping[str, Any]]
) -> list[dict[str, str]]:
    """The parts in which an invoice falls due; the last takes what rounding leaves."""
    rows, left = [], gross
    for n, part in enumerate(instalments, start=1):
        share = (gross * Decimal(str(part["percent"])) / 100).quantize(CENT)
        share = left if n == len(instalments) else share
        left -= share
        day = on + timedelta(days=int(part["days"]))
        rows.append({"on": day.isoformat(), "amount": f"{share:f}"})
    return [row for row in rows if Decimal(row["amount"]) > 0]


def _number(order: Mapping[str, Any]) -> str:
    return str(order["customer"].get("number") or "")


def _book(
    db: sqlite3.Connection, number: str, customer: str, kind: str, body: Mapping[str, Any]
) -> None:
    if customer:
        values = (number, customer, kind, json.dumps(body))
        db.execute("INSERT OR IGNORE INTO invoices VALUES (?, ?, ?, ?)", values)
        touch(db, "invoice", number)
        _touch_account(db, customer)


def book_payment(
    db: sqlite3.Connection,
    number: str,
    customer: str,
    currency: str,
    amount: Decimal,
    shares: Mapping[str, Decimal],
) -> None:
    """Money came in, for these invoices; what is left of it stands on account."""
    body = {"on": today().isoformat(), "currency": currency, "amount": f"{amount:f}"}
    db.execute("INSERT INTO payments VALUES (?, ?, ?)", (number, customer, json.dumps(body)))
    _put(db, number, shares)
    touch(db, "payment", number)
    _touch_account(db, customer)


def _put(db: sqlite3.Connection, source: str, shares: Mapping[str, Decimal]) -> None:
    for invoice, share in shares.items():
        if share > 0:
            db.execute("INSERT INTO settled VALUES (?, ?, ?)", (source, invoice, f"{share:f}"))


def _touch_account(db: sqlite3.Connection, customer: str) -> None:
    """An account is told after what its balances count."""
    if db.execute("SELECT 1 FROM accounts WHERE customer = ?", (customer,)).fetchone():
        touch(db, "account", customer)


def open_of(db: sqlite3.Connection, number: str) -> Decimal:
    """What is open of an invoice: nothing, once it was paid in time down to what is given for paying early."""
    row = db.execute("SELECT body FROM invoices WHERE number = ?", (number,)).fetchone()
    body: dict[str, Any] = json.loads(row["body"]) if row else {"gross": "0"}
    gross, early = Decimal(body["gross"]), body.get("early")
    rows = db.execute(
        "SELECT s.amount, p.body FROM settled s LEFT JOIN payments p ON p.number = s.source "
        "WHERE s.invoice = ?",
        (number,),
    ).fetchall()
    left = gross - sum((Decimal(each["amount"]) for each in rows), Decimal(0))
    if left <= 0 or not early:
        return left
    off = (gross * Decimal(early["percent"]) / 100).quantize(CENT, ROUND_HALF_UP)
    paid = [(json.loads(row["body"])["on"], row["amount"]) for row in rows if row["body"]]
    in_time = sum((Decimal(amount) for on, amount in paid if on <= early["until"]), Decimal(0))
    return Decimal(0) if in_time >= gross - off else left


def _balances(db: sqlite3.Connection, customer: str) -> list[dict[str, str]]:
    """By currency, what is open of an account: invoices less credit notes and payments that settle nothing yet."""
    found: dict[str, Decimal] = {}
    for row in db.execute("SELECT * FROM invoices WHERE customer = ?", (customer,)).fetchall():
        body, number = json.loads(row["body"]), row["number"]
        credit = row["kind"] == "credit"
        left = -_unused(db, number, body["gross"]) if credit else open_of(db, number)
        found[body["currency"]] = found.get(body["currency"], Decimal(0)) + left
    for row in db.execute("SELECT * FROM payments WHERE customer = ?", (customer,)).fetchall():
        body = json.loads(row["body"])
        left = _unused(db, row["number"], body["amount"])
        found[body["currency"]] = found.get(body["currency"], Decimal(0)) - left
    return [
        {"currency": currency, "amount": f"{amount:.2f}"}
        for currency, amount in sorted(found.items())
        if amount
    ]


def _unused(db: sqlite3.Connection, source: str, whole: str) -> Decimal:
    """What a payment or a credit note has not settled anything with."""
    rows = db.execute("SELECT amount FROM settled WHERE source = ?", (source,))
    return Decimal(whole) - sum((Decimal(each["amount"]) for each in rows), Decimal(0))


def hold(db: sqlite3.Connection, customer: str, held: bool) -> None:
    """A customer is held for credit, or free again."""
    db.execute("UPDATE accounts SET held = ? WHERE customer = ?", (int(held), customer))
    touch(db, "account", customer)


def open_invoices(db: sqlite3.Connection, customer: str) -> list[tuple[str, str, Decimal]]:
    """Number, currency and what is open of a customer's invoices, the oldest first."""
    rows = db.execute(
        "SELECT number, body FROM invoices WHERE customer = ? AND kind = 'invoice' ORDER BY rowid",
        (customer,),
    ).fetchall()
    found = [
        (row["number"], json.loads(row["body"])["currency"], open_of(db, row["number"]))
        for row in rows
    ]
    return [row for row in found if row[2] > 0]


def pay(db: sqlite3.Connection, number: str, customer: str, share: Decimal) -> None:
    """A payment over all open invoices of one currency: so much of their sum, the oldest first."""
    rows = open_invoices(db, customer)
    if not rows:
        return
    currency = rows[0][1]
    same = [(invoice, left) for invoice, money, left in rows if money == currency]
    amount = (sum((left for _, left in same), Decimal(0)) * share).quantize(CENT)
    shares, rest = {}, amount
    for invoice, left in same:
        shares[invoice] = min(left, rest)
        rest -= shares[invoice]
    if amount > 0:
        book_payment(db, number, customer, currency, amount, shares)


def on_account(db: sqlite3.Connection, number: str, customer: str, amount: Decimal) -> None:
    """Money without a word of what it is for."""
    book_payment(db, number, customer, "EUR", amount, {})


def credit(db: sqlite3.Connection, number: str, invoice: str) -> None:
    """A credit note over a tenth of an invoice; it settles that much of it, as far as that is open."""
    row = db.execute("SELECT customer, body FROM invoices WHERE number = ?", (invoice,)).fetchone()
    if row is None:
        return
    of = json.loads(row["body"])
    gross = (Decimal(of["gross"]) / 10).quantize(CENT)
    net = (Decimal(of["net"]) / 10).quantize(CENT)
    body = {
        **of,
        "on": today().isoformat(),
        "due_on": today().isoformat(),
        "net": f"{net:f}",
        "gross": f"{gross:f}",
        "dues": [],
        "early": None,
        "lines": [{"line": None, "text": f"Credit on {invoice}", "net": f"{net:f}"}],
    }
    left = open_of(db, invoice)
    _book(db, number, row["customer"], "credit", body)
    _put(db, number, {invoice: min(left, gross)})
    touch(db, "invoice", number)
    _touch_account(db, row["customer"])


def told(db: sqlite3.Connection, kind: str, name: str) -> dict[str, Any]:
    """An account, an invoice or a payment, whole, as it is now."""
    if kind == "account":
        row = db.execute("SELECT * FROM accounts WHERE customer = ?", (name,)).fetchone()
        own = {"customer": row["customer"], "held": bool(row["held"])}
        return {**own, "balances": _balances(db, name)}
    table = "invoices" if kind == "invoice" else "payments"
    row = db.execute(f"SELECT * FROM {table} WHERE number = ?", (name,)).fetchone()  # noqa: S608
    rows = db.execute("SELECT invoice, amount FROM settled WHERE source = ?", (name,))
    whole = {
        "number": name,
        "customer": row["customer"],
        **json.loads(row["body"]),
        "settles": [dict(each) for each in rows],
    }
    return {**whole, "kind": row["kind"]} if kind == "invoice" else whole


def ledger(db: sqlite3.Connection) -> list[dict[str, Any]]:
    """Every account with its open invoices, for the clerk's page."""
    rows = db.execute("SELECT * FROM accounts ORDER BY name").fetchall()
    return [{**dict(row), "open": open_invoices(db, row["customer"])} for row in rows]
