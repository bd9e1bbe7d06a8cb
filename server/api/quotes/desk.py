"""The quote desk: a draft is saved, issued, revised, thrown away."""

from typing import Annotated

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Status
from pydantic import Field

from api.quotes.shapes import Answer, DraftIn, IssueIn, QuoteOut
from api.quotes.view import answer_out, quote_out
from api.shapes import PathId, today, who
from apps.quotes.flows.ending import discard_draft
from apps.quotes.flows.issuing import issue_revision
from apps.quotes.flows.saving import save_draft
from apps.quotes.flows.starting import revise

router = Router(tags=["quotes"])


@router.get("/revisions/{revision_id}", response=QuoteOut, operation_id="get_revision")
def revision(request: HttpRequest, revision_id: PathId) -> QuoteOut:
    """One revision of a quote."""
    return quote_out(who(request), revision_id)


@router.put("/revisions/{revision_id}", response=Answer, operation_id="save_draft")
def save(request: HttpRequest, revision_id: PathId, data: DraftIn) -> Answer:
    """Save the draft and answer its price; 409 where somebody changed it meanwhile."""
    row = save_draft(who(request), revision_id, data.version, data.as_draft(), today=today())
    return answer_out(who(request), row)


@router.post("/revisions/{revision_id}/issue", response=QuoteOut, operation_id="issue_revision")
def issue(request: HttpRequest, revision_id: PathId, data: IssueIn) -> QuoteOut:
    """Freeze the revision, make its document, plan the follow-up, move the deal."""
    issue_revision(
        who(request),
        revision_id,
        data.version,
        today=today(),
        now=timezone.now(),
        follow_up_on=data.follow_up_on,
        seen=data.seen.as_seen(),
    )
    return quote_out(who(request), revision_id)


@router.post("/quotes/{quote_id}/revise", response={201: QuoteOut}, operation_id="revise_quote")
def make_revision(request: HttpRequest, quote_id: PathId) -> Status[QuoteOut]:
    """A new draft with everything of the newest issued revision."""
    made = revise(who(request), quote_id, today=today())
    return Status(201, quote_out(who(request), made.pk))


@router.delete("/revisions/{revision_id}", response={204: None}, operation_id="discard_draft")
def discard(
    request: HttpRequest, revision_id: PathId, version: Annotated[int, Field(ge=1)]
) -> Status[None]:
    """Throw a draft away."""
    discard_draft(who(request), revision_id, version, today=today())
    return Status(204, None)
