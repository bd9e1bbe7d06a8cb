"""What lies in the back office's depots: on hand, on order with suppliers, kept for orders.

Each change of an item in a depot, or of a depot, gets the next number; the newest state of a thing is
told under its last number. Quantities are decimal text in the item's base unit.
"""

from collections.abc import Callable, Mapping
from datetime import UTC, date, datetime, timedelta
from decimal import Decimal
import json
import os
from pathlib import Path
import sqlite3
from typing import Any
from zoneinfo import ZoneInfo

TABLES = (
    """CREATE TABLE IF NOT EXISTS depots (
    code TEXT PRIMARY KEY, name TEXT NOT NULL, country TEXT NOT NULL, region TEXT NOT NULL,
    transit_days INTEGER NOT NULL, transit_days_abroad INTEGER NOT NULL)""",
    """CREATE TABLE IF NOT EXISTS stock (
    item TEXT NOT NULL, depot TEXT NOT NULL, on_hand TEXT NOT NULL, lead_days INTEGER, minimum TEXT,
    PRIMARY KEY (item, depot))""",
    """CREATE TABLE IF NOT EXISTS receipts (
    number TEXT PRIMARY KEY, item TEXT NOT NULL, depot TEXT NOT NULL, due TEXT NOT NULL,
    quantity TEXT NOT NULL, sure INTEGER NOT NULL)""",
    """CREATE TABLE IF NOT EXISTS kept (
    reference TEXT NOT NULL, line INTEGER NOT NULL, order_number TEXT NOT NULL, item TEXT NOT NULL,
    depot TEXT NOT NULL, quantity TEXT NOT NULL, due TEXT NOT NULL, PRIMARY KEY (reference, line))""",
    """CREATE TABLE IF NOT EXISTS changes (
    number INTEGER PRIMARY KEY AUTOINCREMENT, kind TEXT NOT NULL, id TEXT NOT NULL, at TEXT NOT NULL,
    UNIQUE (kind, id))""",
)
SEED = Path(__file__).with_name("goods.json")


def fill(db: sqlite3.Connection) -> None:
    """The house as it starts: its depots and goods, relative to today. Once."""
    if db.execute("SELECT 1 FROM depots").fetchone():
        return
    seed = json.loads(SEED.read_text("utf-8"))
    for depot in seed["depots"]:
        db.execute("INSERT INTO depots VALUES (?, ?, ?, ?, ?, ?)", tuple(depot.values()))
        touch(db, "depot", depot["code"])
    start, number = today(), 3300
    for row in seed["stock"]:
        item, depot = row["item"], row["depot"]
        db.execute(
            "INSERT INTO stock VALUES (?, ?, ?, ?, ?)",
            (item, depot, row["on_hand"], row["lead_days"], row["minimum"]),
        )
        for days, quantity, sure in row["receipts"]:
            number += 1
            on = _working(start + timedelta(days=days))
            db.execute(
                "INSERT INTO receipts VALUES (?, ?, ?, ?, ?, ?)",
                (f"PO-{number}", item, depot, on.isoformat(), quantity, int(sure)),
            )
        touch(db, "stock", f"{item}@{depot}")


def today() -> date:
    """The business day."""
    return datetime.now(ZoneInfo(os.environ.get("VIVID_TIME_ZONE", "Europe/Vienna"))).date()


def _working(day: date) -> date:
    return day + timedelta(days=max(0, 7 - day.weekday()) if day.weekday() > 4 else 0)


def touch(db: sqlite3.Connection, kind: str, name: str) -> None:
    """A thing has changed: it is told anew, under the next number."""
    db.execute("DELETE FROM changes WHERE kind = ? AND id = ?", (kind, name))
    now = datetime.now(UTC).isoformat()
    db.execute("INSERT INTO changes (kind, id, at) VALUES (?, ?, ?)", (kind, name, now))


Told = Callable[[sqlite3.Connection, str, str], dict[str, Any]]


