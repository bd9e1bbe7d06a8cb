"""The stand-in's HTTP side: the interface for the application, and a small page for a clerk.

Interface (JSON, bearer token, answers signed): ``docs/back-office-interface.md`` says what each does.

The page ``/`` asks for a password, then lists the orders; its buttons step one on, hold or release it, answer
changes, or let all run; others switch faults on.
"""

import hmac
from http import HTTPStatus
from http.server import ThreadingHTTPServer
import json
import time
from typing import Any
from urllib.parse import parse_qs, unquote, urlsplit
import uuid

from standins.backoffice import faults, masters, moves
from standins.backoffice.orders import fault_of
from standins.backoffice.page import door, render, render_accounts, render_stock
from standins.backoffice.store import Clash, Store, Unknown
from standins.backoffice.work import STEPS
from standins.pages import PageHandler, page_server

#: Buttons of the page of stock.
OF_STOCK = ("receive", "postpone", "confirm", "reorder")
#: Buttons of the page of accounts.
OF_ACCOUNTS = ("hold-customer", "free-customer", "credit", "on-account", "pay-half", "pay-all")
SWITCHES = {
    "pace": ("hand", "itself"),
    "mood": ("well", "busy", "strict"),
    "answers": ("hand", "itself"),
}


class Handler(PageHandler):
    """One request. What it needs is set on a subclass by ``serve``."""

    store: Store
    key: str
    faulty: frozenset[str] = frozenset()
    server_version = "backoffice"

    def do_GET(self) -> None:
        """The feed, the health, the page."""
        where = urlsplit(self.path)
        if not self._ours():
            return
        if where.path == "/health":
            self._json(HTTPStatus.OK, {"ok": True})
        elif where.path == "/events":
            self._events(parse_qs(where.query))
        elif where.path == "/changes":
            self._changes(parse_qs(where.query))
        elif where.path == "/orders":
            self._orders(parse_qs(where.query))
        elif where.path == "/stock" and self._signed_in():
            self._html(render_stock(self.store.shelf(), self._sign("form")))
        elif where.path == "/accounts" and self._signed_in():
            self._html(render_accounts(self.store.ledger(), self._sign("form")))
        elif where.path in ("/", "/stock", "/accounts") and not self._signed_in():
            self._html(door(wrong="wrong" in where.query))
        elif where.path == "/":
            pace = self.store.switch("pace", "hand")
            mood = self.store.switch("mood", "well")
            switches = {
                "pace": pace,
                "mood": mood,
                "answers": self.store.switch("answers", "itself"),
            }
            switches |= {kind: "on" if self._on(kind) else "" for kind in faults.KINDS}
            self._html(render(self.store.orders(), switches, self._sign("form")))
        else:
            self._json(HTTPStatus.NOT_FOUND, {"message": "nothing here"})

    def do_POST(self) -> None:
        """An order, or a button of the page."""
        body = self._body() if self._ours() else None
        if body is None:
            return
        if self.path == "/orders":
            self._take(body)
        elif self.path == "/moves":
            self._move(body)
        elif self.path == "/replenishments":
            self._request(body)
        elif self.path.startswith("/orders/") and self.path.endswith("/changes"):
            self._ask(self.path.split("/")[2], body)
        elif self.path == "/sign-in":
            self._sign_in(body.decode("utf-8", "replace"))
        elif self.path.startswith("/page/"):
            self._press(body.decode("utf-8", "replace"))
        else:
            self._json(HTTPStatus.NOT_FOUND, {"message": "nothing here"})

    def do_PUT(self) -> None:
        """A customer or an item is told."""
        body = self._body() if self._ours() else None
        if body is None or not self._allowed():
            return
        kind, _, number = self.path.removeprefix("/").partition("/")
        kind = {"customers": "customer", "items": "item"}.get(kind, "")
        told = _read(body)
        if not kind or not number:
            self._json(HTTPStatus.NOT_FOUND, {"message": "nothing here"})
            return
        fault = masters.fault_of(kind, told)
        if fault or not isinstance(told, dict):
            self._json(HTTPStatus.UNPROCESSABLE_ENTITY, {"message": f"{unquote(number)}: {fault}"})
            return
        self.store.learn(kind, unquote(number), told)
        self._json(HTTPStatus.OK, {"known": True})

    def _on(self, fault: str) -> bool:
        return fault in self.faulty

    def _allowed(self) -> bool:
        given = self.headers.get("Authorization", "")
        if hmac.compare_digest(given.encode(), f"Bearer {self.token}".encode()):
            faults.pause(self._on)
            if self._on("error"):
                self._json(HTTPStatus.INTERNAL_SERVER_ERROR, {"message": "something broke"})
                return False
            return True
        self._json(HTTPStatus.UNAUTHORIZED, {"message": "who are you?"})
        return False

    def _asked(self, query: dict[str, list[str]]) -> tuple[int, int] | None:
        """Which page of a feed is asked for: after what, and how many; None where it was refused."""
        if not self._allowed():
            return None
        try:
            after, limit = (
                int(query.get(k, [d])[0]) for k, d in (("after", "0"), ("limit", "100"))
            )
            if not 0 <= after < 2**63:
                raise ValueError
        except ValueError:
            self._json(HTTPStatus.BAD_REQUEST, {"message": "after and limit are numbers"})
            return None
        return after, min(max(limit, 1), 500)

    def _events(self, query: dict[str, list[str]]) -> None:
        asked = self._asked(query)
        if asked is not None:
            events = faults.told(self.store.events(*asked), self._on)
            epoch, last = self.store.count()
            self._json(HTTPStatus.OK, {"events": events, "epoch": epoch, "last": last})

    def _changes(self, query: dict[str, list[str]]) -> None:
        asked = self._asked(query)
        if asked is not None:
            found, last = self.store.changes(*asked, query.get("kind", [""])[0])
            following = found[-1]["change"] if found else last
            epoch, _ = self.store.count()
            found = faults.told(found, self._on)
            told = {"changes": found, "epoch": epoch, "last": last, "next": following}
            self._json(HTTPStatus.OK, told)

    def _orders(self, query: dict[str, list[str]]) -> None:
        asked = self._asked(query)
        if asked is not None:
            found, following, last = self.store.standings(*asked)
            self._json(HTTPStatus.OK, {"orders": found, "next": following, "last": last})

    def _ask(self, number: str, body: bytes) -> None:
        if not self._allowed():
            return
        key, told = self._keyed(body)
        lines = told.get("lines") if isinstance(told, dict) else None
        if not key or not isinstance(told, dict) or not isinstance(lines, list) or not lines:
            self._json(HTTPStatus.BAD_REQUEST, {"message": "The key or the change cannot be read."})
            return
        try:
            new = self.store.ask(key, unquote(number), told)
        except Clash:
            self._json(HTTPStatus.CONFLICT, {"message": "This key was used for another change."})
            return
        if new is None:
            self._json(HTTPStatus.NOT_FOUND, {"message": "There is no such order."})
            return
        self._json(HTTPStatus.ACCEPTED if new else HTTPStatus.OK, {"number": unquote(number)})

    def _request(self, body: bytes) -> None:
        if not self._allowed():
            return
        key, told = self._keyed(body)
        wanted = told if isinstance(told, dict) else {}
        texts = [wanted.get(name) for name in ("item", "quantity", "order_number")]
        if not key or not all(isinstance(text, str) and text for text in texts):
            said = "The key or the request cannot be read."
            self._json(HTTPStatus.BAD_REQUEST, {"message": said})
            return
        try:
            new = self.store.request(key, wanted)
        except Clash:
            self._json(HTTPStatus.CONFLICT, {"message": "This key was used for another request."})
            return
        if new is None:
            self._json(HTTPStatus.UNPROCESSABLE_ENTITY, {"message": "The order is not known here."})
            return
        status = HTTPStatus.ACCEPTED if new else HTTPStatus.OK
        self._json(status, {"number": wanted["order_number"]})

    def _keyed(self, body: bytes) -> tuple[str, object]:
        """The idempotency key, and what was sent under it; an empty one where either cannot be read."""
        try:
            return str(uuid.UUID(self.headers.get("Idempotency-Key", ""))), json.loads(body)
        except ValueError:
            return "", None

    def _take(self, body: bytes) -> None:
        if not self._allowed():
            return
        mood = self.store.switch("mood", "well")
        if mood == "busy":
            self._json(HTTPStatus.SERVICE_UNAVAILABLE, {"message": "try again later"})
            return
        key, order = self._keyed(body)
        if not key:
            self._json(HTTPStatus.BAD_REQUEST, {"message": "The key or the order cannot be read."})
            return
        fault = fault_of(order)
        if mood == "strict":
            fault = fault or "The customer's master record is being corrected; send it again later."
        if fault or not isinstance(order, dict):
            self._json(HTTPStatus.UNPROCESSABLE_ENTITY, {"message": fault})
            return
        try:
            number, new = self.store.take(key, order)
        except Unknown as unknown:
            said = "The order names a customer or items that are not known here."
            self._json(HTTPStatus.FAILED_DEPENDENCY, {"message": said, "unknown": unknown.told})
            return
        except Clash:
            self._json(HTTPStatus.CONFLICT, {"message": "This key was used for another order."})
            return
        self._json(HTTPStatus.CREATED if new else HTTPStatus.OK, {"number": number})

    def _move(self, body: bytes) -> None:
        if not self._allowed():
            return
        asked = _read(body)
        fault = moves.fault_of(asked)
        if fault or not isinstance(asked, dict):
            self._json(HTTPStatus.UNPROCESSABLE_ENTITY, {"message": fault})
            return
        fault = self.store.change_places(asked)
        if fault:
            self._json(HTTPStatus.CONFLICT, {"message": fault})
            return
        self._json(HTTPStatus.OK, {"moved": True})

    def _ours(self) -> bool:
        self.faulty = self.store.faults()
        return super()._ours()

    def _press(self, form: str) -> None:
        fields = self._pressed(form)
        if fields is None:
            return
        number = fields.get("number", "")
        act = self.path.rpartition("/")[2]
        self._do(act, number)
        self._go("/stock" if act in OF_STOCK else "/accounts" if act in OF_ACCOUNTS else "/")

    def _do(self, act: str, number: str) -> None:
        """One button."""
        store = self.store
        kind, _, value = act.partition("-")
        if act in STEPS:
            store.act(act, number)
        elif act in ("hold", "release"):
            store.hold(number, act == "hold")
        elif act in ("answer", "turn-down"):
            store.answer(number, refuse=act == "turn-down")
        elif act in OF_ACCOUNTS:
            store.account(act, number)
        elif act == "reorder":
            store.reorder(number)
        elif act in OF_STOCK:
            store.receipt(act, number)
        elif kind == "fault" and value in faults.KINDS:
            store.set_switch(act, "" if self._on(value) else "on")
        elif value in SWITCHES.get(kind, ()):
            store.set_switch(kind, value)
        elif act == "step":
            store.step(number)
        elif act == "shorten":
            store.shorten(number)

    def _json(self, status: HTTPStatus, data: dict[str, Any]) -> None:
        if self._on("drop") and self.command != "GET":
            self.close_connection = True
            self.connection.close()  # it was done, and nobody hears of it
            return
        body = faults.written(data, self._on)
        at = int(time.time()) - (86_400 if self._on("stale") else 0)
        self._send(status, "application/json", body, Signature=self._signature(at, body))

    def _signature(self, at: int, body: bytes) -> str:
        """What shows that an answer is ours, to this very question, of this moment."""
        text = f"{at}.{self.command} {self.path}\n".encode() + body
        return f"t={at},v1={hmac.new(self.key.encode(), text, 'sha256').hexdigest()}"


def _read(body: bytes) -> object:
    """JSON, or None for what is none."""
    try:
        return json.loads(body)
    except ValueError:
        return None


def serve(store: Store, token: str, key: str, password: str, port: int) -> ThreadingHTTPServer:
    """A server on the loopback; call ``serve_forever``. ``key`` is what its answers are signed with."""
    own = {"store": store, "token": token, "key": key, "password": password}
    return page_server(Handler, own, port)
