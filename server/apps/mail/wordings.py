"""The words that a mail begins with: what the product ships with, the house's editions, one's own."""

from dataclasses import dataclass

from django.db import transaction

from apps.errors import Forbidden, Invalid
from apps.mail.models import Signature, Wording
from apps.people.access import sells
from apps.people.models import ADMIN, User
from routecore.mailing import fields_of

KINDS = ("quote", "reminder", "order", "invoice", "visit", "free")
#: What a text may name, by kind; the first are of every mail.
ALWAYS = ("contact", "customer", "sender", "house", "phone")
FIELDS = {
    "quote": (*ALWAYS, "number", "total", "valid_until", "reference"),
    "reminder": (*ALWAYS, "number", "total", "valid_until", "reference"),
    "order": (*ALWAYS, "number", "total", "reference"),
    "invoice": (*ALWAYS, "number", "total", "due_on"),
    "visit": (*ALWAYS, "when", "where", "about"),
    "free": ALWAYS,
}
LONGEST = 10_000
#: So many editions are told.
EDITIONS = 30

_EN = {
    "quote": (
        "Quote {number} for {customer}",
        "Dear {contact},\n\nenclosed is our quote {number} over {total}. It holds until {valid_until}.\n\n"
        "If anything should be otherwise, a reply to this mail is enough.\n\nKind regards\n{sender}\n{house}",
    ),
    "reminder": (
        "Our quote {number} holds until {valid_until}",
        "Dear {contact},\n\nour quote {number} over {total} holds until {valid_until}; it is enclosed once more.\n\n"
        "Shall we go ahead, or should anything be otherwise? A short reply is enough.\n\nKind regards\n{sender}\n{house}",
    ),
    "order": (
        "Order {number}",
        "Dear {contact},\n\nthank you for your order. Our confirmation {number} over {total} is enclosed.\n\n"
        "Kind regards\n{sender}\n{house}",
    ),
    "invoice": (
        "Invoice {number}",
        "Dear {contact},\n\nenclosed is our invoice {number} over {total}, due on {due_on}.\n\n"
        "Kind regards\n{sender}\n{house}",
    ),
    "visit": (
        "Visit on {when}",
        "Dear {contact},\n\nI would like to visit you on {when}, {where}.\n\nWhat it is about: {about}\n\n"
        "The invitation is enclosed. If another day suits you better, a reply is enough.\n\nKind regards\n{sender}\n{house}",
    ),
    "free": ("", "Dear {contact},\n\n\n\nKind regards\n{sender}\n{house}"),
}
_DE = {
    "quote": (
        "Angebot {number} für {customer}",
        "Guten Tag {contact},\n\nanbei unser Angebot {number} über {total}. Es gilt bis {valid_until}.\n\n"
        "Soll etwas anders sein, genügt eine Antwort auf diese Mail.\n\nFreundliche Grüße\n{sender}\n{house}",
    ),
    "reminder": (
        "Unser Angebot {number} gilt bis {valid_until}",
        "Guten Tag {contact},\n\nunser Angebot {number} über {total} gilt bis {valid_until}; es liegt noch einmal bei.\n\n"
        "Dürfen wir es ausführen, oder soll etwas anders sein? Eine kurze Antwort genügt.\n\nFreundliche Grüße\n{sender}\n{house}",
    ),
    "order": (
        "Auftrag {number}",
        "Guten Tag {contact},\n\ndanke für Ihren Auftrag. Unsere Bestätigung {number} über {total} liegt bei.\n\n"
        "Freundliche Grüße\n{sender}\n{house}",
    ),
    "invoice": (
        "Rechnung {number}",
        "Guten Tag {contact},\n\nanbei unsere Rechnung {number} über {total}, fällig am {due_on}.\n\n"
        "Freundliche Grüße\n{sender}\n{house}",
    ),
    "visit": (
        "Besuch am {when}",
        "Guten Tag {contact},\n\nich würde Sie gern am {when} besuchen, {where}.\n\nWorum es geht: {about}\n\n"
        "Die Einladung liegt bei. Passt ein anderer Tag besser, genügt eine Antwort.\n\nFreundliche Grüße\n{sender}\n{house}",
    ),
    "free": ("", "Guten Tag {contact},\n\n\n\nFreundliche Grüße\n{sender}\n{house}"),
}
#: What stands above the words that an answer repeats.
WROTE = {"en": "On {day}, {who} wrote:", "de": "Am {day} schrieb {who}:"}
SHIPPED = {"en": _EN, "de": _DE}


@dataclass(frozen=True, slots=True, kw_only=True)
class Words:
    """A subject and a body with fields; ``whose`` they are: ``own``, ``house`` or ``shipped``."""

    subject: str
    body: str
    whose: str


def words_for(who: User, kind: str, language: str) -> Words:
    """What a mail of this kind begins with: one's own, else the house's, else what ships. One query."""
    rows = Wording.objects.filter(kind=kind, language=language, owner__isnull=True)
    rows |= Wording.objects.filter(kind=kind, language=language, owner=who)
    newest: dict[str, Wording] = {}
    for row in rows.order_by("pk"):
        newest["own" if row.owner_id else "house"] = row
    for whose in ("own", "house"):
        found = newest.get(whose)
        if found and found.body:
            return Words(subject=found.subject, body=found.body, whose=whose)
    subject, body = SHIPPED.get(language, _EN)[kind]
    return Words(subject=subject, body=body, whose="shipped")


def editions_of(who: User, kind: str, language: str) -> list[Wording]:
    """The editions that this person keeps, the newest first: an administrator the house's, everybody else their own;
    ``EDITIONS`` at most. One without a body took them back. One query."""
    sells(who)
    owner = None if who.role == ADMIN else who
    rows = Wording.objects.filter(kind=kind, language=language, owner=owner)
    return list(rows.select_related("by").order_by("-pk")[:EDITIONS])


def refuse_unknown_fields(kind: str, subject: str, body: str) -> None:
    """Raise ``Invalid`` for a field that a mail of this kind does not know."""
    for path, text in (("subject", subject), ("body", body)):
        unknown = [name for name in fields_of(text) if name not in FIELDS[kind]]
        if unknown:
            allowed = ", ".join(f"{{{name}}}" for name in FIELDS[kind])
            raise Invalid("unknown", path=path, facts={"what": "facts", "allowed": allowed})


@transaction.atomic
def keep_wording(
    who: User, kind: str, language: str, *, subject: str, body: str, own: bool
) -> Wording:
    """Another edition of the words; without a body they are taken back. The house's are an administrator's to keep."""
    sells(who)
    if not own and who.role != ADMIN:
        raise Forbidden("not_for_role", facts={"what": "papers"})
    if kind not in KINDS or language not in SHIPPED:
        raise Invalid("unknown_choice", path="kind", facts={"value": f"{kind} {language}"})
    subject = " ".join(subject.split())
    refuse_unknown_fields(kind, subject, body)
    return Wording.objects.create(
        kind=kind,
        language=language,
        owner=who if own else None,
        subject=subject[:200],
        body=body[:LONGEST].strip(),
        by=who,
    )


def signature_of(who: User) -> str:
    """What this person's mails end with. One query."""
    found = Signature.objects.filter(person=who).first()
    return found.text if found else ""


def keep_signature(who: User, text: str) -> str:
    """End one's mails with this."""
    sells(who)
    Signature.objects.update_or_create(person=who, defaults={"text": text.strip()[:1000]})
    return signature_of(who)
