"""Somebody unknown who wrote: offered as a contact where their company is known, else as a lead; a person decides."""

from datetime import datetime
import hashlib

from django.db import transaction
from django.db.models import Q, QuerySet

from apps.customers.flows import add_contact
from apps.customers.models import DOMAIN, Contact, Customer, Mark
from apps.errors import Refused, check_version
from apps.leads.flows import add_lead
from apps.leads.models import OPEN, Lead, LeadNote
from apps.mail.models import AS_CONTACT, AS_LEAD, LET_GO, OFFERED, Mailbox, Stranger
from apps.people.access import owned, pick_locked, sells
from apps.people.models import User
from routecore.arriving import Mail, domain_of
from routecore.reading.letters import fresh

#: Mails of one stranger that are remembered; what a lead's note, name and topic hold.
MOST_MAILS, LONGEST_NOTE, LONGEST_NAME, LONGEST_TOPIC = 20, 1000, 80, 120
#: No address of a person is longer, and no lead keeps one.
LONGEST_ADDRESS = 200


def note_stranger(box: Mailbox, mail: Mail, *, now: datetime) -> None:
    """Somebody unknown wrote: they are offered to those who sell. A machine, and who was let go, leave no trace."""
    sender = mail.sender
    if sender is None or mail.automatic or len(sender.address) > LONGEST_ADDRESS:
        return
    row, _ = Stranger.objects.get_or_create(
        mailbox=box,
        mark=hashlib.sha256(sender.address.encode()).hexdigest(),
        defaults={
            "name": sender.name[:120],
            "address": sender.address,
            "subject": mail.subject,
            "uid_validity": box.uid_validity,
            "wrote_at": now,
            "customer": company_of(sender.address),
        },
    )
    # Somebody may be saying who they are in this very moment.
    row = Stranger.objects.select_for_update().get(pk=row.pk)
    if row.state == LET_GO:
        return
    same = row.uid_validity == box.uid_validity
    row.uids = [*(row.uids if same else []), box.last_uid][-MOST_MAILS:]
    row.uid_validity = box.uid_validity
    if row.state == OFFERED:
        row.subject, row.wrote_at = mail.subject, now
    _keep(row)


def company_of(address: str) -> Customer | None:
    """The one customer whose people write from this domain; None where several do, or none."""
    marks = Mark.objects.filter(kind=DOMAIN, key=domain_of(address)[:80])
    found = list(marks.values_list("customer", flat=True).distinct()[:2])
    return Customer.objects.active().filter(pk=found[0]).first() if len(found) == 1 else None


def lead_of(box: Mailbox, address: str) -> Lead | None:
    """The open lead who writes from this address; in a person's own mailbox none whom that person does not see."""
    seen = owned(box.owner) if box.owner else Q()
    return Lead.objects.filter(seen, email=address, state=OPEN).order_by("-pk").first()


def note_on(lead: Lead, who: User, mail: Mail, *, now: datetime) -> None:
    """A mail stands on the lead as a note: its subject, and its own words as far as there is room."""
    words = "\n".join(line.rstrip() for line in fresh(mail.text).text.strip().splitlines())
    text = f"{mail.subject}\n{words}".strip()[:LONGEST_NOTE]
    if text:
        LeadNote.objects.create(lead=lead, who=who, text=text, at=now)


def strangers_of(who: User) -> QuerySet[Stranger]:
    """Whom this person is offered: who writes from a company of theirs, and who writes from none that is known."""
    return Stranger.objects.filter(_seen(who), state=OFFERED)


def _seen(who: User) -> Q:
    """Who wrote to a person's own mailbox is that person's to know."""
    box = Q(mailbox__owner__isnull=True) | Q(mailbox__owner=who)
    return box & (Q(customer__isnull=True) | owned(who, "customer__owner"))


@transaction.atomic
def take_as_contact(who: User, stranger: int, version: int, *, customer_id: int) -> Contact:
    """They are a contact of this customer; what they wrote is fetched."""
    row = _offered(who, stranger, version)
    made = add_contact(who, customer_id, name=_called(row), email=row.address)
    row.customer_id, row.state, row.who = customer_id, AS_CONTACT, who
    _keep(row)
    return made


@transaction.atomic
def take_as_lead(who: User, stranger: int, version: int) -> Lead:
    """They are a lead of this person's; what they wrote is fetched onto it."""
    row = _offered(who, stranger, version)
    made = add_lead(
        who,
        name=_called(row),
        email=row.address,
        topic=row.subject[:LONGEST_TOPIC],
        source="mail",
    )
    row.lead, row.state, row.who = made, AS_LEAD, who
    _keep(row)
    return made


@transaction.atomic
def let_stranger_go(who: User, stranger: int, version: int) -> None:
    """Nobody of ours: nothing is kept but the mark by which they are not offered again."""
    row = _offered(who, stranger, version)
    row.name = row.address = row.subject = ""
    row.uids, row.customer, row.state = [], None, LET_GO
    _keep(row)


def _called(row: Stranger) -> str:
    return (row.name or row.address)[:LONGEST_NAME]


def _offered(who: User, stranger: int, version: int) -> Stranger:
    sells(who)
    rows = Stranger.objects.filter(_seen(who)).exclude(state=LET_GO)
    row = pick_locked(rows, stranger, "stranger")
    if row.state != OFFERED:
        raise Refused("stranger_taken")
    check_version(row.version, version, "stranger")
    return row


def _keep(row: Stranger) -> None:
    row.version += 1
    row.save()
