"""The worker's other part: what came into the house's mailbox is kept where it is a customer's, and left where it is not."""

from collections.abc import Callable
from datetime import datetime, timedelta
from functools import partial
import hashlib
import logging
from typing import Any

from django.db import InterfaceError, OperationalError, transaction
from django.utils import timezone

from apps.diary.invitations import take_answer
from apps.diary.models import ACCEPTED
from apps.files.store import put
from apps.mail.elsewhere import find_sent, look_through
from apps.mail.imap import ImapBox, Line, MailboxFault
from apps.mail.known import (
    contact_of,
    is_ours,
    kept_or_passed,
    our_mails,
    quote_named,
    readable,
)
from apps.mail.mailboxes import Reader
from apps.mail.models import (
    AS_CONTACT,
    AS_LEAD,
    BOUNCED,
    SENT,
    Mailbox,
    Message,
    Received,
    ReceivedFile,
    Stranger,
)
from apps.mail.showing import layout_of
from apps.mail.strangers import lead_of, note_on, note_stranger
from apps.quotes.models import Revision
from routecore.arriving import MOST_BYTES, MOST_REFERENCES, Mail, Report, answered
from routecore.reading.answers import AWAY, NOTHING, read_answer

log = logging.getLogger("vivid.mail")
#: Mails that are looked at before the worker turns to other work; how often it looks.
MOST_A_ROUND, EVERY = 20, timedelta(seconds=5)
#: A mailbox that cannot be read is asked again after this: each time costs the worker up to ten seconds.
AFTER_FAULT = timedelta(minutes=1)
#: Signs that are kept of the sentence that says it, and of the buyer's order number.
LONGEST_SENTENCE, LONGEST_NUMBER = 400, 60
#: So many calendars that came along are looked at.
MOST_CALENDARS = 2


def look_round(reader: Reader, clock: Callable[[], datetime]) -> int:
    """Read what is new in every mailbox; how many mails were looked at."""
    return sum(look_in(row, box, clock, reader.sent_of(row, box)) for row, box in reader.boxes())


def look_in(
    row: Mailbox, box: ImapBox, clock: Callable[[], datetime], sent: ImapBox | None = None
) -> int:
    """Read what is new in one, unless it was looked at just now; how many mails were looked at. ``sent``: the folder of
    what its person sent.

    What cannot be read stays, and the mailbox says why: the next look begins where this one ended.
    """
    pause = AFTER_FAULT if row.fault else EVERY
    if row.looked_at and clock() - row.looked_at < pause:
        return 0
    seen, fault = 0, ""
    try:
        with box.open() as line:
            after = row.last_uid if row.uid_validity == line.validity else 0
            for uid, size in line.after(after, MOST_A_ROUND):
                raw = line.content(uid) if size <= MOST_BYTES else None
                taken = partial(take, row.pk, line.validity, uid, now=clock())
                fault = kept_or_passed(taken, raw, f"mail {uid}") or fault
                seen += 1
            while seen < MOST_A_ROUND and _fetch_or_pass(row.pk, line, now=clock()):
                seen += 1
            if row.owner_id and not row.sent_name:
                find_sent(row, line)
        if sent:
            looked_through, wrong = look_through(row, sent, clock, MOST_A_ROUND)
            seen, fault = seen + looked_through, wrong or fault
    except MailboxFault as error:
        fault = str(error)[:300]
        log.warning("mailbox %s: %s", box.user, fault)
    # A round that was full is followed by the next one at once.
    looked = None if seen >= MOST_A_ROUND else clock()
    Mailbox.objects.filter(pk=row.pk).update(looked_at=looked, fault=fault)
    return seen


@transaction.atomic
def take(
    mailbox: int, validity: int, uid: int, raw: bytes | None, *, now: datetime
) -> Received | None:
    """Look at one mail, once: what was kept of it, None where it stays where it is and leaves no trace here.

    ``raw`` is None for one that is too large to be read.
    """
    box = Mailbox.objects.select_for_update().get(pk=mailbox)
    if box.uid_validity == validity and uid <= box.last_uid:
        return None
    box.uid_validity, box.last_uid = validity, uid
    box.save(update_fields=["uid_validity", "last_uid"])
    mail = readable(raw)
    if mail is None or raw is None:
        return None
    if mail.report:
        note_report(mail.report)
        return None
    return _keep_once(box, raw, mail, now)


def _keep_once(box: Mailbox, raw: bytes, mail: Mail, now: datetime) -> Received | None:
    mark = mail.message_id or hashlib.sha256(raw).hexdigest()
    if Received.objects.filter(mailbox=box, mark=mark).exists():
        return None
    return _keep(box, mark, mail, now)


