"""The back office's own storage: orders, their steps, and the feed of events, in one SQLite file."""

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from datetime import UTC, date, datetime, timedelta
from decimal import Decimal
import json
from pathlib import Path
import re
import sqlite3
from typing import Any
import uuid

from standins.backoffice import accounts, goods, moves

STEPS = ("taken", "shipped", "invoiced", "paid")
TABLES = (
    """CREATE TABLE IF NOT EXISTS orders (
    number TEXT PRIMARY KEY, key TEXT NOT NULL UNIQUE, body TEXT NOT NULL, state TEXT NOT NULL,
    held INTEGER NOT NULL DEFAULT 0, received_at TEXT NOT NULL, moved_at TEXT NOT NULL)""",
    """CREATE TABLE IF NOT EXISTS events (
    position INTEGER PRIMARY KEY AUTOINCREMENT, id TEXT NOT NULL UNIQUE, key TEXT NOT NULL,
    kind TEXT NOT NULL, occurred_at TEXT NOT NULL, data TEXT NOT NULL)""",
    "CREATE TABLE IF NOT EXISTS counters (name TEXT PRIMARY KEY, last INTEGER NOT NULL)",
    "CREATE TABLE IF NOT EXISTS switches (name TEXT PRIMARY KEY, value TEXT NOT NULL)",
    *goods.TABLES,
    *accounts.TABLES,
)
TABLE = re.compile(r"CREATE TABLE IF NOT EXISTS (\w+)")


class Clash(Exception):
    """The same key came with another order."""


