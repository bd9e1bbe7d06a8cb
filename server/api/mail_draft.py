"""How a mail from a record begins: to whom, with which words, with what along; or as an answer to one that came."""

from datetime import date, timedelta
from typing import Any, Literal

from django.conf import settings
from django.http import HttpRequest
from django.utils import timezone
from ninja import Query, Router

from api.schemas import Schema
from api.shapes import Id, today, who
from apps.diary.models import QUOTE, Activity
from apps.mail.about import About, Writes, about_of, values_of
from apps.mail.flows import arrived_of
from apps.mail.models import Received
from apps.mail.wordings import LONGEST, WROTE, signature_of, words_for
from apps.papers.words import Language, language_of
from apps.people.access import pick
from apps.people.models import User
from routecore.arriving import answer_subject, quoted
from routecore.mailing import closed, filled, unfilled
from routecore.reading.letters import fresh

LONGEST_SUBJECT = 200
router = Router(tags=["mail"])


class MailPerson(Schema):
    """Somebody who may get it; ``contact_id`` of a contact."""

    contact_id: int | None
    name: str
    role: str
    address: str


class MailPaper(Schema):
    """A document that may go along, and whether it does by itself."""

    key: str
    name: str
    usual: bool


class MailDraft(Schema):
    """How a mail begins: whom it may go to and whom it does (``chosen``, 0: who wrote and is no contact), its words in
    the buyer's language, what is missing in them, what may go along, the day that is proposed to ask about it, and the
    one on which somebody is to ask already (``planned_on``)."""

    to: list[MailPerson]
    chosen: int | None
    sender: str
    language: str
    subject: str
    body: str
    missing: list[str]
    whose: str
    papers: list[MailPaper]
    own_address: str
    follow_up_on: date | None
    follow_up: str
    planned_on: date | None


class DraftQuery(Schema):
    """Of which record; to which contact, in which language, with which words, where these are not the usual ones;
    ``answers`` is the mail that is answered."""

    kind: Writes
    record: Id
    contact: Id | None = None
    language: Literal["", "en", "de"] = ""
    words: Literal["", "reminder"] = ""
    answers: Id | None = None


def _people(about: About, arrived: Received | None) -> list[MailPerson]:
    """The contacts of the customer, and whoever wrote without being one."""
    found = [
        MailPerson(contact_id=row.pk, name=row.name, role=row.role, address=row.email)
        for row in about.customer.contacts.active().order_by("name", "pk")
        if row.email
    ]
    if arrived and all(row.address.lower() != arrived.sender for row in found):
        found.append(
            MailPerson(contact_id=None, name=arrived.sender_name, role="", address=arrived.sender)
        )
    return found


def _first(
    people: list[MailPerson], about: About, arrived: Received | None, contact: int | None
) -> MailPerson | None:
    """Whom it goes to: who was chosen, else who wrote, else the record's contact, else anybody."""
    wanted = contact or (about.contact.pk if about.contact else None)
    by_contact = next((row for row in people if row.contact_id and row.contact_id == wanted), None)
    if arrived and not contact:
        return next((row for row in people if row.address.lower() == arrived.sender), None)
    return by_contact or (people[0] if people else None)


def _words_of(
    person: User, about: About, asked: DraftQuery, arrived: Received | None
) -> tuple[str, str, str]:
    """Subject, body and whose they are, with fields; an answer has the words of no paper."""
    language = asked.language or about.language.code
    reminds = asked.words == "reminder" and about.kind == "quote"
    kind = "free" if arrived else "reminder" if reminds else about.kind
    words = words_for(person, kind, language)
    return (answer_subject(arrived.subject) if arrived else words.subject), words.body, words.whose


def _with_quoted(body: str, arrived: Received, language: Language) -> str:
    """The body, and under it what is answered: its own words, as much of them as there is room for."""
    day = language.day(timezone.localdate(arrived.written_at))
    writer = arrived.sender_name or arrived.sender
    head = WROTE.get(language.code, WROTE["en"]).format(day=day, who=writer)
    said = closed(quoted(fresh(arrived.text).text))
    return f"{body}\n\n{head}\n{said}"[:LONGEST].rstrip()


@router.get("/mail-draft", response=MailDraft, operation_id="get_mail_draft")
def draft(request: HttpRequest, asked: Query[DraftQuery]) -> MailDraft:
    """How a mail about a record begins. Nothing is stored."""
    person = who(request)
    about = about_of(person, asked.kind, asked.record)
    arrived = None
    if asked.answers is not None:
        rows = arrived_of(person).filter(customer=about.customer)
        arrived = pick(rows, asked.answers, "mail")
    people = _people(about, arrived)
    first = _first(people, about, arrived, asked.contact)
    subject, body, whose = _words_of(person, about, asked, arrived)
    values = values_of(person, about, first.name if first else "")
    subject = subject if arrived else filled(subject, values)
    body = filled(body, values)
    signature = signature_of(person)
    body = f"{body}\n\n-- \n{signature}" if signature else body
    language = language_of(asked.language) if asked.language else about.language
    return MailDraft(
        to=people,
        chosen=(first.contact_id or 0) if first else None,
        sender=f"{person.name} <{settings.MAIL_FROM}>",
        language=language.code,
        subject=subject[:LONGEST_SUBJECT],
        body=_with_quoted(body, arrived, language) if arrived else body,
        missing=list(unfilled(f"{subject}\n{body}")),
        whose=whose,
        papers=[
            MailPaper(key=paper.key, name=paper.name, usual=n == 0 and arrived is None)
            for n, paper in enumerate(about.papers)
        ],
        own_address=person.email,
        **_asked_later(about, answering=arrived is not None),
    )


def _asked_later(about: About, *, answering: bool) -> dict[str, Any]:
    """The day on which one asks about a quote that is sent, in which words, and whether somebody does already."""
    if about.revision is None or answering:
        return {"follow_up_on": None, "follow_up": "", "planned_on": None}
    number = about.values.get("number", "")
    return {
        "follow_up_on": today() + timedelta(days=settings.FOLLOW_UP_DAYS),
        "follow_up": f"Ask about quote {number}",
        "planned_on": _planned(about),
    }


def _planned(about: About) -> date | None:
    """When somebody is to ask about a quote already. One query."""
    if about.revision is None:
        return None
    rows = Activity.objects.filter(
        record=about.revision.quote_id, about=QUOTE, asks=True, done_at=None, due_on__isnull=False
    )
    return rows.order_by("due_on").values_list("due_on", flat=True).first()
