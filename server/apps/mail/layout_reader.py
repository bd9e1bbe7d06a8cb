"""Cleans one mail's HTML and ends: what is asked and the HTML in on stdin, what may be shown as JSON out on stdout.

A process of its own, because HTML can be nested so that cleaning it takes for ever: the one who starts it may kill it. It
bounds its own memory and processor time, and knows nothing of the application.

What may stay is decided by ``nh3``: the tags and attributes of text, tables and pictures; no styles, scripts, forms.
"""

from collections.abc import Callable
import json
import resource
import sys

import nh3

SECONDS = 2
BYTES = 1 << 30
#: Where a link may lead; a picture comes over TLS or not at all.
SCHEMES = {"http", "https", "mailto", "tel"}
SECURE = "https://"
_KNOWN = nh3.ALLOWED_ATTRIBUTES
ATTRIBUTES = {
    **{tag: set(names) for tag, names in _KNOWN.items()},
    "table": {*_KNOWN["table"], "width", "border", "cellpadding", "cellspacing"},
    "td": {*_KNOWN["td"], "width", "valign"},
    "th": {*_KNOWN["th"], "width", "valign"},
}


def cleaned(markup: str, *, pictures: bool) -> str:
    """What of it may be shown; pictures that lie elsewhere only where they are asked for.

    >>> cleaned('<b onclick="x()">Hi</b><img src="https://a.example/1.png">', pictures=False)
    '<b>Hi</b><img>'
    """
    return _cleaned(markup, lambda _: pictures)


def outside(markup: str) -> bool:
    """Whether it has pictures that lie elsewhere."""
    found: list[str] = []

    def note(source: str) -> bool:
        found.append(source)
        return False

    _cleaned(markup, note)
    return bool(found)


def _cleaned(markup: str, shown: Callable[[str], bool]) -> str:
    def kept(tag: str, attribute: str, value: str) -> str | None:
        if tag == "img" and attribute == "src":
            return value if value.lower().startswith(SECURE) and shown(value) else None
        return value

    return nh3.clean(
        markup,
        attributes=ATTRIBUTES,
        attribute_filter=kept,
        url_schemes=SCHEMES,
        link_rel="noopener noreferrer nofollow",
    )


def main() -> int:
    """Read, and print what was found."""
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    resource.setrlimit(resource.RLIMIT_AS, (BYTES, BYTES))
    head, _, body = sys.stdin.buffer.read().partition(b"\n")
    asked, markup = json.loads(head), body.decode("utf-8", "replace")
    told = (
        {"words": cleaned(markup, pictures=asked["pictures"])}
        if "pictures" in asked
        else {"outside": outside(markup)}
    )
    sys.stdout.write(json.dumps(told))
    return 0


if __name__ == "__main__":
    sys.exit(main())
