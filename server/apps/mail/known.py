"""Whom and what of ours a mail names: its people, the quote in its subject, those of our mails that it answers."""

from collections.abc import Callable, Collection
import logging
import re

from django.conf import settings
from django.db import InterfaceError, OperationalError
from django.db.models import Q, QuerySet

from apps.customers.models import Contact, Customer
from apps.mail.models import Mailbox, Message
from apps.people.access import owned
from apps.people.models import User
from apps.quotes.models import Revision
from routecore.arriving import Mail, read_mail
from routecore.errors import InvalidInput

log = logging.getLogger("vivid.mail")
#: What may be a quote's number in a subject.
_NUMBER = re.compile(r"\b[A-Z]{1,3}-?\d[\w-]{2,20}\b")


def readable(raw: bytes | None) -> Mail | None:
    """The mail taken apart; None for what no person sent."""
    try:
        return read_mail(raw) if raw else None
    except InvalidInput:
        return None


def kept_or_passed(take: Callable[[bytes | None], object], raw: bytes | None, what: str) -> str:
    """Take a mail; one that nothing of ours can keep is passed (taken without its content), so that it does not hold up
    all after it. What went wrong, empty where nothing did.

    What the machine is short of (a disk, the database) is no fault of the mail: it is raised, and tried again.
    """
    try:
        take(raw)
    except (OSError, OperationalError, InterfaceError):
        raise
    except Exception:
        log.exception("%s could not be kept", what)
        take(None)
        return f"{what} could not be kept"
    return ""


def is_ours(address: str) -> bool:
    """Whether it is an address of the house."""
    return address == settings.MAIL_FROM.lower() or User.objects.filter(email=address).exists()


def our_mails(mail: Mail) -> QuerySet[Message]:
    """Those of our mails that it names as what it answers."""
    rows = Message.objects.filter(message_id__in=mail.answers)
    return rows.select_related("customer", "deal", "revision", "order", "invoice")


def contact_of(
    box: Mailbox, addresses: Collection[str], customer: Customer | None
) -> Contact | None:
    """The first whose address is among these: one at ``customer``, where that is known; in a person's own mailbox none
    of customers whom that person does not see. One query."""
    seen = owned(box.owner, "customer__owner") if box.owner else Q()
    rows = Contact.objects.active().filter(seen, email__in=addresses)
    if customer:
        rows = rows.filter(customer=customer)
    return rows.select_related("customer").order_by("pk").first()


def quote_named(subject: str, customer: Customer) -> Revision | None:
    """The newest issued revision of a quote that the subject names by its number."""
    numbers = _NUMBER.findall(subject)[:10]
    rows = Revision.objects.filter(quote__customer=customer, quote__number__in=numbers)
    return rows.exclude(issued_at=None).select_related("quote__deal").order_by("-pk").first()
