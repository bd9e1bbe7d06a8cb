"""A quote's address for its buyer, and what becomes of what the buyer said there."""

from datetime import datetime
from typing import Annotated

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Status
from pydantic import StringConstraints

from api.orders import OrderOut, order_out
from api.schemas import Schema
from api.shapes import PathId, money, today, who
from apps.buyers.flows import decline, make_link, revoke_link, take_yes
from apps.buyers.models import BuyerAnswer, BuyerLink
from apps.quotes.models import QuoteLine
from apps.quotes.queries import own_revision

router = Router(tags=["buyers"])


class LinkOut(Schema):
    """A live address: when it was made, by whom, how often it was opened."""

    id: int
    made_at: datetime
    made_by: str
    quantities: bool
    opened: int
    opened_first: datetime | None
    opened_last: datetime | None


class SaidLine(Schema):
    """A line that the buyer takes."""

    key: str
    text: str
    quantity: str
    unit: str


class SaidOut(Schema):
    """What the buyer said, from where, and what became of it."""

    id: int
    kind: str
    name: str
    reference: str
    words: str
    payable: str | None
    lines: list[SaidLine]
    at: datetime
    address: str
    state: str
    reply: str
    decided_by: str
    order_id: int | None
    order: str


class BuyerOut(Schema):
    """The address of a revision and all that was said there. ``path`` once, when it is made."""

    link: LinkOut | None
    said: list[SaidOut]
    path: str = ""


def _out(revision_id: int, currency: str, path: str = "") -> BuyerOut:
    link = (
        BuyerLink.objects.select_related("made_by")
        .filter(revision=revision_id, revoked_at=None)
        .first()
    )
    rows = BuyerAnswer.objects.filter(link__revision=revision_id).select_related(
        "decided_by", "order", "link__revision"
    )
    lines = {row.key: row for row in QuoteLine.objects.filter(revision=revision_id)}
    return BuyerOut(
        link=LinkOut(
            id=link.pk,
            made_at=link.made_at,
            made_by=link.made_by.name,
            quantities=link.quantities,
            opened=link.opened,
            opened_first=link.opened_first,
            opened_last=link.opened_last,
        )
        if link
        else None,
        said=[_said(row, currency, lines) for row in rows.order_by("-pk")],
        path=path,
    )


def _said(row: BuyerAnswer, currency: str, lines: dict[str, QuoteLine]) -> SaidOut:
    return SaidOut(
        id=row.pk,
        kind=row.kind,
        name=row.name,
        reference=row.reference,
        words=row.words,
        payable=money(row.payable, currency),
        lines=[
            SaidLine(
                key=each["key"],
                text=lines[each["key"]].text,
                quantity=each["quantity"],
                unit=lines[each["key"]].unit,
            )
            for each in row.lines
            if each["key"] in lines
        ],
        at=row.at,
        address=row.address,
        state=row.state,
        reply=row.reply,
        decided_by=row.decided_by.name if row.decided_by else "",
        order_id=row.order_id,
        order=row.order.number if row.order else "",
    )


@router.get("/revisions/{revision_id}/buyer", response=BuyerOut, operation_id="get_buyer")
def buyer(request: HttpRequest, revision_id: PathId) -> BuyerOut:
    """The address of a revision for its buyer, and what was said there."""
    revision = own_revision(who(request), revision_id)
    return _out(revision.pk, revision.currency)


class LinkIn(Schema):
    """Whether the buyer may change quantities."""

    quantities: bool = False


@router.post(
    "/revisions/{revision_id}/buyer", response={201: BuyerOut}, operation_id="make_buyer_link"
)
def make(request: HttpRequest, revision_id: PathId, data: LinkIn) -> Status[BuyerOut]:
    """Make an address; the one before ends. The token is told this once."""
    link, token = make_link(
        who(request), revision_id, quantities=data.quantities, today=today(), now=timezone.now()
    )
    return Status(201, _out(link.revision_id, link.revision.currency, f"/b/{token}"))


@router.post("/buyer-links/{link_id}/end", response=BuyerOut, operation_id="end_buyer_link")
def end(request: HttpRequest, link_id: PathId) -> BuyerOut:
    """The address ends at once."""
    link = revoke_link(who(request), link_id, now=timezone.now())
    return _out(link.revision_id, link.revision.currency)


class YesIn(Schema):
    """Whether the deal is won with it."""

    close_deal: bool


@router.post(
    "/buyer-answers/{answer_id}/order", response={201: OrderOut}, operation_id="order_as_buyer_said"
)
def take(request: HttpRequest, answer_id: PathId, data: YesIn) -> Status[OrderOut]:
    """Write the order that the buyer said yes to."""
    order = take_yes(
        who(request), answer_id, close_deal=data.close_deal, today=today(), now=timezone.now()
    )
    return Status(201, order_out(who(request), order.pk))


class ReplyIn(Schema):
    """What the buyer reads."""

    reply: Annotated[str, StringConstraints(max_length=500)]


@router.post("/buyer-answers/{answer_id}/reply", response=BuyerOut, operation_id="reply_to_buyer")
def reply(request: HttpRequest, answer_id: PathId, data: ReplyIn) -> BuyerOut:
    """Not like this, or done otherwise; the buyer reads why."""
    row = decline(who(request), answer_id, reply=data.reply, now=timezone.now())
    return _out(row.link.revision_id, row.link.revision.currency)
