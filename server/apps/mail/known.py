"""Whom and what of ours a mail names: its people, the quote in its subject, those of our mails that it answers."""

import re

from django.conf import settings
from django.db.models import Q, QuerySet

from apps.customers.models import Contact, Customer
from apps.mail.models import Mailbox, Message
from apps.people.access import owned
from apps.people.models import User
from apps.quotes.models import Revision
from routecore.arriving import Mail, read_mail
from routecore.errors import InvalidInput

#: Contacts of one address that are looked at.
MOST_OF_ONE = 20
#: What may be a quote's number in a subject.
_NUMBER = re.compile(r"\b[A-Z]{1,3}-?\d[\w-]{2,20}\b")


def readable(raw: bytes | None) -> Mail | None:
    """The mail taken apart; None for what no person sent."""
    try:
        return read_mail(raw) if raw else None
    except InvalidInput:
        return None


def is_ours(address: str) -> bool:
    """Whether it is an address of the house."""
    return address == settings.MAIL_FROM.lower() or User.objects.filter(email=address).exists()


def our_mails(mail: Mail) -> QuerySet[Message]:
    """Those of our mails that it names as what it answers."""
    rows = Message.objects.filter(message_id__in=mail.answers)
    return rows.select_related("customer", "deal", "revision", "order", "invoice")


def contact_of(box: Mailbox, address: str, customer: Customer | None) -> Contact | None:
    """Whose address it is: of several the one at ``customer``, where that is known; in a person's own mailbox none of
    customers whom that person does not see."""
    seen = owned(box.owner, "customer__owner") if box.owner else Q()
    rows = Contact.objects.active().filter(seen, email=address)
    found = list(rows.select_related("customer").order_by("pk")[:MOST_OF_ONE])
    if customer:
        return next((row for row in found if row.customer_id == customer.pk), None)
    return found[0] if found else None


def quote_named(subject: str, customer: Customer) -> Revision | None:
    """The newest issued revision of a quote that the subject names by its number."""
    numbers = _NUMBER.findall(subject)[:10]
    rows = Revision.objects.filter(quote__customer=customer, quote__number__in=numbers)
    return rows.exclude(issued_at=None).select_related("quote__deal").order_by("-pk").first()