class Store:
    """Everything the back office knows. Each method is one transaction."""

    def __init__(self, file: Path):
        file.parent.mkdir(parents=True, exist_ok=True)
        self._file = file
        self._books = file.with_name("opening.json")
        self._read = 0
        with self._open() as db:
            _make(db)

    @contextmanager
    def _open(self) -> Iterator[sqlite3.Connection]:
        db = sqlite3.connect(self._file, timeout=10, isolation_level=None)
        db.row_factory = sqlite3.Row
        db.execute("PRAGMA journal_mode=WAL")
        try:
            self._begin_with_books(db)
            db.execute("BEGIN IMMEDIATE")
            yield db
            db.execute("COMMIT")
        except BaseException:
            db.execute("ROLLBACK") if db.in_transaction else None
            raise
        finally:
            db.close()

    def _begin_with_books(self, db: sqlite3.Connection) -> None:
        """Begin anew with the books that lie beside the storage, where they are others than before."""
        written = self._books.stat().st_mtime_ns if self._books.exists() else 0
        if written == self._read:
            return
        db.execute("BEGIN IMMEDIATE")
        _make(db)
        books = json.loads(self._books.read_text("utf-8")) if written else {}
        mark = db.execute("SELECT value FROM switches WHERE name = 'books'").fetchone()
        if books and (mark is None or mark[0] != books["mark"]):
            for table in TABLE.findall(" ".join(TABLES)):
                db.execute(f"DELETE FROM {table}")  # noqa: S608 - names of our own
            goods.fill(db)
            _open_orders(db, books["orders"])
            accounts.open_books(db, books)
            db.execute("INSERT INTO switches VALUES ('books', ?)", (books["mark"],))
        db.execute("COMMIT")
        self._read = written

    def take(self, key: str, body: dict[str, Any]) -> tuple[str, bool]:
        """Take an order under its key: its number, and whether it is new."""
        text = json.dumps(body, sort_keys=True)
        with self._open() as db:
            there = db.execute("SELECT number, body FROM orders WHERE key = ?", (key,)).fetchone()
            if there is not None:
                if there["body"] != text:
                    raise Clash
                return there["number"], False
            number = f"BO-{_count(db, 'order', 48200)}"
            now = _now()
            db.execute(
                "INSERT INTO orders VALUES (?, ?, ?, 'taken', 0, ?, ?)",
                (number, key, text, now, now),
            )
            _announce(db, key, "taken", {"number": number})
            goods.keep(db, number, body)
            accounts.know(db, body["customer"])
            return number, True

    def orders(self) -> list[dict[str, Any]]:
        """All orders, newest first."""
        with self._open() as db:
            rows = db.execute("SELECT * FROM orders ORDER BY received_at DESC, number DESC")
            return [{**dict(row), "body": json.loads(row["body"])} for row in rows]

    def events(self, after: int, limit: int) -> list[dict[str, Any]]:
        """The feed after a position."""
        with self._open() as db:
            rows = db.execute(
                "SELECT * FROM events WHERE position > ? ORDER BY position LIMIT ?", (after, limit)
            )
            return [{**dict(row), "data": json.loads(row["data"])} for row in rows]

    def count(self) -> tuple[str, int]:
        """Which count the feed's positions are of, and the last of them."""
        with self._open() as db:
            fresh = (str(uuid.uuid4()),)
            db.execute("INSERT OR IGNORE INTO switches VALUES ('epoch', ?)", fresh)
            epoch = db.execute("SELECT value FROM switches WHERE name = 'epoch'").fetchone()[0]
            last = db.execute("SELECT COALESCE(MAX(position), 0) FROM events").fetchone()[0]
            return str(epoch), int(last)

    def changes(self, after: int, limit: int, kind: str = "") -> tuple[list[dict[str, Any]], int]:
        """What has changed after a number, all of it or one kind, and the newest number."""
        with self._open() as db:
            return goods.changes(db, after, limit, accounts.told, kind)

    def shelf(self) -> list[dict[str, Any]]:
        """Every item in every depot."""
        with self._open() as db:
            return goods.shelf(db)

    def receipt(self, act: str, number: str) -> None:
        """A receipt has come, comes a week later, or is confirmed."""
        acts = {"receive": goods.receive, "postpone": goods.postpone, "confirm": goods.confirm}
        with self._open() as db:
            acts[act](db, number)

    def change_places(self, body: dict[str, Any]) -> str | None:
        """Two reservations change places; or why not, in a sentence."""
        with self._open() as db:
            return moves.change_places(db, body)

    def reorder(self, name: str) -> None:
        """More of an item in a depot (``item@depot``) is ordered from its supplier."""
        item, _, depot = name.partition("@")
        with self._open() as db:
            goods.reorder(db, item, depot)

    def ledger(self) -> list[dict[str, Any]]:
        """Every account with what is open."""
        with self._open() as db:
            return accounts.ledger(db)

    def account(self, act: str, name: str) -> None:
        """A button of the page of accounts, for a customer, or an invoice that gets a credit note."""
        with self._open() as db:
            if act in ("hold-customer", "free-customer"):
                accounts.hold(db, name, act == "hold-customer")
            elif act == "credit":
                accounts.credit(db, f"CN-B{_count(db, 'credit', 300)}", name)
            elif act == "on-account":
                number = f"PAY-B{_count(db, 'payment', 5000)}"
                accounts.on_account(db, number, name, Decimal("250.00"))
            else:
                share = Decimal("0.5") if act == "pay-half" else Decimal(1)
                accounts.pay(db, f"PAY-B{_count(db, 'payment', 5000)}", name, share)

    def step(self, number: str) -> str | None:
        """Move an order on by one step; its new state, or None where there is nothing to do."""
        with self._open() as db:
            row = db.execute("SELECT * FROM orders WHERE number = ?", (number,)).fetchone()
            if row is None or row["held"] or row["state"] == STEPS[-1]:
                return None
            state = STEPS[STEPS.index(row["state"]) + 1]
            body = json.loads(row["body"])
            data = {"shipped": _shipment, "invoiced": _invoice, "paid": _payment}[state](
                db, number, body
            )
            if data is not None:
                _announce(db, row["key"], state, data)
                _book(db, state, data, body)
            if state == "shipped":
                goods.ship(db, number)
            db.execute(
                "UPDATE orders SET state = ?, moved_at = ? WHERE number = ?",
                (state, _now(), number),
            )
            return state

    def hold(self, number: str, held: bool) -> bool:
        """Hold an order for credit, or release it; whether anything changed."""
        with self._open() as db:
            row = db.execute("SELECT key, held FROM orders WHERE number = ?", (number,)).fetchone()
            if row is None or bool(row["held"]) == held:
                return False
            db.execute("UPDATE orders SET held = ? WHERE number = ?", (int(held), number))
            data = (
                {"number": number, "reason": "Credit: being looked at"}
                if held
                else {"number": number}
            )
            _announce(db, row["key"], "held" if held else "released", data)
            return True

    def due(self, pause_seconds: int) -> list[str]:
        """Orders that have stood at a step for so long and can move on."""
        before = (datetime.now(UTC) - timedelta(seconds=pause_seconds)).isoformat()
        with self._open() as db:
            rows = db.execute(
                "SELECT number FROM orders WHERE held = 0 AND state <> ? AND moved_at <= ?",
                (STEPS[-1], before),
            )
            return [row["number"] for row in rows]

    def switch(self, name: str, default: str) -> str:
        """The value of a switch."""
        with self._open() as db:
            row = db.execute("SELECT value FROM switches WHERE name = ?", (name,)).fetchone()
            return row["value"] if row else default

    def set_switch(self, name: str, value: str) -> None:
        """Set a switch."""
        with self._open() as db:
            db.execute("INSERT OR REPLACE INTO switches VALUES (?, ?)", (name, value))


