"""What the pages of the stand-ins share: their own name, a password, tokens in forms, headers. Standard library only."""

import hmac
from http import HTTPStatus
from http.cookies import SimpleCookie
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
import json
import time
from typing import Any, ClassVar
from urllib.parse import parse_qs, urlsplit

LARGEST_BODY = 2_000_000
PAUSE_AFTER_WRONG = 1.0
HEADERS = {
    "Content-Security-Policy": "default-src 'none'; style-src 'unsafe-inline'; "
    "form-action 'self'; frame-ancestors 'none'; base-uri 'none'",
    "X-Frame-Options": "DENY",
    "X-Content-Type-Options": "nosniff",
    "Cache-Control": "no-store",
}


class PageHandler(BaseHTTPRequestHandler):
    """One request of a page. What it needs is set on a subclass by ``page_server``."""

    token: str
    password: str
    port: int
    cookie: ClassVar[str] = "office"
    protocol_version = "HTTP/1.1"
    timeout = 30

    def _body(self) -> bytes | None:
        try:
            length = int(self.headers.get("Content-Length") or 0)
        except ValueError:
            length = -1
        if not 0 <= length <= LARGEST_BODY:
            self.close_connection = True
            self._json(HTTPStatus.REQUEST_ENTITY_TOO_LARGE, {"message": "too large"})
            return None
        return self.rfile.read(length)

    def _ours(self) -> bool:
        """Whether it is asked under its own name; another one would be another page's doing."""
        if self.headers.get("Host") in (f"127.0.0.1:{self.port}", f"localhost:{self.port}"):
            return True
        self.close_connection = True
        self._json(HTTPStatus.BAD_REQUEST, {"message": "not under this name"})
        return False

    def _sign(self, what: str) -> str:
        return hmac.new(self.token.encode(), what.encode(), "sha256").hexdigest()

    def _signed_in(self) -> bool:
        cookie = SimpleCookie(self.headers.get("Cookie", ""))
        given = cookie[self.cookie].value if self.cookie in cookie else ""
        return hmac.compare_digest(given.encode(), self._sign("page").encode())

    def _from_own_page(self) -> bool:
        origin = self.headers.get("Origin")
        if origin is None or urlsplit(origin).netloc == self.headers.get("Host"):
            return True
        self._json(HTTPStatus.FORBIDDEN, {"message": "not from another page"})
        return False

    def _sign_in(self, form: str) -> None:
        if not self._from_own_page():
            return
        given = parse_qs(form).get("password", [""])[0]
        if hmac.compare_digest(given.encode(), self.password.encode()):
            cookie = f"{self.cookie}={self._sign('page')}; HttpOnly; SameSite=Strict; Path=/"
            self._go("/", ("Set-Cookie", cookie))
        else:
            time.sleep(PAUSE_AFTER_WRONG)
            self._go("/?wrong")

    def _pressed(self, form: str) -> dict[str, str] | None:
        """What a button of its own page sent; None where it was refused."""
        fields = {name: values[0] for name, values in parse_qs(form).items()}
        if not self._from_own_page():
            return None
        token = fields.get("token", "").encode()
        if not self._signed_in() or not hmac.compare_digest(token, self._sign("form").encode()):
            self._json(HTTPStatus.FORBIDDEN, {"message": "sign in first"})
            return None
        return fields

    def _go(self, where: str, *more: tuple[str, str]) -> None:
        self.send_response(HTTPStatus.SEE_OTHER)
        for name, value in (("Location", where), ("Content-Length", "0"), *more):
            self.send_header(name, value)
        self.end_headers()

    def _json(self, status: HTTPStatus, data: dict[str, Any]) -> None:
        self._send(status, "application/json", json.dumps(data).encode())

    def _html(self, page: str) -> None:
        self._send(HTTPStatus.OK, "text/html; charset=utf-8", page.encode())

    def _send(self, status: HTTPStatus, kind: str, body: bytes, **more: str) -> None:
        self.send_response(status)
        self.send_header("Content-Type", kind)
        self.send_header("Content-Length", str(len(body)))
        for name, value in (HEADERS | more).items():
            self.send_header(name, value)
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, format: str, *args: Any) -> None:
        """Silent: the application logs what matters."""


def page_server(handler: type[PageHandler], own: dict[str, Any], port: int) -> ThreadingHTTPServer:
    """A server of a page on the loopback; ``own`` is set on its handler; call ``serve_forever``."""
    bound = type("BoundHandler", (handler,), {**own, "port": port})
    ThreadingHTTPServer.allow_reuse_address = True
    server = ThreadingHTTPServer(("127.0.0.1", port), bound)
    server.daemon_threads = True
    return server
