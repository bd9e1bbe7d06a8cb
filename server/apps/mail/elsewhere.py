"""What a person of the house sent with another program: found in the folder of what they sent, kept where it went to a
contact whom they see. Only who opens the mailbox lays anything there; what merely claims to be from the house is not
believed (``receiving``)."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import partial
import hashlib

from django.conf import settings
from django.db import transaction
from django.utils import timezone

from apps.customers.models import Contact, Customer
from apps.files.store import put
from apps.mail.flows import settle_answered
from apps.mail.imap import ImapBox, Line, MailboxFault
from apps.mail.known import contact_of, kept_or_passed, our_mails, quote_named, readable
from apps.mail.models import SENT, Attachment, Mailbox, Message, Received
from apps.people.access import owned
from routecore.arriving import MOST_BYTES, Mail, Person, answered

#: People of one mail that are looked at and kept; what its columns hold.
MOST_PEOPLE, LONGEST_ID, LONGEST_SUBJECT, LONGEST_NAME = 50, 120, 200, 120


def find_sent(row: Mailbox, line: Line) -> None:
    """Note the folder of what its person sent, once there is one."""
    name = line.sent_folder()[:254]
    if name:
        Mailbox.objects.filter(pk=row.pk).update(sent_name=name)


def look_through(
    row: Mailbox, box: ImapBox, clock: Callable[[], datetime], most: int
) -> tuple[int, str]:
    """Read what is new in the folder: how many mails were looked at, and what could not be kept. Raises
    ``MailboxFault``; a folder that is not there any more is looked for again."""
    seen, fault = 0, ""
    # The server's day may have begun later than ours; the moment itself is looked at in each mail.
    since = timezone.localdate(row.since) - timedelta(days=1)
    try:
        with box.open() as line:
            after = row.sent_uid if row.sent_validity == line.validity else 0
            for uid, size in line.after(after, most, since):
                raw = line.content(uid) if size <= MOST_BYTES else None
                taken = partial(take_sent, row.pk, line.validity, uid, now=clock())
                fault = kept_or_passed(taken, raw, f"sent mail {uid}") or fault
                seen += 1
    except MailboxFault:
        Mailbox.objects.filter(pk=row.pk).update(sent_name="")
        raise
    return seen, fault


@transaction.atomic
def take_sent(
    mailbox: int, validity: int, uid: int, raw: bytes | None, *, now: datetime
) -> Message | None:
    """Look at one mail, once: what was kept of it, None where it leaves no trace here."""
    box = Mailbox.objects.select_for_update().get(pk=mailbox)
    if box.sent_validity == validity and uid <= box.sent_uid:
        return None
    box.sent_validity, box.sent_uid = validity, uid
    box.save(update_fields=["sent_validity", "sent_uid"])
    mail = readable(raw)
    if mail is None or raw is None or mail.automatic or not _by_its_person(box, mail):
        return None
    written = min(mail.at or now, now)
    # A mail tells whole seconds (RFC 5322, 3.3).
    if written < box.since.replace(microsecond=0):
        return None
    mark = mail.message_id
    if not mark or len(mark) > LONGEST_ID:
        mark = f"<{hashlib.sha256(raw).hexdigest()}@{settings.MAIL_FROM.rpartition('@')[2]}>"
    if Message.objects.filter(message_id=mark).exists():
        return None
    return _keep(box, mark[:LONGEST_ID], mail, written, now)


def _by_its_person(box: Mailbox, mail: Mail) -> bool:
    """Under their own address, or the house's."""
    theirs = {box.name.lower(), settings.MAIL_FROM.lower()}
    if box.owner:
        theirs.add(box.owner.email.lower())
    return mail.sender is not None and mail.sender.address in theirs


@dataclass(frozen=True, slots=True, kw_only=True)
class _With:
    """With whom a mail is: the customer, the contact of theirs where one is known, the mail that it answers or goes on
    from."""

    customer: Customer
    contact: Contact | None
    came: Received | None
    before: Message | None


def _with_whom(box: Mailbox, mail: Mail) -> _With | None:
    """None where it went to nobody of a customer whom its person sees."""
    people = {each.address for each in (*mail.to, *mail.copies)[:MOST_PEOPLE]}
    came = _answered(box, mail)
    before = _ours_before(box, mail)
    customer = came.customer if came else before.customer if before else None
    contact = contact_of(box, people, customer)
    customer = customer or (contact.customer if contact else None)
    if customer is None or (contact is None and not (came and came.sender in people)):
        return None
    return _With(customer=customer, contact=contact, came=came, before=before)


def _keep(box: Mailbox, mark: str, mail: Mail, written: datetime, now: datetime) -> Message | None:
    assert box.owner and mail.sender
    found = _with_whom(box, mail)
    if found is None:
        return None
    about = found.came or found.before
    revision = about.revision if about else quote_named(mail.subject, found.customer)
    kept = Message.objects.create(
        message_id=mark,
        who=box.owner,
        sender_name=mail.sender.name[:LONGEST_NAME],
        sender=mail.sender.address,
        to=_named(mail.to),
        copies=_named(mail.copies),
        subject=mail.subject[:LONGEST_SUBJECT],
        body=mail.text,
        customer=found.customer,
        contact=found.contact,
        deal=about.deal if about else revision.quote.deal if revision else None,
        revision=revision,
        order=about.order if about else None,
        invoice=about.invoice if about else None,
        in_answer_to=found.came,
        state=SENT,
        elsewhere=True,
        sent_at=written,
        next_try_at=written,
    )
    Message.objects.filter(pk=kept.pk).update(created_at=written)
    _keep_files(kept, mail)
    if found.came:
        settle_answered(found.came, box.owner, now)
    return kept


def _answered(box: Mailbox, mail: Mail) -> Received | None:
    """The customer's mail that it answers, where its person sees that customer: of several the nearest."""
    assert box.owner
    seen = Received.objects.filter(owned(box.owner, "customer__owner"), mark__in=mail.answers)
    with_them = seen.select_related("customer", "deal", "revision", "order", "invoice")
    rows = {row.mark: row for row in with_them}
    return rows.get(answered(mail, rows))


def _ours_before(box: Mailbox, mail: Mail) -> Message | None:
    """The mail of ours that it goes on from."""
    assert box.owner
    rows = {
        row.message_id: row for row in our_mails(mail).filter(owned(box.owner, "customer__owner"))
    }
    return rows.get(answered(mail, rows))


def _named(people: Sequence[Person]) -> list[dict[str, str]]:
    return [
        {"name": each.name[:LONGEST_NAME], "address": each.address} for each in people[:MOST_PEOPLE]
    ]


def _keep_files(kept: Message, mail: Mail) -> None:
    Attachment.objects.bulk_create(
        Attachment(
            message=kept,
            name=file.name,
            media_type=file.media_type,
            size=len(file.content),
            digest=put(file.content),
        )
        for file in mail.files
    )
