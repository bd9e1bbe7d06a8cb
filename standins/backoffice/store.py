"""The back office's own storage: orders, their steps, and the feed of events, in one SQLite file."""

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from decimal import Decimal
import json
from pathlib import Path
import re
import sqlite3
from typing import Any
import uuid

from standins.backoffice import accounts, feed, goods, masters, moves, ubl, work
from standins.backoffice.feed import announce, count

#: Nothing more happens to an order that is one of these.
DONE = ("paid", "cancelled")
TABLES = (
    """CREATE TABLE IF NOT EXISTS orders (
    number TEXT PRIMARY KEY, key TEXT NOT NULL UNIQUE, body TEXT NOT NULL, state TEXT NOT NULL,
    held INTEGER NOT NULL DEFAULT 0, received_at TEXT NOT NULL, moved_at TEXT NOT NULL)""",
    "CREATE TABLE IF NOT EXISTS switches (name TEXT PRIMARY KEY, value TEXT NOT NULL)",
    *feed.TABLES,
    *goods.TABLES,
    *accounts.TABLES,
    *masters.TABLES,
    *work.TABLES,
)
TABLE = re.compile(r"CREATE TABLE IF NOT EXISTS (\w+)")


class Clash(Exception):
    """The same key came with something else."""


class Unknown(Exception):
    """An order names a customer or items that are not known here."""

    def __init__(self, customers: Sequence[str], items: Sequence[str]):
        self.told = {"customers": list(customers), "items": list(items)}
        super().__init__(str(self.told))


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
            _fill(db)
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
            unknown = masters.unknown_in(db, body)
            if any(unknown):
                raise Unknown(*unknown)
            number = f"BO-{count(db, 'order', 48200)}"
            now = _now()
            db.execute(
                "INSERT INTO orders VALUES (?, ?, ?, 'taken', 0, ?, ?)",
                (number, key, text, now, now),
            )
            told = {"number": number, "on": goods.today().isoformat()}
            announce(db, key, "taken", {**told, "ubl": ubl.order_response(told, body)})
            goods.keep(db, number, body)
            accounts.know(db, body["customer"])
            return number, True

    def orders(self) -> list[dict[str, Any]]:
        """All orders, newest first."""
        with self._open() as db:
            rows = db.execute("SELECT * FROM orders ORDER BY received_at DESC, number DESC")
            return [
                {
                    **dict(row),
                    "body": work.order_of(db, row["number"]),
                    "state": work.state_of(db, row["number"]),
                    "asked": [
                        each["key"]
                        for each in db.execute(
                            "SELECT key FROM asked WHERE reference = ? AND answer IS NULL",
                            (row["number"],),
                        ).fetchall()
                    ],
                }
                for row in rows.fetchall()
            ]

    def standings(self, after: int, limit: int) -> tuple[list[dict[str, Any]], int, int]:
        """Orders as they are compared, after a place in the list; the place of the last, and of the last of all."""
        with self._open() as db:
            rows = db.execute(
                "SELECT rowid, number FROM orders WHERE rowid > ? ORDER BY rowid LIMIT ?",
                (after, limit),
            ).fetchall()
            last = int(db.execute("SELECT COALESCE(MAX(rowid), 0) FROM orders").fetchone()[0])
            found = [work.standing(db, row["number"]) for row in rows]
            return found, int(rows[-1]["rowid"]) if rows else last, last

    def learn(self, kind: str, number: str, body: dict[str, Any]) -> None:
        """A customer or an item is told, or told anew."""
        with self._open() as db:
            masters.learn(db, kind, number, body)
            if kind == "customer":
                accounts.know(db, {**body, "number": number})

    def ask(self, key: str, number: str, body: dict[str, Any]) -> bool | None:
        """A change of an order is asked for; whether it is new, None where there is no such order."""
        with self._open() as db:
            row = db.execute("SELECT key FROM orders WHERE number = ?", (number,)).fetchone()
            if row is None:
                return None
            new = work.ask(db, key, number, body)
            if new is None:
                raise Clash
            if _switch(db, "answers", "itself") == "itself":
                work.answer(db, row["key"], key)
                _settle(db, number)
            return new

    def request(self, key: str, body: dict[str, Any]) -> bool | None:
        """Goods are asked for; whether it is new, None where the order is not known."""
        with self._open() as db:
            rows = db.execute("SELECT key, body FROM orders ORDER BY rowid DESC").fetchall()
            wanted = body["order_number"]
            found = next(
                (row for row in rows if json.loads(row["body"])["order_number"] == wanted), None
            )
            if found is None:
                return None
            new = work.request(db, found["key"], key, body)
            if new is None:
                raise Clash
            return new

    def answer(self, key: str, *, refuse: bool) -> None:
        """The clerk answers a change."""
        with self._open() as db:
            row = db.execute(
                "SELECT o.number, o.key FROM asked a JOIN orders o ON o.number = a.reference WHERE a.key = ?",
                (key,),
            ).fetchone()
            if row is not None:
                work.answer(db, row["key"], key, refuse=refuse)
                _settle(db, row["number"])

    def shorten(self, number: str) -> None:
        """The back office changes an order by itself: of its first line that has not left, a tenth less."""
        with self._open() as db:
            row = db.execute("SELECT key FROM orders WHERE number = ?", (number,)).fetchone()
            if row is not None:
                work.shorten(db, row["key"], number)
                _settle(db, number)

    def act(self, name: str, number: str) -> bool:
        """A button of an order on the clerk's page; whether anything was done."""
        with self._open() as db:
            row = db.execute("SELECT key, held FROM orders WHERE number = ?", (number,)).fetchone()
            if row is None or row["held"]:
                return False
            done = work.STEPS[name](db, row["key"], number)
            _settle(db, number)
            return done

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
                accounts.credit(db, f"CN-B{count(db, 'credit', 300)}", name)
            elif act == "on-account":
                number = f"PAY-B{count(db, 'payment', 5000)}"
                accounts.on_account(db, number, name, Decimal("250.00"))
            else:
                share = Decimal("0.5") if act == "pay-half" else Decimal(1)
                accounts.pay(db, f"PAY-B{count(db, 'payment', 5000)}", name, share)

    def step(self, number: str) -> str | None:
        """Move an order on by one step; its new state, or None where there is nothing to do."""
        with self._open() as db:
            row = db.execute("SELECT key, held FROM orders WHERE number = ?", (number,)).fetchone()
            if row is None or row["held"]:
                return None
            moved = work.next_step(db, row["key"], number)
            state = _settle(db, number)  # it may have been paid on the page of accounts
            return state if moved else None

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
            announce(db, row["key"], "held" if held else "released", data)
            return True

    def due(self, pause_seconds: int) -> list[str]:
        """Orders that have stood at a step for so long and can move on."""
        before = (datetime.now(UTC) - timedelta(seconds=pause_seconds)).isoformat()
        with self._open() as db:
            rows = db.execute(
                "SELECT number FROM orders WHERE held = 0 AND state NOT IN (?, ?) AND moved_at <= ?",
                (*DONE, before),
            )
            return [row["number"] for row in rows]

    def switch(self, name: str, default: str) -> str:
        """The value of a switch."""
        with self._open() as db:
            return _switch(db, name, default)

    def faults(self) -> frozenset[str]:
        """The kinds of faults that are switched on; read without waiting for anybody."""
        db = sqlite3.connect(self._file, timeout=10)
        try:
            rows = db.execute(
                "SELECT name FROM switches WHERE name LIKE 'fault-%' AND value = 'on'"
            )
            return frozenset(row[0].removeprefix("fault-") for row in rows.fetchall())
        finally:
            db.close()

    def set_switch(self, name: str, value: str) -> None:
        """Set a switch."""
        with self._open() as db:
            db.execute("INSERT OR REPLACE INTO switches VALUES (?, ?)", (name, value))