def changes(
    db: sqlite3.Connection, after: int, limit: int, others: Told, kind: str = ""
) -> tuple[list[dict[str, Any]], int]:
    """What has changed after a number, each thing as it is now; and the newest number.

    All of it, or one kind. What is no depot and no stock is told by ``others``.
    """
    rows = db.execute(
        "SELECT * FROM changes WHERE number > ? AND ? IN ('', kind) ORDER BY number LIMIT ?",
        (after, kind, limit),
    ).fetchall()
    last = db.execute("SELECT COALESCE(MAX(number), 0) FROM changes").fetchone()[0]
    found = [
        {
            "change": row["number"],
            "kind": row["kind"],
            "id": row["id"],
            "at": row["at"],
            "data": TELL[row["kind"]](db, row["id"])
            if row["kind"] in TELL
            else others(db, row["kind"], row["id"]),
        }
        for row in rows
    ]
    return found, int(last)


def _depot(db: sqlite3.Connection, code: str) -> dict[str, Any]:
    return dict(db.execute("SELECT * FROM depots WHERE code = ?", (code,)).fetchone())


def _stock(db: sqlite3.Connection, name: str) -> dict[str, Any]:
    item, _, depot = name.partition("@")
    here = (item, depot)
    row = db.execute("SELECT * FROM stock WHERE item = ? AND depot = ?", here).fetchone()
    coming = db.execute("SELECT * FROM receipts WHERE item = ? AND depot = ? ORDER BY due", here)
    kept = db.execute("SELECT * FROM kept WHERE item = ? AND depot = ? ORDER BY due", here)
    return {
        **dict(row),
        "receipts": [
            {
                "number": each["number"],
                "on": each["due"],
                "quantity": each["quantity"],
                "sure": bool(each["sure"]),
            }
            for each in coming
        ],
        "reservations": [
            {
                "reference": f"{each['reference']}/{each['line']}",
                "order_number": each["order_number"],
                "quantity": each["quantity"],
                "by": each["due"],
            }
            for each in kept
        ],
    }


TELL = {"depot": _depot, "stock": _stock}


def keep(db: sqlite3.Connection, number: str, body: Mapping[str, Any]) -> None:
    """An order came in: its goods are kept for it, in the depot of each line."""
    usual = db.execute("SELECT code FROM depots ORDER BY rowid LIMIT 1").fetchone()
    for line in body["lines"]:
        quantity = line.get("base_quantity") if line["kind"] != "service" else None
        depot = line.get("depot") or (usual[0] if usual else "")
        if not quantity or not known(db, line["item"], depot):
            continue
        due = (
            line.get("reserve_by")
            or line.get("wanted_on")
            or body.get("requested_on")
            or today().isoformat()
        )
        db.execute(
            "INSERT OR REPLACE INTO kept VALUES (?, ?, ?, ?, ?, ?, ?)",
            (number, line["line"], body["order_number"], line["item"], depot, quantity, due),
        )
        touch(db, "stock", f"{line['item']}@{depot}")


def known(db: sqlite3.Connection, item: str, depot: str) -> bool:
    """Whether the item is kept in the depot."""
    row = db.execute("SELECT 1 FROM stock WHERE item = ? AND depot = ?", (item, depot))
    return row.fetchone() is not None


def ship(db: sqlite3.Connection, number: str, left: Mapping[int, Decimal]) -> None:
    """So much of what was kept for an order's lines leaves the house, in base units."""
    for row in db.execute("SELECT * FROM kept WHERE reference = ?", (number,)).fetchall():
        gone = left.get(row["line"], Decimal(0))
        rest = Decimal(row["quantity"]) - gone
        here = (number, row["line"])
        if rest > 0:
            db.execute(
                "UPDATE kept SET quantity = ? WHERE reference = ? AND line = ?",
                (f"{rest.normalize():f}", *here),
            )
        else:
            db.execute("DELETE FROM kept WHERE reference = ? AND line = ?", here)
        if gone:
            _book(db, row["item"], row["depot"], -gone)


