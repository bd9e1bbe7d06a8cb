"""Which customers and items the back office knows; an order that names others waits until they are told."""

from collections.abc import Mapping
import json
import sqlite3
from typing import Any

TABLES = (
    """CREATE TABLE IF NOT EXISTS masters (
    kind TEXT NOT NULL, number TEXT NOT NULL, body TEXT NOT NULL, PRIMARY KEY (kind, number))""",
)
#: What must be told of each, and be a text.
NEEDED = {"customer": ("name",), "item": ("name", "unit")}


def unknown_in(db: sqlite3.Connection, order: Mapping[str, Any]) -> tuple[list[str], list[str]]:
    """The customers and the items of an order that are not known."""
    customer = str(order["customer"].get("number") or "")
    customers = [customer] if customer and not _known(db, "customer", customer) else []
    items = [
        code
        for code in dict.fromkeys(row["item"] for row in order["lines"])
        if not _known(db, "item", code)
    ]
    return customers, items


def _known(db: sqlite3.Connection, kind: str, number: str) -> bool:
    own = "SELECT 1 FROM masters WHERE kind = ? AND number = ?"
    if db.execute(own, (kind, number)).fetchone():
        return True
    table = (
        "SELECT 1 FROM stock WHERE item = ?"
        if kind == "item"
        else "SELECT 1 FROM accounts WHERE customer = ?"
    )
    return db.execute(table, (number,)).fetchone() is not None


def learn(db: sqlite3.Connection, kind: str, number: str, body: Mapping[str, Any]) -> None:
    """One of them is told, or told anew."""
    db.execute("INSERT OR REPLACE INTO masters VALUES (?, ?, ?)", (kind, number, json.dumps(body)))


def fault_of(kind: str, body: object) -> str | None:
    """Why it cannot be taken, naming the field; None where it can."""
    if not isinstance(body, dict):
        return f"A {kind} is a JSON object."
    for name in NEEDED[kind]:
        value = body.get(name)
        if not isinstance(value, str) or not value.strip() or not value.isprintable():
            return f"The {kind} has no {name} that can be read."
    return None


def know_all(db: sqlite3.Connection, order: Mapping[str, Any]) -> None:
    """Whoever an order that was taken over names is known."""
    for row in order["lines"]:
        learn(
            db,
            "item",
            row["item"],
            {"name": row.get("text") or row["item"], "unit": row.get("unit") or ""},
        )
