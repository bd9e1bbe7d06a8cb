"""What is done with a quote beside drafting: sign-off, decline, copy, solving backwards."""

from decimal import Decimal
from typing import Annotated, Literal

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Status
from pydantic import Field, StringConstraints

from api.history import ChangeOut, changes_out
from api.quotes.shapes import ExcessOut, QuoteOut, SeenIn, SignOffOut
from api.quotes.view import quote_out, sign_off_out
from api.schemas import Schema
from api.shapes import Id, Number, PathId, today, who
from apps.journal.models import Change
from apps.people.access import pick
from apps.quotes.flows.ending import decline
from apps.quotes.flows.signing import answer_sign_off, ask_sign_off
from apps.quotes.flows.starting import copy_quote
from apps.quotes.pricing.solving import solve_revision
from apps.quotes.queries import own_revision, quotes_of

router = Router(tags=["quotes"])


class ReasonIn(Schema):
    """Why."""

    reason: Annotated[str, StringConstraints(max_length=500)]


class SignOffIn(ReasonIn):
    """Why, and for what one saw."""

    seen: SeenIn


@router.post("/revisions/{revision_id}/sign-off", response=SignOffOut, operation_id="ask_sign_off")
def ask(request: HttpRequest, revision_id: PathId, data: SignOffIn) -> SignOffOut | None:
    """Ask a lead to sign off what exceeds one's limits, for the draft as it stands."""
    made = ask_sign_off(
        who(request),
        revision_id,
        data.reason,
        today=today(),
        now=timezone.now(),
        seen=data.seen.as_seen(),
    )
    return sign_off_out(made.revision)


class AnswerIn(Schema):
    """Granted or refused, with a word."""

    granted: bool
    comment: Annotated[str, StringConstraints(max_length=500)] = ""
    seen: SeenIn


@router.post("/sign-offs/{sign_off_id}", response=QuoteOut, operation_id="answer_sign_off")
def answer(request: HttpRequest, sign_off_id: PathId, data: AnswerIn) -> QuoteOut:
    """A lead answers; it holds for exactly what was asked."""
    row = answer_sign_off(
        who(request),
        sign_off_id,
        granted=data.granted,
        comment=data.comment,
        today=today(),
        now=timezone.now(),
        seen=data.seen.as_seen(),
    )
    return quote_out(who(request), row.revision_id)


@router.post("/quotes/{quote_id}/decline", response=QuoteOut, operation_id="decline_quote")
def say_no(request: HttpRequest, quote_id: PathId, data: ReasonIn) -> QuoteOut:
    """The buyer said no, and why."""
    quote = decline(
        who(request), quote_id, reason=data.reason[:200], today=today(), now=timezone.now()
    )
    newest = quote.revisions.order_by("-pk").values_list("pk", flat=True)[0]
    return quote_out(who(request), newest)


class CopyIn(Schema):
    """For whom: a customer, or the name of a new one."""

    customer_id: Id | None = None
    new_customer: Annotated[str, StringConstraints(max_length=120)] = ""


@router.post("/revisions/{revision_id}/copy", response={201: QuoteOut}, operation_id="copy_quote")
def copy(request: HttpRequest, revision_id: PathId, data: CopyIn) -> Status[QuoteOut]:
    """A new quote with these lines for another customer, priced for that one."""
    made = copy_quote(who(request), revision_id, data.customer_id, data.new_customer, today=today())
    return Status(201, quote_out(who(request), made.pk))


class SolveIn(Schema):
    """A target for the document, or for one line."""

    target: Literal["net", "payable", "margin_percent", "price", "line_net", "line_margin"]
    value: Annotated[Number, Field(gt=-1000, lt=Decimal("1e12"), max_digits=18, decimal_places=6)]
    line: Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9-]{0,36}$")] = ""


class SolveOut(Schema):
    """The discount that reaches the target: exact to the minor unit, and the nearest percent."""

    amount: str
    percent: str
    reached: str
    exact: bool
    blocked: list[ExcessOut]


@router.post("/revisions/{revision_id}/solve", response=SolveOut, operation_id="solve")
def solve(request: HttpRequest, revision_id: PathId, data: SolveIn) -> SolveOut:
    """Backwards from a target; nothing is changed."""
    person = who(request)
    row = own_revision(person, revision_id)
    return SolveOut(**solve_revision(person, row, data.target, data.value, data.line))


@router.get("/quotes/{quote_id}/history", response=list[ChangeOut], operation_id="quote_history")
def history(request: HttpRequest, quote_id: PathId) -> list[ChangeOut]:
    """Who gave what, issued, declined; the newest first."""
    quote = pick(quotes_of(who(request)), quote_id, "quote")
    return changes_out(Change.objects.filter(what="quote", record=quote.pk))
