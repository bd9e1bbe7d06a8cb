"""What a customer may write back: samples, and the words of somebody who plays them."""

from email.message import EmailMessage
from email.policy import SMTP
from email.utils import formatdate, make_msgid, parseaddr

from standins.mailbox.box import Letter

#: By name: what the button says, and the words; ``bounce`` is the mail server's own.
SAMPLES = {
    "accept": ("accept", "Good morning,\n\nwe accept your offer. Our order number is PO-4711.\n\nKind regards"),
    "cheaper": ("cheaper please", "Hello,\n\nthat is a bit too high for us. Could you do it for 5 % less?\n\nThanks"),
    "order": ("an order in words", "Hello,\n\nplease send us twenty chestnut posts and three rolls of wire.\n\nThanks"),
    "away": ("out of office", "I am out of the office until Monday and will answer after that."),
    "comes": ("the day suits", "The day suits us."),
    "declines": ("the day does not suit", "That day does not suit us."),
    "bounce": ("no such mailbox", ""),
}  # fmt: skip
#: What a calendar says for them (RFC 5546, 3.2.3).
PARTSTAT = {"comes": "ACCEPTED", "declines": "DECLINED"}
#: What an answer repeats of an invitation.
REPEATED = ("UID", "DTSTART", "DTEND", "SUMMARY", "SEQUENCE", "ORGANIZER")


def written(address: str, to: str, subject: str, words: str) -> bytes:
    """A mail of whoever owns a box."""
    mail = EmailMessage(policy=SMTP)
    mail["From"], mail["To"], mail["Subject"] = address, to, " ".join(subject.split())
    mail["Date"], mail["Message-ID"] = formatdate(), make_msgid(domain=address.rpartition("@")[2])
    mail.set_content(words.strip() + "\n")
    return mail.as_bytes()


def answer(letter: Letter, address: str, sample: str, words: str) -> tuple[str, bytes]:
    """Whom it goes to, and the mail: an answer of ``address`` to a letter that lies in its box."""
    to = parseaddr(letter.reply_to or letter.sender)[1]
    if sample == "bounce":
        return parseaddr(letter.sender)[1], _report(letter, address)
    mail = EmailMessage(policy=SMTP)
    mail["From"], mail["To"] = address, to
    mail["Subject"] = f"Re: {letter.subject.removeprefix('Re: ')}"
    mail["Date"], mail["Message-ID"] = formatdate(), make_msgid(domain=address.rpartition("@")[2])
    mail["In-Reply-To"] = mail["References"] = letter.message_id
    if sample == "away":
        mail["Auto-Submitted"] = "auto-replied"
    quoted = "\n".join(f"> {line}" for line in letter.text.splitlines())
    body = words.strip() or SAMPLES.get(sample, ("", ""))[1]
    mail.set_content(f"{body}\n\n{letter.sender} wrote:\n{quoted}\n")
    if sample in PARTSTAT and letter.invitation:
        event = _calendar_answer(letter.invitation, address, PARTSTAT[sample])
        how = {"method": "REPLY"}
        mail.add_attachment(event, subtype="calendar", params=how, filename="answer.ics")
    return to, mail.as_bytes()


def _calendar_answer(invitation: str, address: str, says: str) -> str:
    lines = invitation.replace("\r\n ", "").splitlines()
    kept = [line for line in lines if line.split(":")[0].split(";")[0].upper() in REPEATED]
    head = ["BEGIN:VCALENDAR", "METHOD:REPLY", "VERSION:2.0", "PRODID:-//Mailboxes//EN"]
    who = f"ATTENDEE;PARTSTAT={says}:mailto:{address}"
    body = [*head, "BEGIN:VEVENT", *kept, who, "END:VEVENT", "END:VCALENDAR", ""]
    return "\r\n".join(body)


def _report(letter: Letter, address: str) -> bytes:
    """A delivery report (RFC 3464): the address takes no mail any more."""
    domain = address.rpartition("@")[2]
    return "\r\n".join(
        [
            f"From: Mail server <postmaster@{domain}>",
            f"To: {parseaddr(letter.sender)[1]}",
            "Subject: It could not be delivered",
            f"Date: {formatdate()}",
            f"Message-ID: {make_msgid(domain=domain)}",
            "Auto-Submitted: auto-replied",
            "MIME-Version: 1.0",
            'Content-Type: multipart/report; report-type=delivery-status; boundary="part"',
            "",
            "--part",
            "",
            f"Your mail to {address} could not be delivered.",
            "--part",
            "Content-Type: message/delivery-status",
            "",
            f"Reporting-MTA: dns; {domain}",
            "",
            f"Final-Recipient: rfc822; {address}",
            "Action: failed",
            "Status: 5.1.1",
            "Diagnostic-Code: smtp; 550 There is no such mailbox any more",
            "",
            "--part",
            "Content-Type: text/rfc822-headers",
            "",
            f"Message-ID: {letter.message_id}",
            "",
            "--part--",
            "",
        ]
    ).encode()
