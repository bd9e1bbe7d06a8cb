"""Mailboxes that are read: one's own, the shared ones, how far each is read and what is wrong with it."""

from datetime import datetime
from typing import Annotated

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Status
from pydantic import StringConstraints

from api.schemas import Schema
from api.shapes import PathId, Version, who
from apps.mail.mailboxes import (
    add_mailbox,
    mailboxes_of,
    new_password,
    retire_mailbox,
    servers,
)
from apps.mail.models import Mailbox
from apps.people.access import sells
from apps.people.models import ADMIN, User

router = Router(tags=["mail"])
Login = Annotated[str, StringConstraints(min_length=1, max_length=254)]
Secret = Annotated[str, StringConstraints(min_length=1, max_length=200)]


class MailboxOut(Schema):
    """A mailbox: whose (``shared``: everybody's), when it was last looked at, what was wrong then; ``mine``: this
    person may change it. The house's own is of the settings and nobody's to change."""

    id: int
    version: int
    name: str
    server: str
    shared: bool
    mine: bool
    looked_at: datetime | None
    fault: str


class MailboxesOut(Schema):
    """The mailboxes, the servers at which one may be added, and whether this person may add shared ones."""

    rows: list[MailboxOut]
    servers: list[str]
    may_share: bool


def _out(row: Mailbox, person: User) -> MailboxOut:
    shared = row.owner_id is None
    return MailboxOut(
        id=row.pk,
        version=row.version,
        name=row.name,
        server=row.server,
        shared=shared,
        mine=bool(row.server) and (not shared or person.role == ADMIN),
        looked_at=row.looked_at,
        fault=row.fault,
    )


@router.get("/mailboxes", response=MailboxesOut, operation_id="list_mailboxes")
def mailboxes(request: HttpRequest) -> MailboxesOut:
    """One's own mailboxes and the shared ones. One query."""
    person = who(request)
    sells(person)
    return MailboxesOut(
        rows=[_out(row, person) for row in mailboxes_of(person)],
        servers=list(servers()),
        may_share=person.role == ADMIN,
    )


class MailboxIn(Schema):
    """A mailbox to be read: at which server, who signs in, and with what."""

    server: Annotated[str, StringConstraints(max_length=120)]
    name: Login
    password: Secret
    shared: bool = False


@router.post("/mailboxes", response={201: MailboxOut}, operation_id="add_mailbox")
def add(request: HttpRequest, data: MailboxIn) -> Status[MailboxOut]:
    """Read this mailbox from now on; it is opened at once."""
    person = who(request)
    return Status(201, _out(add_mailbox(person, **data.model_dump()), person))


class MailboxPassword(Schema):
    """Another password."""

    version: Version
    password: Secret


@router.post(
    "/mailboxes/{mailbox_id}/password", response=MailboxOut, operation_id="give_mailbox_password"
)
def password(request: HttpRequest, mailbox_id: PathId, data: MailboxPassword) -> MailboxOut:
    """Open it with another password."""
    person = who(request)
    return _out(new_password(person, mailbox_id, data.version, password=data.password), person)


class MailboxSeen(Schema):
    """As it was seen."""

    version: Version


@router.post("/mailboxes/{mailbox_id}/retire", response={204: None}, operation_id="retire_mailbox")
def retire(request: HttpRequest, mailbox_id: PathId, data: MailboxSeen) -> Status[None]:
    """Read it no longer; what came from it stays."""
    retire_mailbox(who(request), mailbox_id, data.version, now=timezone.now())
    return Status(204, None)
