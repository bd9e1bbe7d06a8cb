"""The back office over HTTP. Only here is its protocol known.

Whatever it answers, however slowly, however much: a call ends within ``CALL_SECONDS`` and reads at most
``MOST_BYTES``.
"""

from dataclasses import dataclass, field
import json
import time
from typing import Any
import uuid

import httpx

from apps.handover.flows import NotNow, Outcome, Taken, TurnedDown
from apps.told import tidy

CALL_SECONDS = 15.0
MOST_BYTES = 4_000_000
PAGE = 100
LONGEST_NUMBER = 30


@dataclass(frozen=True, slots=True, kw_only=True)
class Page:
    """Events as they came. ``epoch`` names the feed's count, ``last`` its newest position, ``next``
    the one to ask after for the page that follows."""

    events: list[object] = field(default_factory=list)
    epoch: str = ""
    last: int | None = None
    next: int | None = None


@dataclass(frozen=True, slots=True)
class Silence:
    """No news, and why: ``what`` of the words for a feed that does not come."""

    what: str
    status: int = 0


class Unreadable(Exception):
    """An answer that is too long, too slow, or not JSON."""


class BackOffice:
    """A connection to the back office; every failure comes back as an ``Outcome`` or ``Silence``."""

    def __init__(
        self, url: str, token: str, timeout_seconds: float, *, call_seconds: float | None = None
    ):
        self._call_seconds = call_seconds
        self._client = httpx.Client(
            base_url=url,
            timeout=timeout_seconds,
            headers={"Authorization": f"Bearer {token}"},
            trust_env=False,
            follow_redirects=False,
        )

    def close(self) -> None:
        """Let go of the connections."""
        self._client.close()

    def _call(self, method: str, path: str, **more: Any) -> tuple[int, Any]:
        """Status and JSON, the latter None where there is none; raises ``Unreadable``."""
        until = time.monotonic() + (self._call_seconds or CALL_SECONDS)
        body = bytearray()
        with self._client.stream(method, path, **more) as answer:
            for part in answer.iter_bytes():
                body += part
                if len(body) > MOST_BYTES or time.monotonic() > until:
                    raise Unreadable
        try:
            return answer.status_code, json.loads(body) if body else None
        except (ValueError, RecursionError):
            return answer.status_code, None

    def send(self, key: uuid.UUID, payload: dict[str, Any]) -> Outcome:
        """Send an order under its key; sending it again under the same key changes nothing."""
        try:
            status, told = self._call(
                "POST", "/orders", json=payload, headers={"Idempotency-Key": str(key)}
            )
        except httpx.HTTPError:
            return NotNow("The back office does not answer.")
        except Unreadable:
            return NotNow("The back office answered something that cannot be read.")
        said = told if isinstance(told, dict) else {}
        if status in (200, 201):
            number = said.get("number")
            if isinstance(number, str) and 0 < len(number) <= LONGEST_NUMBER:
                return Taken(tidy(number))
            return NotNow("The back office answered something that cannot be read.")
        if status in (400, 409, 422):
            message = said.get("message")
            words = tidy(message)[:300] if isinstance(message, str) else ""
            return TurnedDown(words or f"The back office answered {status} without a word.")
        return NotNow(f"The back office answered {status}.")

    def move(self, asked: dict[str, Any]) -> TurnedDown | NotNow | None:
        """Ask that two promises change places; None once they have. One that knows no moves turns it down
        without a word."""
        try:
            status, told = self._call("POST", "/moves", json=asked)
        except (httpx.HTTPError, Unreadable):
            return NotNow("The back office does not answer.")
        if status == 200:
            return None
        if status in (404, 405):
            return TurnedDown("")
        if status in (400, 409, 422):
            message = told.get("message") if isinstance(told, dict) else None
            words = tidy(message)[:300] if isinstance(message, str) else ""
            return TurnedDown(words or f"it answered {status} without a word.")
        return NotNow(f"The back office answered {status}.")

    def news(self, after: int) -> Page | Silence:
        """Events after a position, a page at most; or why there are none."""
        return self._page("/events", "events", after)

    def changes(self, after: int, kind: str = "") -> Page | Silence:
        """Changes after a number, all or those of one kind, a page at most; or why there are none."""
        return self._page("/changes", "changes", after, {"kind": kind} if kind else {})

    def _page(
        self, path: str, name: str, after: int, more: dict[str, str] | None = None
    ) -> Page | Silence:
        asked = {"after": str(after), "limit": str(PAGE), **(more or {})}
        try:
            status, told = self._call("GET", path, params=asked)
        except httpx.HTTPError:
            return Silence("away")
        except Unreadable:
            return Silence("unreadable")
        if status != 200:
            return Silence("status", status)
        events = told.get(name) if isinstance(told, dict) else None
        if not isinstance(events, list):
            return Silence("unreadable")
        epoch, last = told.get("epoch"), told.get("last")
        return Page(
            events=events[: 5 * PAGE],
            epoch=epoch[:40] if isinstance(epoch, str) else "",
            last=_position(last),
            next=_position(told.get("next")),
        )

    def answers(self) -> bool:
        """Whether it is there."""
        try:
            return self._client.get("/health", timeout=1.0).status_code == 200
        except httpx.HTTPError:
            return False


def _position(value: object) -> int | None:
    return value if type(value) is int and 0 <= value < 2**53 else None
