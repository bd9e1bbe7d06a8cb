"""The feed of news, and the counters that numbers come from."""

from datetime import UTC, datetime
import json
import sqlite3
from typing import Any
import uuid

TABLES = (
    """CREATE TABLE IF NOT EXISTS events (
    position INTEGER PRIMARY KEY AUTOINCREMENT, id TEXT NOT NULL UNIQUE, key TEXT NOT NULL,
    kind TEXT NOT NULL, occurred_at TEXT NOT NULL, data TEXT NOT NULL)""",
    "CREATE TABLE IF NOT EXISTS counters (name TEXT PRIMARY KEY, last INTEGER NOT NULL)",
)


def announce(db: sqlite3.Connection, key: str, kind: str, data: dict[str, Any]) -> None:
    """A piece of news of an order."""
    db.execute(
        "INSERT INTO events (id, key, kind, occurred_at, data) VALUES (?, ?, ?, ?, ?)",
        (str(uuid.uuid4()), key, kind, now(), json.dumps(data)),
    )


def count(db: sqlite3.Connection, name: str, start: int) -> int:
    """The next number of a kind."""
    db.execute("INSERT OR IGNORE INTO counters VALUES (?, ?)", (name, start))
    db.execute("UPDATE counters SET last = last + 1 WHERE name = ?", (name,))
    return int(db.execute("SELECT last FROM counters WHERE name = ?", (name,)).fetchone()[0])


def now() -> str:
    """This moment, as it is told."""
    return datetime.now(UTC).isoformat()
