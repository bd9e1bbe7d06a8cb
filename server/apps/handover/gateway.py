"""The back office over HTTP. Only here is its protocol known.

Whatever it answers, however slowly, however much: a call ends within ``CALL_SECONDS`` and reads at most
``MOST_BYTES``. An answer counts only where it is signed with our common key, for this very question, within
``FRESH_SECONDS``: one that was recorded and is played again is none.
"""

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cache
import hmac
import json
import re
from ssl import SSLContext
import time
from typing import Any
from urllib.parse import quote
import uuid

import httpx

from apps.handover.flows import NotNow, Outcome, Taken, TurnedDown
from apps.told import tidy

CALL_SECONDS = 15.0
MOST_BYTES = 4_000_000
PAGE = 100
LONGEST_NUMBER = 30
FRESH_SECONDS = 300
SIGNATURE = re.compile(r"t=(\d{1,12}),v1=([0-9a-f]{64})", re.ASCII)


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


class Unsigned(Unreadable):
    """An answer that is not signed as ours to this question, or was signed long ago."""


@dataclass(frozen=True, slots=True)
class Masters:
    """Customers and items that an order names and the back office does not know."""

    customers: tuple[str, ...] = ()
    items: tuple[str, ...] = ()


#: What tells them: by path, what is told there.
Telling = Callable[[Masters], dict[str, dict[str, Any]]]


@cache
def _trusted() -> SSLContext:
    """Whose certificates are believed: read once in a process, which takes longer than a call."""
    return httpx.create_ssl_context(trust_env=False)


