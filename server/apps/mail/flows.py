"""Writing a mail into the outbox, taking one out of it, and what becomes of it."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta

from django.conf import settings
from django.db import transaction
from django.db.models import QuerySet

from apps.diary.flows import Noted, add_activity
from apps.diary.invitations import note_invited
from apps.diary.models import FOLLOW_UP
from apps.errors import Invalid, Refused, check_version
from apps.files.store import put
from apps.mail.about import About, Paper
from apps.mail.models import (
    HANDING,
    LET_GO,
    REFUSED,
    SENT,
    STUCK,
    UNDER_WAY,
    UNKNOWN,
    WAITING,
    Attachment,
    Message,
    Received,
)
from apps.mail.transport import Outcome
from apps.people.access import owned, pick, pick_locked, sells
from apps.people.models import User
from routecore.mailing import unfilled

#: To so many people at most; attachments of so many bytes together.
MOST_PEOPLE, MOST_BYTES = 20, 10_000_000
#: How long a worker may take over one; after so many tries a person is asked.
LEASE, MOST_TRIES = timedelta(minutes=3), 12


@dataclass(frozen=True, slots=True, kw_only=True)
class Person:
    """Somebody a mail goes to."""

    name: str
    address: str


@dataclass(frozen=True, slots=True, kw_only=True)
class FollowUp:
    """What is asked for with a mail: a follow-up on a day, one's own or a colleague's."""

    text: str
    due_on: date
    owner_id: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Written:
    """A mail as a person wrote it; ``papers`` are the keys of what goes along, ``answering`` is the mail it answers."""

    to: Sequence[Person]
    subject: str
    body: str
    copies: Sequence[Person] = ()
    copy_to_self: bool = False
    papers: Sequence[str] = ()
    contact_id: int | None = None
    answering: int | None = None
    follow_up: FollowUp | None = field(default=None)


def write_mail(who: User, about: About, written: Written, *, now: datetime) -> Message:
    """Put a mail into the outbox, with what goes along, and note its follow-up; all or nothing.

    Papers are made before the transaction; a cut in between leaves contents that nobody names.
    """
    sells(who)
    _refuse_unready(written)
    people = [(row.name, row.address) for row in written.to]
    contents = [
        (paper, paper.make(people))
        for key in dict.fromkeys(written.papers)
        for paper in [_paper(about, key)]
    ]
    if sum(len(body) for _, body in contents) > MOST_BYTES:
        raise Invalid("too_big", path="papers")
    kept = [(paper, len(body), put(body)) for paper, body in contents]
    with transaction.atomic():
        message = _message(who, about, written, now)
        if written.answering is not None:
            _answers(message, written.answering, now)
        Attachment.objects.bulk_create(
            Attachment(
                message=message,
                name=paper.name,
                media_type=paper.media_type,
                size=size,
                digest=digest,
            )
            for paper, size, digest in kept
        )
        if written.follow_up:
            _follow_up(who, about, written.follow_up)
        if about.visit and contents:
            note_invited(about.visit, people, now)
    return message


def _paper(about: About, key: str) -> Paper:
    for paper in about.papers:
        if paper.key == key:
            return paper
    raise Invalid("unknown_choice", path="papers", facts={"value": key})


def _refuse_unready(written: Written) -> None:
    """Raise ``Invalid`` for a mail to nobody, about nothing, or with a field that is still open."""
    if not written.to:
        raise Invalid("required", path="to")
    if len(written.to) + len(written.copies) > MOST_PEOPLE:
        raise Invalid("too_many", path="to", facts={"what": "people_of_mail", "most": MOST_PEOPLE})
    for path, text in (("subject", written.subject), ("body", written.body)):
        if not text.strip():
            raise Invalid("required", path=path)
        if unfilled(text):
            raise Invalid("still_open_field", path=path, facts={"fields": list(unfilled(text))})


def _message(who: User, about: About, written: Written, now: datetime) -> Message:
    contact = about.contact
    if written.contact_id is not None:
        contact = pick(about.customer.contacts.all(), written.contact_id, "contact")
    message = Message(
        who=who,
        sender_name=who.name,
        sender=settings.MAIL_FROM,
        # Where the house's mailbox is read, answers come there.
        reply_to="" if settings.IMAP_HOST or who.email == settings.MAIL_FROM else who.email,
        to=_people(written.to),
        copies=_people(written.copies),
        hidden_copy=(who.email or settings.MAIL_FROM) if written.copy_to_self else "",
        subject=" ".join(written.subject.split())[:200],
        body=written.body.replace("\r\n", "\n").rstrip(),
        customer=about.customer,
        contact=contact,
        deal=about.deal,
        revision=about.revision,
        order=about.order,
        invoice=about.invoice,
        next_try_at=now,
    )
    message.message_id = f"<{message.key}@{settings.MAIL_FROM.rpartition('@')[2]}>"
    message.save()
    return message


def arrived_of(who: User) -> QuerySet[Received]:
    """Mails of the customers that this person sees."""
    return Received.objects.filter(owned(who, "customer__owner"))


def _answers(message: Message, arrived: int, now: datetime) -> None:
    """The mail answers one of the same customer, which waits no longer."""
    rows = arrived_of(message.who).filter(customer=message.customer)
    row = pick_locked(rows, arrived, "mail")
    message.in_answer_to = row
    message.save(update_fields=["in_answer_to"])
    _settle(row, message.who, now)


def settle_answered(came: Received, who: User, now: datetime) -> None:
    """It was answered with another program: it waits no longer, in whichever mailbox it came.

    Runs inside the transaction of what keeps the answer.
    """
    rows = Received.objects.select_for_update().filter(mark=came.mark, customer=came.customer_id)
    for row in rows.filter(settled_at=None):
        _settle(row, who, now)


def _settle(row: Received, who: User | None, at: datetime | None) -> None:
    row.settled_at, row.settled_by = at, who
    row.version += 1
    row.save(update_fields=["settled_at", "settled_by", "version"])


@transaction.atomic
def say_whether_it_waits(
    who: User, arrived: int, version: int, *, waits: bool, now: datetime
) -> Received:
    """A person says that a mail needs no answer, or that it waits for one after all."""
    sells(who)
    row = pick_locked(arrived_of(who), arrived, "mail")
    check_version(row.version, version, "mail")
    if (row.settled_at is None) != waits:
        _settle(row, None if waits else who, None if waits else now)
    return row


def _people(rows: Iterable[Person]) -> list[dict[str, str]]:
    return [{"name": " ".join(row.name.split()), "address": row.address} for row in rows]


def _follow_up(who: User, about: About, asked: FollowUp) -> None:
    add_activity(
        who,
        Noted(
            kind=FOLLOW_UP,
            text=asked.text,
            deal_id=about.deal.pk if about.deal else None,
            customer_id=about.customer.pk,
            due_on=asked.due_on,
            owner_id=asked.owner_id,
            asks=about.revision is not None,
        ),
        at=about.document,
    )


@transaction.atomic
def claim_next(now: datetime) -> Message | None:
    """Take the next mail that is due, for this worker alone.

    One whose worker died before its words were with the server is free again; after that nobody knows, and a person
    is asked.
    """
    lost = Message.objects.select_for_update(skip_locked=True).filter(leased_until__lt=now)
    for row in lost.filter(state=HANDING):
        row.state, row.leased_until = UNKNOWN, None
        row.said = "the worker ended while the server had it"
        row.version += 1
        row.save()
    rows = Message.objects.select_for_update(skip_locked=True).order_by("next_try_at", "pk")
    entry = rows.filter(state=WAITING, next_try_at__lte=now).first()
    entry = entry or rows.filter(state=UNDER_WAY, leased_until__lt=now).first()
    if entry is None:
        return None
    entry.state, entry.leased_until, entry.tries = UNDER_WAY, now + LEASE, entry.tries + 1
    entry.save(update_fields=["state", "leased_until", "tries"])
    return entry


def note_handing(pk: int) -> None:
    """The server is about to get the last line: from here on a cut leaves it unknown."""
    Message.objects.filter(pk=pk, state=UNDER_WAY).update(state=HANDING)


@transaction.atomic
def settle(pk: int, outcome: Outcome, *, now: datetime) -> Message:
    """What became of a try; tried again after ever longer pauses, and given to a person after ``MOST_TRIES``."""
    row = Message.objects.select_for_update().get(pk=pk)
    if row.state not in (UNDER_WAY, HANDING):
        return row  # a person, or another worker after the lease, has settled it
    state = outcome.state
    if state == WAITING and row.tries >= MOST_TRIES:
        state = REFUSED
    row.state, row.said, row.leased_until = state, outcome.said[:300], None
    row.version += 1
    if state == SENT:
        row.sent_at = now
    if state == WAITING:
        row.next_try_at = now + timedelta(seconds=min(5 * 2**row.tries, 3600))
    row.save()
    return row


@transaction.atomic
def decide(who: User, message_id: int, version: int, what: str, *, now: datetime) -> Message:
    """A person says what becomes of a mail that was refused or of which nobody knows: it went out (``sent``), it is
    sent ``again`` under the same Message-ID, or it is let ``go``; one that waits may be let go as well."""
    sells(who)
    row = pick_locked(Message.objects.filter(owned(who, "customer__owner")), message_id, "mail")
    check_version(row.version, version, "mail")
    if row.state not in STUCK and not (row.state == WAITING and what == "go"):
        raise Refused("mail_not_stuck")
    if what == "again":
        row.state, row.next_try_at, row.tries = WAITING, now, 0
    elif what == "sent":
        row.state, row.sent_at = SENT, now
    else:
        row.state = LET_GO
    row.settled_by = who
    row.version += 1
    row.save()
    return row
