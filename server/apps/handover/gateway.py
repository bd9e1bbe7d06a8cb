"""The back office over HTTP. Only here is its protocol known."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import Any
import uuid

import httpx

from apps.handover.flows import NotNow, Outcome, Taken, TurnedDown


@dataclass(frozen=True, slots=True, kw_only=True)
class News:
    """One event of the back office's feed."""

    position: int
    event_id: uuid.UUID
    key: uuid.UUID
    kind: str
    occurred_at: datetime
    data: dict[str, Any]


class BackOffice:
    """A connection to the back office; every failure comes back as an ``Outcome`` or ``None``."""

    def __init__(self, url: str, token: str, timeout_seconds: float):
        self._client = httpx.Client(
            base_url=url,
            timeout=timeout_seconds,
            headers={"Authorization": f"Bearer {token}"},
            trust_env=False,
        )

    def close(self) -> None:
        """Let go of the connections."""
        self._client.close()

    def send(self, key: uuid.UUID, payload: dict[str, Any]) -> Outcome:
        """Send an order under its key; sending it again under the same key changes nothing."""
        try:
            answer = self._client.post(
                "/orders", json=payload, headers={"Idempotency-Key": str(key)}
            )
            if answer.status_code in (200, 201):
                return Taken(str(answer.json()["number"]))
            if answer.status_code in (400, 409, 422):
                return TurnedDown(str(answer.json()["message"]))
            return NotNow(f"The back office answered {answer.status_code}.")
        except httpx.HTTPError:
            return NotNow("The back office does not answer.")
        except (ValueError, KeyError, TypeError):
            return NotNow("The back office answered something that cannot be read.")

    def news(self, after: int) -> list[News] | None:
        """Events after a position, at most 100; None where it does not answer."""
        try:
            answer = self._client.get("/events", params={"after": after, "limit": 100})
            answer.raise_for_status()
            return list(_read_news(answer.json()["events"]))
        except (httpx.HTTPError, ValueError, KeyError, TypeError):
            return None

    def answers(self) -> bool:
        """Whether it is there."""
        try:
            return self._client.get("/health", timeout=1.0).status_code == 200
        except httpx.HTTPError:
            return False


def _read_news(events: list[dict[str, Any]]) -> Iterable[News]:
    for event in events:
        yield News(
            position=int(event["position"]),
            event_id=uuid.UUID(event["id"]),
            key=uuid.UUID(event["key"]),
            kind=str(event["kind"]),
            occurred_at=datetime.fromisoformat(event["occurred_at"]),
            data=dict(event["data"]),
        )
