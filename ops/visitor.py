"""A person's way to the API, for what is measured and broken on purpose."""

from collections.abc import Iterator
from contextlib import contextmanager

import httpx


@contextmanager
def signed_in(url: str, name: str) -> Iterator[httpx.Client]:
    """Somebody of the demo, signed in; writes carry the token and the origin."""
    with httpx.Client(base_url=url, trust_env=False, timeout=60, headers={"Origin": url}) as client:
        client.get("/")  # the page brings the first token
        client.headers["X-CSRFToken"] = client.cookies.get("vivid_csrf") or ""
        given = {"username": name, "password": "orchard-demo"}
        client.post("/api/session", json=given).raise_for_status()
        client.headers["X-CSRFToken"] = client.cookies.get("vivid_csrf") or ""
        yield client
