"""Strangers who wrote to the house: who they are is said by a person."""

from datetime import datetime

from django.http import HttpRequest
from ninja import Router, Status

from api.schemas import Schema
from api.shapes import Id, PathId, Version, who
from apps.mail.strangers import (
    let_stranger_go,
    strangers_of,
    take_as_contact,
    take_as_lead,
)
from apps.people.access import sells

router = Router(tags=["mail"])
SHOWN = 100


class StrangerOut(Schema):
    """Somebody who wrote ``mails`` times, last on ``wrote_at``; ``customer``: whose people write from the same domain."""

    id: int
    version: int
    name: str
    address: str
    subject: str
    mails: int
    wrote_at: datetime
    customer_id: int | None
    customer: str


@router.get("/strangers", response=list[StrangerOut], operation_id="list_strangers")
def strangers(request: HttpRequest) -> list[StrangerOut]:
    """Who wrote and is known to nobody, the newest first. One query."""
    person = who(request)
    sells(person)
    return [
        StrangerOut(
            id=row.pk,
            version=row.version,
            name=row.name,
            address=row.address,
            subject=row.subject,
            mails=len(row.uids),
            wrote_at=row.wrote_at,
            customer_id=row.customer_id,
            customer=row.customer.name if row.customer else "",
        )
        for row in strangers_of(person).select_related("customer")[:SHOWN]
    ]


class AsContactIn(Schema):
    """They are a contact of this customer."""

    version: Version
    customer_id: Id


class StrangerSeen(Schema):
    """As it was seen."""

    version: Version


class BecameOut(Schema):
    """What became of them: the customer whose contact they are, or the lead."""

    customer_id: int | None = None
    lead_id: int | None = None


@router.post(
    "/strangers/{stranger_id}/contact", response=BecameOut, operation_id="take_stranger_as_contact"
)
def as_contact(request: HttpRequest, stranger_id: PathId, data: AsContactIn) -> BecameOut:
    """A contact; their mails come to the customer."""
    made = take_as_contact(who(request), stranger_id, data.version, customer_id=data.customer_id)
    return BecameOut(customer_id=made.customer_id)


@router.post(
    "/strangers/{stranger_id}/lead", response=BecameOut, operation_id="take_stranger_as_lead"
)
def as_lead(request: HttpRequest, stranger_id: PathId, data: StrangerSeen) -> BecameOut:
    """A lead of one's own; their mails come onto it."""
    return BecameOut(lead_id=take_as_lead(who(request), stranger_id, data.version).pk)


@router.post("/strangers/{stranger_id}/go", response={204: None}, operation_id="let_stranger_go")
def go(request: HttpRequest, stranger_id: PathId, data: StrangerSeen) -> Status[None]:
    """Nobody of ours; they are not offered again."""
    let_stranger_go(who(request), stranger_id, data.version)
    return Status(204, None)
