"""A mail as it goes over the line: RFC 5322 and MIME."""

from email.headerregistry import Address
from email.message import EmailMessage
from email.policy import SMTP
from email.utils import format_datetime

from django.utils import timezone

from apps.files.store import place_of
from apps.mail.models import Message
from routecore.arriving import references


def mime_of(message: Message) -> bytes:
    """The mail with its attachments; the same bytes at every try, but for what MIME divides it by."""
    mail = EmailMessage(policy=SMTP)
    mail["Message-ID"] = message.message_id
    mail["Date"] = format_datetime(timezone.localtime(message.created_at))
    mail["From"] = _address(message.sender_name, message.sender)
    if message.reply_to:
        mail["Reply-To"] = _address(message.sender_name, message.reply_to)
    mail["To"] = [_address(each["name"], each["address"]) for each in message.to]
    if message.copies:
        mail["Cc"] = [_address(each["name"], each["address"]) for each in message.copies]
    mail["Subject"] = message.subject
    parent = message.in_answer_to
    if parent and parent.mark.startswith("<"):
        mail["In-Reply-To"] = parent.mark
        mail["References"] = " ".join(references(parent.thread, parent.mark))
    mail.set_content(message.body + "\n")
    for each in message.attachments.all():
        content = place_of(each.digest).read_bytes()
        main, _, sub = each.media_type.partition("/")
        if each.media_type == "text/calendar":
            # An invitation says what it asks for (RFC 6047, 2.4).
            how = {"method": "REQUEST"}
            mail.add_attachment(content.decode(), subtype=sub, filename=each.name, params=how)
        else:
            mail.add_attachment(content, maintype=main, subtype=sub, filename=each.name)
    return mail.as_bytes()


def recipients_of(message: Message) -> list[str]:
    """Whom the server is told: everybody once, those of the hidden copy too."""
    found = [each["address"] for each in (*message.to, *message.copies)]
    return list(dict.fromkeys([*found, *([message.hidden_copy] if message.hidden_copy else [])]))


def _address(name: str, address: str) -> Address:
    return Address(display_name=name, addr_spec=address)
