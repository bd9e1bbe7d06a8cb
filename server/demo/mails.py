"""The demo's mails: quotes that went out, and what customers wrote back, as it came into the house's mailbox."""

from dataclasses import dataclass
from datetime import datetime, time, timedelta
from email.message import EmailMessage
from email.utils import format_datetime, formataddr

from django.conf import settings
from django.utils import timezone

from apps.customers.models import Contact, Customer
from apps.mail.about import about_of, values_of
from apps.mail.flows import Person, Written, write_mail
from apps.mail.mailboxes import house_user
from apps.mail.models import SENT, Mailbox, Message, Received
from apps.mail.receiving import take
from apps.mail.wordings import words_for
from apps.people.models import User
from apps.quotes.models import Revision
from routecore.mailing import filled

#: When: days ago, at which hour.
When = tuple[int, time]
#: Quotes that were sent by mail: the deal, when.
OUT: tuple[tuple[str, When], ...] = (
    ("Posts and wire for 6 ha", (26, time(10, 12))),
    ("Drip irrigation, 11 ha", (12, time(16, 40))),
    ("New frost line, north field", (6, time(11, 5))),
    ("Secateurs and saws for all sites", (5, time(9, 30))),
    ("Hail net for the old orchard", (2, time(15, 20))),
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Came:
    """What a customer wrote: in answer to the quote of a deal, or by themselves; ``answer``: what was written back, and
    when. ``machine``: it was written by one. ``markup``: the
    same, laid out."""

    customer: str
    when: When
    words: str
    deal: str = ""
    subject: str = ""
    answer: tuple[When, str] | None = None
    markup: str = ""
    machine: bool = False


CAME = (
    Came(
        customer="Stonebeck Farm",
        deal="Posts and wire for 6 ha",
        when=(26, time(10, 13)),
        words="I am at the growers' fair until Friday and read no mail. It will be answered next week.",
        machine=True,
    ),
    Came(
        customer="Hazelmoor Orchards",
        deal="New frost line, north field",
        when=(3, time(18, 47)),
        words=(
            "Dear Ilse,\n\nthank you. Jory asks whether the crystal net would do as well as the black one: could you "
            "put both into the quote? And please offer the start-up visit on its own, we may do that ourselves.\n\n"
            "Kind regards\nMaren Holt"
        ),
        answer=(
            (2, time(8, 15)),
            "Dear Maren,\n\nboth nets will do at your distances. I put the crystal one beside the black one, and the "
            "visit to be had or left; you get the new revision before the weekend.\n\nKind regards\nIlse Brandvold",
        ),
    ),
    Came(
        customer="Dunmere Estate",
        deal="Drip irrigation, 11 ha",
        when=(1, time(10, 26)),
        words=(
            "Good morning,\n\nthe board has seen your quote. The price is too high for us as it stands: could you do "
            "it for 5 % less if we order all eleven hectares at once?\n\nBest wishes\nRafe Sollis"
        ),
        markup=(
            "<p>Good morning,</p><p>the board has seen your quote. The price is too high for us as it stands: could you "
            "do it for 5&nbsp;% less if we order <b>all eleven hectares</b> at once?</p>"
            "<table border=1><tr><th>Block<th>Hectares<th>Planted<tr><td>East slope<td>4.5<td>2019"
            "<tr><td>Mill field<td>6.5<td>2027</table><p>Best wishes<br>Rafe Sollis</p>"
            "<img src='https://dunmereestate.example/arms.png' alt='Dunmere Estate' width=120>"
        ),
    ),
    Came(
        customer="Lindqvist Bär AG",
        subject="Anfrage Hagelnetz",
        when=(2, time(13, 2)),
        words=(
            "Guten Tag,\n\nfür die drei Felder brauchen wir 24 Rollen Hagelnetz schwarz und 30 Beutel Netzklammern, "
            "dazu zwei Tage Montage. Liefern Sie Anfang März?\n\nFreundliche Grüsse\nKaspar Lindqvist"
        ),
    ),
    Came(
        customer="Two Elms Fruit",
        subject="For the lower block",
        when=(1, time(17, 8)),
        words=(
            "Hello Ilse,\n\nfor the lower block please quote us\n- forty chestnut posts 2.50 m\n- 6 rolls of the "
            "2.5 mm wire\n- 20 anchors\nWe are 14 guests in the yard on Saturday, so not before Monday.\n\n"
            "Thanks\nSunniva"
        ),
    ),
)


def make_mails(now: datetime) -> None:
    """Through the same flows as at work: what went out is written and sent, what came is read like any other mail."""
    sent = {deal: _sent(deal, _at(when, now)) for deal, when in OUT}
    box, _ = Mailbox.objects.get_or_create(name=house_user())
    for n, each in enumerate(sorted(CAME, key=lambda row: _at(row.when, now)), start=1):
        at = _at(each.when, now)
        raw = _mail(each, n, sent.get(each.deal), at).as_bytes()
        kept = take(box.pk, box.uid_validity, n, raw, now=at)
        assert kept is not None, each.customer
        if each.answer:
            _answer(kept, each.answer[1], _at(each.answer[0], now))


def _at(when: When, now: datetime) -> datetime:
    days, hour = when
    day = timezone.localdate(now) - timedelta(days=days)
    return timezone.make_aware(datetime.combine(day, hour))


def _sent(deal: str, at: datetime) -> Message:
    """The first revision of a deal's quote, to the contact of the deal."""
    revision = Revision.objects.filter(quote__deal__title=deal).earliest("pk")
    rep = revision.quote.owner
    about = about_of(rep, "quote", revision.pk)
    contact = about.contact or _first_contact(about.customer)
    words = words_for(rep, "quote", about.language.code)
    values = values_of(rep, about, contact.name)
    subject, body = filled(words.subject, values), filled(words.body, values)
    to = [Person(name=contact.name, address=contact.email)]
    written = Written(to=to, subject=subject, body=body, contact_id=contact.pk)
    return _gone(write_mail(rep, about, written, now=at), at)


def _answer(came: Received, body: str, at: datetime) -> None:
    assert came.revision and came.contact
    rep: User = came.revision.quote.owner
    about = about_of(rep, "quote", came.revision.pk)
    to = [Person(name=came.contact.name, address=came.contact.email)]
    written = Written(
        to=to, subject=came.subject, body=body, contact_id=came.contact.pk, answering=came.pk
    )
    _gone(write_mail(rep, about, written, now=at), at)


def _gone(message: Message, at: datetime) -> Message:
    """It left in the moment in which it was written."""
    Message.objects.filter(pk=message.pk).update(state=SENT, sent_at=at, created_at=at)
    return message


def _mail(each: Came, n: int, answered: Message | None, at: datetime) -> EmailMessage:
    contact = _first_contact(Customer.objects.get(name=each.customer))
    mail = EmailMessage()
    mail["From"] = formataddr((contact.name, contact.email))
    mail["To"] = settings.MAIL_FROM
    mail["Subject"] = f"Re: {answered.subject}" if answered else each.subject
    mail["Date"] = format_datetime(at)
    mail["Message-ID"] = f"<{n}@{contact.email.rpartition('@')[2]}>"
    if answered:
        mail["In-Reply-To"] = answered.message_id
    if each.machine:
        mail["Auto-Submitted"] = "auto-replied"
    mail.set_content(each.words)
    if each.markup:
        mail.add_alternative(each.markup, subtype="html")
    return mail


def _first_contact(customer: Customer) -> Contact:
    return customer.contacts.exclude(email="").order_by("pk")[0]
