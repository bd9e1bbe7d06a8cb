"""Today's stops of mail: what waits for an answer, and what of ours did not arrive."""

from datetime import date

from django.utils import timezone

from api.mail_places import stands_at
from api.stops import DueStop
from apps.listing import rows_at
from apps.mail.about import ABOUT
from apps.mail.flows import arrived_of
from apps.mail.models import STUCK, Message, Received, Stranger
from apps.mail.strangers import strangers_of
from apps.people.access import owned
from apps.people.models import User

MOST = 30


def mail_stops(person: User, on: date) -> list[DueStop]:
    """What waits for an answer, the oldest first, and what a person decides about. Constant queries."""
    return [*_waiting(person, on), *_stuck(person, on), *_strangers(person, on)]


def _waiting(person: User, on: date) -> list[DueStop]:
    rows = arrived_of(person).filter(settled_at=None).order_by("pk")
    shown = Received.objects.select_related("contact", "customer").only(
        *("received_at", "says", "subject", "sender", "sender_name", *ABOUT),
        *("customer__name", "contact__name"),
    )
    found = []
    for row in rows_at(rows, slice(MOST), shown):
        day = timezone.localdate(row.received_at)
        found.append(
            DueStop(
                kind=f"mail_{row.says['kind']}" if row.says else "mail_waits",
                title=row.subject,
                customer=row.customer.name,
                on=day,
                days=(on - day).days,
                amount=None,
                currency="",
                detail=f"{_writer(row)}: {row.says['sentence']}" if row.says else _writer(row),
                to=stands_at(row),
            )
        )
    return found


def _strangers(person: User, on: date) -> list[DueStop]:
    """Who wrote from a customer's domain and is no contact there: they are waited for by somebody who is known."""
    rows = strangers_of(person).filter(customer__isnull=False).order_by("pk")
    found = []
    shown = Stranger.objects.select_related("customer").only(
        *("wrote_at", "name", "address", "subject", "customer__name")
    )
    for row in rows_at(rows, slice(MOST), shown):
        day = timezone.localdate(row.wrote_at)
        found.append(
            DueStop(
                kind="stranger",
                title=row.name or row.address,
                customer=row.customer.name if row.customer else "",
                on=day,
                days=(on - day).days,
                amount=None,
                currency="",
                detail=row.subject,
                to="/leads/strangers",
            )
        )
    return found


def _writer(row: Received) -> str:
    return row.contact.name if row.contact else row.sender_name or row.sender


def _stuck(person: User, on: date) -> list[DueStop]:
    rows = Message.objects.filter(owned(person, "who"), state__in=STUCK).order_by("pk")
    shown = Message.objects.select_related("customer").only(
        *("subject", "created_at", "said", "customer__name", *ABOUT)
    )
    return [
        DueStop(
            kind="mail_stuck",
            title=row.subject,
            customer=row.customer.name,
            on=timezone.localdate(row.created_at),
            days=(on - timezone.localdate(row.created_at)).days,
            amount=None,
            currency="",
            detail=row.said,
            to=stands_at(row),
        )
        for row in rows_at(rows, slice(MOST), shown)
    ]
