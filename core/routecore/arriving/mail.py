"""A mail as it came over the line, taken apart: who, when, to what it answers, its words, its files.

Source: RFC 5322, 2045 to 2047, 2183 (what is attached), 3834 (automatic mail), 2919 (lists). What is broken is read as
far as it can be: a mail is refused only where it is too large or nested without end.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from email import message_from_bytes
from email.message import Message
from pathlib import PurePosixPath
import re

from routecore.arriving.headers import addresses, cleaned, decoded, field, ids, instant
from routecore.arriving.plain import plain
from routecore.arriving.reports import Report, report_of
from routecore.errors import InvalidInput

MOST_BYTES = 30_000_000
MOST_FILES = 50
#: Parts within parts; no program of people goes deeper than five.
DEEPEST = 20
MOST_PARTS = 2_000
LONGEST_TEXT = 400_000
LONGEST_SUBJECT = 300
LONGEST_NAME = 120
#: Files that a computer would run stay where they are; common practice, no source.
RUNS = frozenset(
    {
        *(".bat", ".cmd", ".com", ".cpl", ".dll", ".exe", ".hta", ".img", ".iso", ".jar", ".js"),
        *(".jse", ".lnk", ".msi", ".pif", ".ps1", ".reg", ".scr", ".vbe", ".vbs", ".wsf", ".wsh"),
    }
)
#: What lists and machines write there; common practice, no source.
_BULK = {"bulk", "junk", "list", "auto_reply"}


@dataclass(frozen=True, slots=True)
class Person:
    """As a mail names somebody; the address in small letters."""

    name: str
    address: str


@dataclass(frozen=True, slots=True, kw_only=True)
class File:
    """A file that came along; ``name`` is a name alone, never a way to a place."""

    name: str
    media_type: str
    content: bytes


@dataclass(frozen=True, slots=True, kw_only=True)
class Mail:
    """``at``: in UTC. ``answers``: Message-IDs with their brackets, the nearest last. ``text``: the words; where only
    HTML came, those of it. ``markup``: the HTML as it came, not to be shown before it is cleaned. ``left_out``: files
    beyond the most that are taken, and those that a computer would run. ``automatic``: a machine wrote it, and nobody waits for an answer.
    """

    message_id: str
    subject: str
    sender: Person | None
    to: tuple[Person, ...]
    copies: tuple[Person, ...]
    at: datetime | None
    answers: tuple[str, ...]
    text: str
    markup: str
    files: tuple[File, ...]
    left_out: int
    automatic: bool
    report: Report | None


def read_mail(raw: bytes) -> Mail:
    """Take a mail apart; raises ``InvalidInput`` (``mail_too_large``, ``mail_too_deep``) for what no person sent.

    >>> mail = read_mail(b"From: Ada <Ada@Holm.example>\\nSubject: Posts\\n\\nTwenty, please.")
    >>> mail.sender, mail.text
    (Person(name='Ada', address='ada@holm.example'), 'Twenty, please.')
    """
    if len(raw) > MOST_BYTES:
        raise InvalidInput("mail_too_large", path="mail", facts={"most": MOST_BYTES // 1_000_000})
    try:
        return _read(message_from_bytes(raw))
    except RecursionError:
        raise InvalidInput("mail_too_deep", path="mail", facts={"most": DEEPEST}) from None


def _read(message: Message) -> Mail:
    leaves = list(_leaves(message))
    texts = [part for part in leaves if _is_words(part, "text/plain")]
    markups = [part for part in leaves if _is_words(part, "text/html")]
    files = [part for part in leaves if part not in texts and part not in markups]
    kept = [part for part in files if not _runs(_name(part))][:MOST_FILES]
    text = "\n".join(filter(str.strip, map(_text, texts)))[:LONGEST_TEXT]
    markup = "\n".join(map(_text, markups))[:LONGEST_TEXT]
    answers = dict.fromkeys([*ids(message, "References"), *ids(message, "In-Reply-To")])
    senders = _people(message, "From")
    return Mail(
        message_id=next(iter(ids(message, "Message-ID")), ""),
        subject=field(message, "Subject")[:LONGEST_SUBJECT],
        sender=senders[0] if senders else None,
        to=_people(message, "To"),
        copies=_people(message, "Cc"),
        at=instant(message),
        answers=tuple(answers),
        text=text or plain(markup),
        markup=markup,
        files=tuple(map(_file, kept)),
        left_out=len(files) - len(kept),
        automatic=_automatic(message),
        report=report_of(message),
    )


def _leaves(message: Message) -> Iterator[Message]:
    """The parts without parts, in their order; a mail within the mail is one, as a file."""
    waiting = [(message, 0)]
    seen = 0
    while waiting and seen < MOST_PARTS:
        part, depth = waiting.pop()
        seen += 1
        inner = part.get_payload()
        if part.get_content_maintype() == "multipart" and isinstance(inner, list):
            if depth == DEEPEST:
                raise InvalidInput("mail_too_deep", path="mail", facts={"most": DEEPEST})
            waiting += [(each, depth + 1) for each in reversed(inner) if isinstance(each, Message)]
        elif part.get_content_maintype() != "multipart":
            yield part
        elif isinstance(inner, str) and inner.strip():  # it says that it has parts, and has none
            part.set_type("text/plain")
            yield part


def _is_words(part: Message, kind: str) -> bool:
    attached = part.get_content_disposition() == "attachment" or bool(part.get_filename())
    return part.get_content_type() == kind and not attached


def _content(part: Message) -> bytes:
    if part.get_content_maintype() == "message":
        inner = part.get_payload()
        first = inner[0] if isinstance(inner, list) and inner else inner
        return (
            first.as_bytes()
            if isinstance(first, Message)
            else str(first).encode("utf-8", "replace")
        )
    content = part.get_payload(decode=True)
    return content if isinstance(content, bytes) else b""


def _text(part: Message) -> str:
    charset = part.get_param("charset", "utf-8")
    return decoded(_content(part), charset if isinstance(charset, str) else "utf-8")


def _runs(name: str) -> bool:
    """Whether a computer would run a file of this name; a second end hides nothing."""
    return PurePosixPath(name.lower()).suffix in RUNS


def _name(part: Message) -> str:
    """A name alone, whatever way to a place stands before it."""
    given = cleaned(part.get_filename() or "").replace("\\", "/").replace("\n", " ")
    name = PurePosixPath(given).name.strip(" .")
    dot = re.search(r"\.\w{1,10}$", name)
    end = dot[0] if dot else ""
    return name[: LONGEST_NAME - len(end)].removesuffix(end) + end if name else "file"


def _file(part: Message) -> File:
    return File(
        name=_name(part),
        media_type=cleaned(part.get_content_type())[:80],
        content=_content(part),
    )


def _people(message: Message, name: str) -> tuple[Person, ...]:
    return tuple(Person(*found) for found in addresses(message, name))


def _automatic(message: Message) -> bool:
    submitted = field(message, "Auto-Submitted").partition(";")[0].strip().lower() or "no"
    precedence = field(message, "Precedence").lower()
    from_nobody = str(message.get("Return-Path", "")).strip() == "<>"
    return submitted != "no" or precedence in _BULK or bool(message.get("List-Id")) or from_nobody