def _fill(db: sqlite3.Connection) -> None:
    """Where its disk is full, nothing more is written than there is room for already."""
    there = db.execute("SELECT 1 FROM sqlite_master WHERE name = 'switches'").fetchone()
    if there and _switch(db, "fault-full", "off") == "on":
        (pages,) = db.execute("PRAGMA page_count").fetchone()
        db.execute(f"PRAGMA max_page_count = {pages:d}")


def _switch(db: sqlite3.Connection, name: str, default: str) -> str:
    row = db.execute("SELECT value FROM switches WHERE name = ?", (name,)).fetchone()
    return str(row["value"]) if row else default


def _settle(db: sqlite3.Connection, number: str) -> str:
    """Put down how far an order is."""
    state = work.state_of(db, number)
    db.execute(
        "UPDATE orders SET state = ?, moved_at = ? WHERE number = ?", (state, _now(), number)
    )
    return state


def _open_orders(db: sqlite3.Connection, orders: Sequence[dict[str, Any]]) -> None:
    """Orders that are at work: what has not left is kept for them, customers and items are known."""
    for row in orders:
        body, now = row["order"], _now()
        db.execute(
            "INSERT INTO orders VALUES (?, ?, ?, ?, ?, ?, ?)",
            (
                row["number"], row["key"], json.dumps(body, sort_keys=True),
                row["state"], int(row["held"]), now, now,
            ),
        )  # fmt: skip
        work.began(db, row["number"], row)
        masters.know_all(db, body)
        left = {line.number: line.shipped for line in work.lines_of(db, row["number"], body)}
        goods.keep_anew(db, row["number"], body, left)


def _make(db: sqlite3.Connection) -> None:
    """The tables, and the house as it starts."""
    for table in TABLES:
        db.execute(table)
    goods.fill(db)


def _now() -> str:
    return datetime.now(UTC).isoformat()
