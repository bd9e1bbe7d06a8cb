"""Two orders that change places: each is kept by the other's day."""

from collections.abc import Mapping
import sqlite3
from typing import Any

from standins.backoffice.goods import touch

UNREADABLE = "A move names an item, a depot, and two reservations with the days they are kept by."


def fault_of(body: object) -> str | None:
    """Why a move cannot be read, in a sentence; None where it can."""
    if not isinstance(body, dict):
        return UNREADABLE
    sides = (body.get("gives"), body.get("takes"))
    texts = [body.get("item"), body.get("depot")]
    for side in sides:
        if not isinstance(side, dict):
            return UNREADABLE
        texts += [side.get("reference"), side.get("by")]
    if not all(isinstance(text, str) and 0 < len(text) <= 60 for text in texts):
        return UNREADABLE
    return "Both are one reservation." if texts[2] == texts[4] else None


def change_places(db: sqlite3.Connection, body: Mapping[str, Any]) -> str | None:
    """Change their days, the later for the one that gives; or why not, in a sentence."""
    item, depot = body["item"], body["depot"]
    rows = [_kept(db, item, depot, body[side]["reference"]) for side in ("gives", "takes")]
    if None in rows:
        return "One of the two is not kept any more."
    gives, takes = (row for row in rows if row is not None)
    if (gives["due"], takes["due"]) != (body["gives"]["by"], body["takes"]["by"]):
        return "One of the two is kept by another day meanwhile."
    if gives["held"] or takes["held"]:
        return "One of the two orders is held for credit."
    days = sorted((gives["due"], takes["due"]))
    for row, day in ((takes, days[0]), (gives, days[1])):
        db.execute(
            "UPDATE kept SET due = ? WHERE reference = ? AND line = ?",
            (day, row["reference"], row["line"]),
        )
    touch(db, "stock", f"{item}@{depot}")
    return None


def _kept(db: sqlite3.Connection, item: str, depot: str, name: str) -> sqlite3.Row | None:
    """What is kept under a reference, as the feed tells it: the order's number and its line."""
    number, _, line = name.rpartition("/")
    row: sqlite3.Row | None = db.execute(
        "SELECT kept.*, orders.held FROM kept JOIN orders ON orders.number = kept.reference "
        "WHERE reference = ? AND line = ? AND item = ? AND depot = ?",
        (number, line, item, depot),
    ).fetchone()
    return row
