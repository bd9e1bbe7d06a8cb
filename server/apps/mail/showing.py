"""A mail as its writer laid it out: cleaned of all that runs, asks or hides, in a page that can do nothing.

A picture from elsewhere tells its writer that the mail was read: it is left out until somebody asks for it. HTML is cleaned
where that can be killed (``layout_reader``); what does not come to an end is shown by its words alone.
"""

from pathlib import Path

from apps.errors import FlowError
from apps.killable import told_by
from apps.mail.models import LAID_OUT, PLAIN, WITH_PICTURES
from apps.turns import Turns

READER = Path(__file__).with_name("layout_reader.py")
#: Beyond its own bound the reader is killed.
MOST_SECONDS = 4
TURNS = Turns("files_busy", at_a_time=2, waiting=4, seconds=MOST_SECONDS * 2.0)
STYLE = (
    "body{font:14px/1.45 system-ui,sans-serif;color:#12332b;background:#fffdf7;margin:8px;overflow-wrap:anywhere}"
    "img{max-width:100%;height:auto}table{max-width:100%}"
)


def page_of(markup: str, *, pictures: bool) -> str:
    """A page of its own, cleaned; with the pictures that lie elsewhere only where they are asked for. Raises ``Invalid``
    where cleaning does not come to an end."""
    words = _told(markup, {"pictures": pictures})["words"]
    return (
        "<!doctype html><html><meta charset=utf-8><base target=_blank>"
        f"<style>{STYLE}</style><body>{words}</body></html>"
    )


def layout_of(markup: str) -> str:
    """Whether a mail is laid out, and whether it has pictures that lie elsewhere: one of ``LAYOUTS``; none where it
    cannot be cleaned."""
    if not markup.strip():
        return PLAIN
    try:
        return WITH_PICTURES if _told(markup, {})["outside"] else LAID_OUT
    except FlowError:
        return PLAIN


def _told(markup: str, asked: dict[str, object]) -> dict[str, object]:
    return told_by(READER, asked, markup.encode(), seconds=MOST_SECONDS, turns=TURNS)


def policy(*, pictures: bool) -> str:
    """What a browser lets such a page do (CSP level 3): show words, and pictures where they are asked for."""
    shown = "https:" if pictures else "'none'"
    return (
        f"default-src 'none'; style-src 'unsafe-inline'; img-src {shown}; base-uri 'none'; form-action 'none'; "
        "frame-ancestors 'self'; sandbox allow-popups allow-popups-to-escape-sandbox"
    )
