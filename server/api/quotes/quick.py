"""The price while somebody types: nothing is stored."""

import json
from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from ninja import Router
from pydantic import Field

from api.quotes.priced import ProblemOut, TypedOut
from api.quotes.shapes import ChecksOut, Key, TypedIn
from api.quotes.view import checks_out, problems_in, shown
from api.schemas import Schema
from api.shapes import PathId, today, who
from apps.quotes.quick import quick_answer

router = Router(tags=["quotes"])


class AskIn(TypedIn):
    """The draft as typed, and the lines whose trails are wanted."""

    trails: Annotated[list[Key], Field(max_length=500)] = []


class QuickOut(Schema):
    """What it comes to; everything only of the lines that were named. Limits are not judged."""

    priced: TypedOut
    problems: list[ProblemOut]
    checks: ChecksOut
    mark: str


@router.post("/revisions/{revision_id}/price", response=QuickOut, operation_id="price_draft")
def price(request: HttpRequest, revision_id: PathId, data: AskIn) -> HttpResponse:
    """Price a draft as typed, with prices at most some seconds old. Stores nothing."""
    person = who(request)
    draft = data.as_draft()
    found = quick_answer(person, revision_id, draft, today=today(), trails=data.trails)
    priced: Any = found.answer
    body = {
        "priced": shown(priced, person),
        "problems": problems_in(priced),
        "checks": checks_out(person, found.checks).model_dump(),
        "mark": found.mark,
    }
    # Finished text already: checking it again against the schema would double the time.
    return HttpResponse(json.dumps(body, separators=(",", ":")), content_type="application/json")
