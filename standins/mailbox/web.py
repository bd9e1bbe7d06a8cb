"""The page that shows every mailbox; its buttons let the mail server do wrong."""

from collections.abc import Mapping
from datetime import UTC, datetime
from html import escape
from http import HTTPStatus
from http.server import ThreadingHTTPServer
from urllib.parse import parse_qs, quote, urlsplit

from standins.mailbox.answers import SAMPLES, answer, written
from standins.mailbox.box import FAULTS, Boxes, Letter
from standins.pages import PageHandler, page_server

STYLE = """
body{font:14px/1.45 system-ui,sans-serif;background:#eef0ea;color:#12332b;margin:24px auto;max-width:900px;padding:0 16px}
a{color:inherit}h1{font-size:20px;margin:0 0 4px}h2{font-size:15px;margin:0}p{margin:4px 0 12px}
article{background:#fffdf7;border-left:4px solid #12332b;padding:10px 16px;margin:0 0 12px}
pre{font:inherit;white-space:pre-wrap;margin:8px 0}small{color:#50655d}form{display:inline}
button{font:inherit;padding:4px 12px;border:1px solid #12332b;border-radius:4px;background:#fffdf7;color:#12332b}
button[aria-pressed=true]{background:#12332b;color:#fffdf7}
"""
HEAD = (
    "<!doctype html><html lang=en><meta charset=utf-8><title>Mailboxes</title>"
    f"<style>{STYLE}</style><h1>Mailboxes</h1>"
)


class Handler(PageHandler):
    """One request of the page."""

    boxes: Boxes
    cookie = "mailbox"
    server_version = "mailbox"

    def do_GET(self) -> None:
        """The health, the boxes, one box."""
        where = urlsplit(self.path)
        if not self._ours():
            return
        if where.path == "/health":
            self._json(HTTPStatus.OK, {"ok": True})
        elif where.path != "/":
            self._json(HTTPStatus.NOT_FOUND, {"message": "nothing here"})
        elif not self._signed_in():
            self._html(door(wrong="wrong" in where.query))
        else:
            self._html(self._page(parse_qs(where.query).get("of", [""])[0]))

    def _page(self, of: str) -> str:
        known = self.boxes.addresses()
        if of in dict(known):
            return render_box(of, self.boxes.letters(of), self._sign("form"))
        return render(known, self.boxes.switches(), self._sign("form"))

    def do_POST(self) -> None:
        """The password, or a button."""
        body = self._body() if self._ours() else None
        if body is None:
            return
        form = body.decode("utf-8", "replace")
        if self.path == "/sign-in":
            self._sign_in(form)
            return
        fields = self._pressed(form)
        if fields is None:
            return
        if fields.get("fault") in FAULTS:
            self.boxes.turn(fields["fault"])
        if "to" in fields:
            self._go(self._written(fields))
        else:
            self._go(self._answered(fields) if "key" in fields else "/")

    def _written(self, fields: Mapping[str, str]) -> str:
        """Lay what whoever owns a box writes into the box of whom it goes to, and a copy among what they sent."""
        of, to = fields.get("of", ""), fields["to"].strip()
        if of not in dict(self.boxes.addresses()) or not self.boxes.names(to):
            return "/"
        body = written(of, to, fields.get("subject", ""), fields.get("words", ""))
        self.boxes.keep(to, body)
        self.boxes.keep_sent(of, body)
        return f"/?of={quote(of)}"

    def _answered(self, fields: Mapping[str, str]) -> str:
        """Lay the answer of whoever owns a box into the box of whom it goes to; where to look next."""
        of = fields.get("of", "")
        known = of in dict(self.boxes.addresses())
        letter = self.boxes.letter(of, fields["key"]) if known else None
        if letter is None:
            return "/"
        to, body = answer(letter, of, fields.get("sample", ""), fields.get("words", ""))
        self.boxes.keep(to, body)
        if fields.get("sample") != "bounce":
            self.boxes.keep_sent(of, body)
        return f"/?of={quote(of)}"


def door(*, wrong: bool) -> str:
    """The page that asks for the password."""
    said = "<p role=alert>That is not the password.</p>" if wrong else ""
    return (
        f"{HEAD}<p>A stand-in for the mail server.</p>{said}<form method=post action=/sign-in>"
        "<label>Password <input type=password name=password autofocus></label> "
        "<button>Sign in</button></form></html>"
    )


def render(known: list[tuple[str, int]], switches: Mapping[str, bool], token: str) -> str:
    """Every address, and what goes wrong on purpose."""
    rows = "".join(
        f"<p><a href='/?of={quote(name)}'>{escape(name)}</a> <small>{many}</small></p>"
        for name, many in known
    )
    faults = " ".join(
        f"<form method=post action=/fault><input type=hidden name=fault value={name}>"
        f"<input type=hidden name=token value='{escape(token)}'>"
        f"<button aria-pressed={'true' if switches[name] else 'false'}>{escape(words)}</button></form>"
        for name, words in FAULTS.items()
    )
    return f"{HEAD}<p>The server {faults}</p>{rows or '<p>No mail has come yet.</p>'}</html>"


def render_box(address: str, letters: list[Letter], token: str) -> str:
    """A mailbox, the newest mail first; each can be answered as the one whose box it is."""
    rows = "".join(_letter(letter, address, token) for letter in letters)
    return (
        f"{HEAD}<p><a href=/>All mailboxes</a> · {escape(address)}</p>"
        f"<details><summary>Write</summary><form method=post action=/write>"
        f"<input type=hidden name=of value='{escape(address)}'>"
        f"<input type=hidden name=token value='{escape(token)}'>"
        "<p><input name=to aria-label=To placeholder=To size=34> "
        "<input name=subject aria-label=Subject placeholder=Subject size=34></p>"
        "<textarea name=words rows=5 cols=70 aria-label=Words></textarea>"
        f"<p><button>Send</button></p></form></details>{rows}</html>"
    )


def _letter(letter: Letter, address: str, token: str) -> str:
    at = datetime.fromtimestamp(letter.at, UTC).strftime("%Y-%m-%d %H:%M")
    files = f"<p><small>{escape(', '.join(letter.files))}</small></p>" if letter.files else ""
    hidden = "".join(
        f"<input type=hidden name={name} value='{escape(value)}'>"
        for name, value in (("of", address), ("key", letter.key), ("token", token))
    )
    samples = " ".join(
        f"<button name=sample value={name}>{escape(words)}</button>"
        for name, (words, _) in SAMPLES.items()
    )
    return (
        f"<article><h2>{escape(letter.subject)}</h2><small>{escape(letter.sender)} · {at}</small>"
        f"<pre>{escape(letter.text)}</pre>{files}<details><summary>Answer</summary>"
        f"<form method=post action=/answer>{hidden}<textarea name=words rows=5 cols=70 aria-label=Words></textarea>"
        f"<p><button name=sample value=free>Send these words</button> or {samples}</p></form></details></article>"
    )


def serve(boxes: Boxes, token: str, password: str, port: int) -> ThreadingHTTPServer:
    """The page's server; call ``serve_forever``."""
    return page_server(Handler, {"boxes": boxes, "token": token, "password": password}, port)