class BackOffice:
    """A connection to the back office; every failure comes back as an ``Outcome`` or ``Silence``."""

    def __init__(
        self,
        url: str,
        token: str,
        timeout_seconds: float,
        *,
        key: str,
        call_seconds: float | None = None,
    ):
        self._call_seconds = call_seconds
        self._key = key.encode()
        self._client = httpx.Client(
            base_url=url,
            timeout=timeout_seconds,
            headers={"Authorization": f"Bearer {token}"},
            trust_env=False,
            follow_redirects=False,
            verify=_trusted(),
        )

    def close(self) -> None:
        """Let go of the connections."""
        self._client.close()

    def _call(self, method: str, path: str, **more: Any) -> tuple[int, Any]:
        """Status and JSON, the latter None where there is none; raises ``Unreadable``, ``Unsigned``."""
        until = time.monotonic() + (self._call_seconds or CALL_SECONDS)
        body = bytearray()
        with self._client.stream(method, path, **more) as answer:
            for part in answer.iter_bytes():
                body += part
                if len(body) > MOST_BYTES or time.monotonic() > until:
                    raise Unreadable
            if answer.is_success or answer.status_code in (400, 409, 422, 424):
                self._check(answer, bytes(body))
        try:
            return answer.status_code, json.loads(body) if body else None
        except (ValueError, RecursionError):
            return answer.status_code, None

    def _check(self, answer: httpx.Response, body: bytes) -> None:
        """Raises ``Unsigned`` where an answer is not signed for this question and this hour."""
        found = SIGNATURE.fullmatch(answer.headers.get("Signature", ""))
        if found is None or abs(time.time() - int(found[1])) > FRESH_SECONDS:
            raise Unsigned
        question = f"{answer.request.method} {answer.request.url.raw_path.decode()}"
        text = f"{found[1]}.{question}\n".encode() + body
        if not hmac.compare_digest(hmac.new(self._key, text, "sha256").hexdigest(), found[2]):
            raise Unsigned

    def send(
        self, key: uuid.UUID, payload: dict[str, Any], telling: Telling | None = None
    ) -> Outcome:
        """Send an order under its key; sending it again under the same key changes nothing.

        Whom and what it names and the back office does not know is told first (``telling``), then it is sent
        once more.
        """
        answer = self._errand(key, "/orders", payload)
        if not isinstance(answer, Masters):
            return answer
        if telling is None:
            return NotNow("The back office does not know the customer or an item.")
        for path, body in telling(answer).items():
            refused = self._tell(path, body)
            if refused is not None:
                return refused
        again = self._errand(key, "/orders", payload)
        if isinstance(again, Masters):
            return NotNow("The back office does not know the customer or an item.")
        return again

    def ask(self, key: uuid.UUID, number: str, change: dict[str, Any]) -> Outcome:
        """Ask for a change of the order of that number of theirs; the answer comes as news."""
        answer = self._errand(key, f"/orders/{quote(number, safe='')}/changes", change)
        if isinstance(answer, NotNow) and answer.reason.endswith(" 404."):
            return TurnedDown("The back office does not have this order.")
        return NotNow("The back office asks for more.") if isinstance(answer, Masters) else answer

    def request(self, key: uuid.UUID, wanted: dict[str, Any]) -> Outcome:
        """Ask for goods that are short; the answer comes as news."""
        answer = self._errand(key, "/replenishments", wanted)
        return NotNow("The back office asks for more.") if isinstance(answer, Masters) else answer

    def _errand(self, key: uuid.UUID, path: str, body: dict[str, Any]) -> Outcome | Masters:
        try:
            status, told = self._call(
                "POST", path, json=body, headers={"Idempotency-Key": str(key)}
            )
        except (httpx.HTTPError, Unreadable) as error:
            return _silent(error)
        said = told if isinstance(told, dict) else {}
        if status in (200, 201, 202):
            number = said.get("number")
            if isinstance(number, str) and 0 < len(number) <= LONGEST_NUMBER:
                return Taken(tidy(number))
            return NotNow("The back office answered something that cannot be read.")
        if status == 424:
            return _masters(said.get("unknown"))
        return _refusal(status, said)

    def _tell(self, path: str, body: dict[str, Any]) -> TurnedDown | NotNow | None:
        """Tell a customer or an item; None once it is known."""
        try:
            status, told = self._call("PUT", path, json=body)
        except (httpx.HTTPError, Unreadable) as error:
            return _silent(error)
        if status in (200, 201, 204):
            return None
        return _refusal(status, told if isinstance(told, dict) else {})

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

    def standings(self, after: int) -> Page | Silence:
        """Their orders as they stand, after a place in their list, a page at most."""
        return self._page("/orders", "orders", after)

    def _page(
        self, path: str, name: str, after: int, more: dict[str, str] | None = None
    ) -> Page | Silence:
        asked = {"after": str(after), "limit": str(PAGE), **(more or {})}
        try:
            status, told = self._call("GET", path, params=asked)
        except httpx.HTTPError:
            return Silence("away")
        except Unsigned:
            return Silence("unsigned")
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


def _silent(error: Exception) -> NotNow:
    if isinstance(error, Unsigned):
        return NotNow("The answer is not signed as the back office signs.")
    if isinstance(error, Unreadable):
        return NotNow("The back office answered something that cannot be read.")
    return NotNow("The back office does not answer.")


def _refusal(status: int, said: dict[str, Any]) -> TurnedDown | NotNow:
    if status in (400, 409, 422):
        message = said.get("message")
        words = tidy(message)[:300] if isinstance(message, str) else ""
        return TurnedDown(words or f"The back office answered {status} without a word.")
    return NotNow(f"The back office answered {status}.")


def _masters(told: object) -> Masters | NotNow:
    rows = told if isinstance(told, dict) else {}
    found = []
    for name in ("customers", "items"):
        numbers = rows.get(name)
        known = numbers if isinstance(numbers, list) else []
        found.append(tuple(each for each in known[:1000] if isinstance(each, str)))
    return (
        Masters(*found)
        if any(found)
        else NotNow("The back office answered something that cannot be read.")
    )


def _position(value: object) -> int | None:
    return value if type(value) is int and 0 <= value < 2**53 else None
