"""Reports of a mail server about a mail of ours: to whom it did not come, and why.

Source: RFC 3464 (delivery status notifications), RFC 3463 (status codes: 4 for now, 5 for ever).
"""

from collections.abc import Iterator
from dataclasses import dataclass
from email.message import Message
import re

from routecore.arriving.headers import cleaned, field, ids

FAILED, DELAYED = "failed", "delayed"
#: Delivered, or given to a server that sends no reports, or to a list.
ARRIVED = ("delivered", "relayed", "expanded")
_STATUS = re.compile(r"[245]\.\d{1,3}\.\d{1,3}")
MOST_TOLD = 200
LONGEST_REASON = 300


@dataclass(frozen=True, slots=True, kw_only=True)
class Told:
    """What became of it for one address: ``action`` as the RFC names it, ``status`` as in RFC 3463, the server's words."""

    address: str
    action: str
    status: str = ""
    reason: str = ""


@dataclass(frozen=True, slots=True)
class Report:
    """``original``: the Message-ID of the mail that it tells of, empty where it does not say."""

    original: str
    told: tuple[Told, ...]

    @property
    def failed(self) -> tuple[Told, ...]:
        """Those to whom it did not come and will not."""
        return tuple(each for each in self.told if each.action == FAILED)


def report_of(message: Message) -> Report | None:
    """What a delivery report says; None for any other mail."""
    kind = str(message.get_param("report-type", "")).lower()
    if message.get_content_type() != "multipart/report" or kind != "delivery-status":
        return None
    parts = _parts(message)
    told: list[Told] = []
    original = ""
    for part in parts[:10]:
        if part.get_content_type() == "message/delivery-status":
            told += _told(part)
        elif part.get_content_type() in ("message/rfc822", "message/rfc822-headers"):
            for inner in _parts(part)[:1]:
                original = next(iter(ids(inner, "Message-ID")), original)
        elif part.get_content_type() == "text/rfc822-headers":
            found = re.search(
                r"^message-id:\s*(<[^<>\s]{1,250}>)", str(part.get_payload()), re.I | re.M
            )
            original = found[1] if found else original
    answers = [*ids(message, "References"), *ids(message, "In-Reply-To")]
    return Report(original or next(reversed(answers), ""), tuple(told[:MOST_TOLD]))


def _parts(message: Message) -> list[Message]:
    inner = message.get_payload()
    return [part for part in inner if isinstance(part, Message)] if isinstance(inner, list) else []


def _told(part: Message) -> Iterator[Told]:
    """A block of fields for each address; the first block is about the whole mail and names none."""
    for block in _parts(part):
        address = _after_type(field(block, "Original-Recipient") or field(block, "Final-Recipient"))
        if not address and not field(block, "Action"):
            continue
        status = _STATUS.search(field(block, "Status"))
        yield Told(
            address=address.strip("<>").lower(),
            action=field(block, "Action").partition(" ")[0].lower(),
            status=status[0] if status else "",
            reason=_after_type(field(block, "Diagnostic-Code"))[:LONGEST_REASON],
        )


def _after_type(value: str) -> str:
    """``rfc822; ilse@example.com`` without its type."""
    return cleaned(value.partition(";")[2] or value).strip()
