"""Who works on a deal beside its owner."""

from typing import Annotated

from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel, Field, StringConstraints

from api.deals import DealOut, deal_out
from api.schemas import Schema
from api.shapes import Id, PathId, Version, who
from apps.deals.team import MOST, Member, set_team

router = Router(tags=["deals"])


class HelperIn(BaseModel):
    """A colleague who works on the deal, and what they do."""

    person_id: Id
    part: Annotated[str, StringConstraints(max_length=60)] = ""


class DealTeamIn(Schema):
    """The whole team beside the owner."""

    version: Version
    rows: Annotated[list[HelperIn], Field(max_length=MOST)]


@router.put("/deals/{deal_id}/team", response=DealOut, operation_id="set_deal_team")
def put_team(request: HttpRequest, deal_id: PathId, data: DealTeamIn) -> DealOut:
    """These work on the deal beside its owner: they read it, note what was done and add files."""
    rows = [Member(**row.model_dump()) for row in data.rows]
    set_team(who(request), deal_id, data.version, rows)
    return deal_out(who(request), deal_id)