def keep_anew(
    db: sqlite3.Connection, number: str, body: Mapping[str, Any], shipped: Mapping[int, Decimal]
) -> None:
    """An order changed: what is kept for it is what has not left of it as it is now."""
    before = db.execute("SELECT item, depot FROM kept WHERE reference = ?", (number,)).fetchall()
    db.execute("DELETE FROM kept WHERE reference = ?", (number,))
    rows = []
    for line in body["lines"]:
        whole = Decimal(line["quantity"])
        rest = whole - shipped.get(line["line"], Decimal(0))
        if rest > 0 and line.get("base_quantity"):
            base = Decimal(line["base_quantity"]) * rest / whole
            rows.append({**line, "base_quantity": f"{base.normalize():f}"})
    keep(db, number, {**body, "lines": rows})
    for row in before:
        touch(db, "stock", f"{row['item']}@{row['depot']}")


def receive(db: sqlite3.Connection, number: str) -> None:
    """A receipt has come: it is on hand."""
    row = db.execute("SELECT * FROM receipts WHERE number = ?", (number,)).fetchone()
    if row is None:
        return
    db.execute("DELETE FROM receipts WHERE number = ?", (number,))
    _book(db, row["item"], row["depot"], Decimal(row["quantity"]))


def postpone(db: sqlite3.Connection, number: str) -> None:
    """A receipt comes a week later."""
    row = db.execute("SELECT * FROM receipts WHERE number = ?", (number,)).fetchone()
    if row is not None:
        later = date.fromisoformat(row["due"]) + timedelta(days=7)
        db.execute("UPDATE receipts SET due = ? WHERE number = ?", (later.isoformat(), number))
        touch(db, "stock", f"{row['item']}@{row['depot']}")


def confirm(db: sqlite3.Connection, number: str) -> None:
    """The supplier has confirmed a receipt."""
    row = db.execute("SELECT * FROM receipts WHERE number = ?", (number,)).fetchone()
    if row is not None:
        db.execute("UPDATE receipts SET sure = 1 WHERE number = ?", (number,))
        touch(db, "stock", f"{row['item']}@{row['depot']}")


def reorder(
    db: sqlite3.Connection, item: str, depot: str, quantity: Decimal | None = None
) -> tuple[str, str] | None:
    """More is ordered from the supplier, the minimum at least, after the lead time: the receipt and its day."""
    row = db.execute("SELECT * FROM stock WHERE item = ? AND depot = ?", (item, depot)).fetchone()
    if row is None or row["lead_days"] is None:
        return None
    last = db.execute("SELECT MAX(CAST(SUBSTR(number, 4) AS INTEGER)) FROM receipts").fetchone()[0]
    due = _working(today() + timedelta(days=row["lead_days"] * 7 // 5)).isoformat()
    many = max(Decimal(row["minimum"] or "1"), quantity or Decimal(0))
    number = f"PO-{(last or 3300) + 1}"
    db.execute(
        "INSERT INTO receipts VALUES (?, ?, ?, ?, ?, 0)", (number, item, depot, due, f"{many:f}")
    )
    touch(db, "stock", f"{item}@{depot}")
    return number, due


def order_for(db: sqlite3.Connection, wanted: Mapping[str, Any]) -> dict[str, Any]:
    """Goods are asked for an order: a receipt with its day, or why not."""
    usual = db.execute("SELECT code FROM depots ORDER BY rowid LIMIT 1").fetchone()
    depot = wanted.get("depot") or (usual[0] if usual else "")
    made = reorder(db, wanted["item"], depot, Decimal(wanted["quantity"]))
    if made is None:
        return {"taken": False, "message": "It is not bought from a supplier."}
    return {"taken": True, "message": "", "receipt": made[0], "on": made[1]}


def _book(db: sqlite3.Connection, item: str, depot: str, quantity: Decimal) -> None:
    here = (item, depot)
    row = db.execute("SELECT on_hand FROM stock WHERE item = ? AND depot = ?", here).fetchone()
    left = Decimal(row["on_hand"]) + quantity
    db.execute("UPDATE stock SET on_hand = ? WHERE item = ? AND depot = ?", (f"{left:f}", *here))
    touch(db, "stock", f"{item}@{depot}")


def shelf(db: sqlite3.Connection) -> list[dict[str, Any]]:
    """Every item in every depot, with what is kept, and its receipts: for the clerk's page."""
    rows = db.execute("SELECT * FROM stock ORDER BY item, depot").fetchall()
    return [{**_stock(db, f"{row['item']}@{row['depot']}")} for row in rows]
