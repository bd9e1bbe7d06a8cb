"""Header fields and texts of a mail, whatever charset they name or fail to name.

Source: RFC 5322 (fields, Message-IDs), RFC 2047 (encoded words), RFC 2231 (parameters).
"""

import codecs
from datetime import UTC, datetime
from email.errors import HeaderParseError
from email.header import decode_header
from email.message import Message
from email.utils import getaddresses, parsedate_to_datetime
import re

#: Signs of a header field that are read; what comes after is left.
LONGEST_FIELD = 20_000
MOST_ADDRESSES = 200
MOST_IDS = 100
#: What no text may hold: controls but tab and line feed, halves of pairs, and what turns the direction of writing.
_NOT_TEXT = re.compile("[\x00-\x08\x0b-\x1f\x7f\ud800-\udfff\u202a-\u202e\u2066-\u2069]")
_HALF = re.compile("[\udc80-\udcff]")
_ID = re.compile(r"<[!-;=?-~]{1,250}>")
#: 254 signs at most (RFC 5321, 4.5.3.1.3 without its brackets).
_ADDRESS = re.compile(r"[^@\s<>,;:\"]{1,64}@[^@\s<>,;:\"]{1,189}")
#: Nobody wrote a mail before; a year of three digits is none that a database keeps.
EARLIEST_YEAR = 1970


def cleaned(text: str) -> str:
    """A text with line feeds for line ends, and nothing in it that is not text."""
    return _NOT_TEXT.sub("", text.replace("\r\n", "\n").replace("\r", "\n"))


def decoded(content: bytes, charset: str) -> str:
    """Text of bytes: in the charset that is named, else in UTF-8, else in the usual western one.

    >>> decoded("Größe".encode(), "us-ascii"), decoded("Größe".encode("latin-1"), "x-none")
    ('Größe', 'Größe')
    """
    for name in (charset, "utf-8"):
        try:
            if codecs.lookup(name)._is_text_encoding:
                return cleaned(content.decode(name))
        except (LookupError, ValueError):
            continue
    return cleaned(content.decode("cp1252", "replace"))


def field(message: Message, name: str) -> str:
    """A header field as one line of text; empty where there is none.

    >>> from email import message_from_string
    >>> field(message_from_string("Subject: =?utf-8?q?Gr=C3=B6=C3=9Fe?=\\n  of posts\\n\\n"), "Subject")
    'Größe of posts'
    """
    return _in_words(next(iter(_raw(message, name)), ""))


def _raw(message: Message, name: str) -> list[str]:
    """The fields of a name as they came: bytes beyond ASCII stand there as halves of pairs."""
    return [
        str(value)[:LONGEST_FIELD]
        for found, value in message.raw_items()
        if found.lower() == name.lower()
    ]


def _in_words(given: str) -> str:
    given = re.sub(r"[\r\n]+\s*", " ", given)
    try:
        parts = decode_header(given)
    except (HeaderParseError, ValueError):
        parts = [(given, None)]
    words = "".join(
        part if isinstance(part, str) else decoded(part, charset or "utf-8")
        for part, charset in parts
    )
    # Bytes that no charset was named for stand here as halves of pairs.
    whole = words.encode("utf-8", "surrogateescape") if max(words, default="") >= "\udc80" else b""
    return " ".join(cleaned(decoded(whole, "utf-8") if whole else words).split())


def addresses(message: Message, name: str) -> list[tuple[str, str]]:
    """Name and address of each person of a field; what is no address is left out."""
    return [
        (_in_words(person), address.lower())
        for person, address in getaddresses(_raw(message, name))[:MOST_ADDRESSES]
        if _ADDRESS.fullmatch(address) and address.isprintable()
    ]


def ids(message: Message, name: str) -> list[str]:
    """The Message-IDs of a field, with their brackets; the last ones where there are many."""
    return _ID.findall(str(message.get(name, ""))[-LONGEST_FIELD:])[-MOST_IDS:]


def instant(message: Message) -> datetime | None:
    """When it says that it was written, in UTC; None where it says nothing that can be read."""
    try:
        found = parsedate_to_datetime(str(message.get("Date", "")))
        at = (found if found.tzinfo else found.replace(tzinfo=UTC)).astimezone(UTC)
        return at if at.year >= EARLIEST_YEAR else None
    except (ValueError, TypeError, IndexError, OverflowError):
        return None