def _shipment(db: sqlite3.Connection, number: str, body: dict[str, Any]) -> dict[str, Any] | None:
    """Services need no shipping; an order of services alone ships nothing."""
    goods = [line for line in body["lines"] if line["kind"] != "service"]
    if not goods:
        return None
    return {
        "number": f"DN-{_count(db, 'delivery', 71300)}",
        "order": number,
        "on": _today().isoformat(),
        "lines": [{"line": line["line"], "quantity": line["quantity"]} for line in goods],
    }


def _invoice(db: sqlite3.Connection, number: str, body: dict[str, Any]) -> dict[str, Any]:
    today = _today()
    return {
        "number": f"INV-B{_count(db, 'invoice', 9100)}",
        "order": number,
        "on": today.isoformat(),
        "due_on": due_day(today, **body["terms"]).isoformat(),
        "net": body["net"],
        "gross": body["payable"],
        "lines": [{"line": line["line"], "net": line["net"]} for line in body["lines"]],
    }


def _book(db: sqlite3.Connection, state: str, data: dict[str, Any], body: dict[str, Any]) -> None:
    """What an order's step does to its customer's account."""
    if state == "invoiced":
        accounts.bill(db, data, body)
    elif state == "paid":
        amount = Decimal(data["amount"])
        customer = str(body["customer"].get("number") or "")
        shares = {data["invoice"]: amount}
        accounts.book_payment(db, data["number"], customer, body["currency"], amount, shares)


def _payment(db: sqlite3.Connection, number: str, body: dict[str, Any]) -> dict[str, Any] | None:
    """What is still open of it is paid; nothing where that was paid already."""
    invoice = next(
        json.loads(row["data"])["number"]
        for row in db.execute("SELECT data FROM events WHERE kind = 'invoiced'")
        if json.loads(row["data"])["order"] == number
    )
    left = accounts.open_of(db, invoice)
    if left <= 0:
        return None
    return {
        "number": f"PAY-B{_count(db, 'payment', 5000)}",
        "invoice": invoice,
        "on": _today().isoformat(),
        "amount": f"{left:f}",
    }


def due_day(
    invoiced: date,
    days: int,
    end_of_month: str,
    fixed_day: int | None = None,
    instalments: Sequence[dict[str, Any]] = (),
    early: dict[str, Any] | None = None,
) -> date:
    """When all of the invoice is due, by the back office's own reckoning; paying early moves nothing."""

    def last(day: date) -> date:
        return (day.replace(day=28) + timedelta(days=4)).replace(day=1) - timedelta(days=1)

    if instalments:
        return max(invoiced + timedelta(days=int(part["days"])) for part in instalments)
    if fixed_day is not None:
        following = last(invoiced) + timedelta(days=1)
        return following.replace(day=min(fixed_day, last(following).day))
    if end_of_month == "before":
        return last(invoiced) + timedelta(days=days)
    due = invoiced + timedelta(days=days)
    return last(due) if end_of_month == "after" else due


def _open_orders(db: sqlite3.Connection, orders: Sequence[dict[str, Any]]) -> None:
    """Orders that are at work: what has not left is kept for them."""
    for row in orders:
        body, now = row["order"], _now()
        db.execute(
            "INSERT INTO orders VALUES (?, ?, ?, ?, ?, ?, ?)",
            (
                row["number"], row["key"], json.dumps(body, sort_keys=True),
                row["state"], int(row["held"]), now, now,
            ),
        )  # fmt: skip
        if row["state"] == "taken":
            goods.keep(db, row["number"], body)


def _make(db: sqlite3.Connection) -> None:
    """The tables, and the house as it starts."""
    for table in TABLES:
        db.execute(table)
    goods.fill(db)


def _announce(db: sqlite3.Connection, key: str, kind: str, data: dict[str, Any]) -> None:
    db.execute(
        "INSERT INTO events (id, key, kind, occurred_at, data) VALUES (?, ?, ?, ?, ?)",
        (str(uuid.uuid4()), key, kind, _now(), json.dumps(data)),
    )


def _count(db: sqlite3.Connection, name: str, start: int) -> int:
    db.execute("INSERT OR IGNORE INTO counters VALUES (?, ?)", (name, start))
    db.execute("UPDATE counters SET last = last + 1 WHERE name = ?", (name,))
    return int(db.execute("SELECT last FROM counters WHERE name = ?", (name,)).fetchone()[0])


def _today() -> date:
    """The business day, in the house's time zone."""
    return goods.today()


def _now() -> str:
    return datetime.now(UTC).isoformat()
