"""Faults that can be switched on, by kind: what a network and a tired machine do to an interface."""

from collections.abc import Callable, Sequence
import json
import time
from typing import Any

#: The kinds, with what a person reads on the page.
KINDS = {
    "slow": "slow",
    "error": "answers 500",
    "drop": "does it, and says nothing",
    "duplicate": "tells everything twice",
    "reorder": "tells it out of order",
    "garbage": "answers garbage",
    "stale": "answers something old",
    "full": "its disk is full",
}
SLOW_SECONDS = 3.0


def pause(on: Callable[[str], bool]) -> None:
    """Be slow, where that is switched on."""
    if on("slow"):
        time.sleep(SLOW_SECONDS)


def told(rows: Sequence[dict[str, Any]], on: Callable[[str], bool]) -> list[dict[str, Any]]:
    """A page of a feed, twice or out of order."""
    found = [row for row in rows for _ in range(2)] if on("duplicate") else list(rows)
    return found[::-1] if on("reorder") else found


def written(data: object, on: Callable[[str], bool]) -> bytes:
    """An answer, cut off in the middle where garbage is switched on."""
    body = json.dumps(data).encode()
    return body[: len(body) // 2] + b"\xff" if on("garbage") else body