def _keep(box: Mailbox, mark: str, mail: Mail, now: datetime) -> Received | None:
    if mail.sender is None or is_ours(mail.sender.address):
        return None
    ours = {row.message_id: row for row in our_mails(mail)}
    answers = ours.get(answered(mail, ours))
    contact = contact_of(box, [mail.sender.address], answers.customer if answers else None)
    customer = answers.customer if answers else contact.customer if contact else None
    if customer is None:
        _not_a_customers(box, mail, now)
        return None
    revision = answers.revision if answers else quote_named(mail.subject, customer)
    deal = answers.deal if answers else revision.quote.deal if revision else None
    kept = Received.objects.create(
        mailbox=box,
        mark=mark,
        sender_name=mail.sender.name[:120],
        sender=mail.sender.address,
        subject=mail.subject,
        text=mail.text,
        **_laid_out(mail.markup),
        thread=list(mail.answers[-MOST_REFERENCES:]),
        automatic=mail.automatic,
        says=_says(mail, revision, now),
        # Nobody waits for an answer to what a machine wrote.
        settled_at=now if mail.automatic else None,
        left_out=mail.left_out,
        # Its writer's clock may be wrong; it was not written after it came.
        written_at=min(mail.at or now, now),
        received_at=now,
        answers=answers,
        customer=customer,
        contact=contact,
        deal=deal,
        revision=revision,
        order=answers.order if answers else None,
        invoice=answers.invoice if answers else None,
    )
    _keep_files(kept, mail)
    _take_answers(kept, mail, now)
    return kept


def _laid_out(markup: str) -> dict[str, str]:
    """The HTML, where it can be shown."""
    layout = layout_of(markup)
    return {"layout": layout, "markup": markup if layout else ""}


def _take_answers(kept: Received, mail: Mail, now: datetime) -> None:
    """What the writer says to an invitation of ours; nobody waits for an answer to a yes."""
    calendars = [file for file in mail.files if file.media_type == "text/calendar"]
    said = {take_answer(file.content, kept.sender, now) for file in calendars[:MOST_CALENDARS]}
    if ACCEPTED in said and kept.settled_at is None:
        kept.settled_at = now
        kept.save(update_fields=["settled_at"])


def _not_a_customers(box: Mailbox, mail: Mail, now: datetime) -> None:
    """A lead's mail stands on the lead; who is nobody's is offered."""
    assert mail.sender is not None
    lead = lead_of(box, mail.sender.address)
    if lead is None:
        note_stranger(box, mail, now=now)
    elif not mail.automatic:
        note_on(lead, lead.owner, mail, now=now)


def _fetch_or_pass(mailbox: int, line: Line, *, now: datetime) -> bool:
    """As ``kept_or_passed``, of those whose mails are fetched."""
    try:
        return fetch_next(mailbox, line, now=now)
    except (OSError, OperationalError, InterfaceError, MailboxFault):
        raise
    except Exception:
        log.exception("a mail of mailbox %s that was fetched could not be kept", mailbox)
        return fetch_next(mailbox, line, now=now, keep=False)


@transaction.atomic
def fetch_next(mailbox: int, line: Line, *, now: datetime, keep: bool = True) -> bool:
    """What one wrote of whom a person has said who they are: their oldest mail is taken in; false where there is none.

    Without ``keep`` it is passed.
    """
    rows = Stranger.objects.select_for_update(skip_locked=True).filter(mailbox=mailbox)
    row = rows.filter(state__in=(AS_CONTACT, AS_LEAD)).order_by("pk").first()
    if row is None:
        return False
    if row.uids and row.uid_validity == line.validity:
        raw = line.content(row.uids[0]) if keep else None
        box = Mailbox.objects.select_for_update().get(pk=mailbox)
        mail = readable(raw)
        if mail and raw and row.lead:
            note_on(row.lead, row.who or row.lead.owner, mail, now=now)
        elif mail and raw:
            _keep_once(box, raw, mail, now)
        row.uids = row.uids[1:]
    else:
        row.uids = []
    if row.uids:
        row.save(update_fields=["uids"])
    else:
        row.delete()
    return True


def _says(mail: Mail, revision: Revision | None, now: datetime) -> dict[str, Any]:
    """What it says to the offer it is about; that its writer is away, also where it is about none."""
    own = [revision.quote.number] if revision else []
    found = read_answer(mail.subject, mail.text, today=timezone.localdate(now), own_numbers=own)
    if found.kind == NOTHING or (revision is None and found.kind != AWAY):
        return {}
    return {
        "kind": found.kind,
        "sentence": found.sentence[:LONGEST_SENTENCE],
        "order_number": found.order_number[:LONGEST_NUMBER],
        "wanted_on": found.wanted_on.isoformat() if found.wanted_on else None,
        "sure": found.sure,
    }


def _keep_files(kept: Received, mail: Mail) -> None:
    ReceivedFile.objects.bulk_create(
        ReceivedFile(
            received=kept,
            name=file.name,
            media_type=file.media_type,
            size=len(file.content),
            digest=put(file.content),
        )
        for file in mail.files
    )


def note_report(report: Report) -> None:
    """A mail of ours did not arrive at somebody it was for: it is told, and a person decides."""
    row = Message.objects.select_for_update().filter(message_id=report.original).first()
    if row is None or row.state != SENT:
        return
    people = {each["address"].lower() for each in [*row.to, *row.copies]}
    failed = [each for each in report.failed if each.address in people]
    if failed:
        row.state = BOUNCED
        row.said = "; ".join(f"{each.address}: {each.status} {each.reason}" for each in failed)[
            :300
        ]
        row.version += 1
        row.save(update_fields=["state", "said", "version"])
