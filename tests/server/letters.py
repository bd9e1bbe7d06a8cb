"""Mails as a customer sends them, and how they come in."""

from collections.abc import Callable
from datetime import datetime
from email.message import EmailMessage

from django.utils import timezone

from apps.mail.imap import ImapBox
from apps.mail.models import Mailbox, Received
from apps.mail.receiving import look_in, take

HOUSE = "sales@quillfen.example"


def mail(**fields: str) -> EmailMessage:
    made = EmailMessage()
    given = {"From": "Maren Holt <maren.holt@grower.example>", "To": HOUSE, "Subject": "Posts"}
    for name, value in {**given, "Message_ID": "<1@grower.example>", **fields}.items():
        made[name.replace("_", "-")] = value
    made.set_content("Could you add two rolls?")
    return made


def came(made: EmailMessage | bytes, uid: int = 1) -> Received | None:
    """What is kept of a mail that lies in the box under this UID."""
    box, _ = Mailbox.objects.get_or_create(name=HOUSE)
    raw = made if isinstance(made, bytes) else made.as_bytes()
    return take(box.pk, 7, uid, raw, now=timezone.now())


def looked(box: ImapBox, clock: Callable[[], datetime]) -> int:
    """How many mails were looked at in the house's box, read so."""
    row, _ = Mailbox.objects.get_or_create(name=HOUSE)
    return look_in(row, box, clock)
