"""What a deal may come to before there is a quote."""

from typing import Annotated

from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel, Field, StringConstraints

from api.deals import DealOut, deal_out
from api.schemas import Schema
from api.shapes import Id, PathId, Quantity, Version, today, who
from apps.quotes.interest import MOST, Wanted, set_interest

router = Router(tags=["deals"])


class InterestRow(BaseModel):
    """So much of an item."""

    item_id: Id
    quantity: Quantity
    unit: Annotated[str, StringConstraints(min_length=1, max_length=3)]


class InterestIn(Schema):
    """All lines of interest, in their order; without one the estimate stays as it is."""

    version: Version
    rows: Annotated[list[InterestRow], Field(max_length=MOST)]


@router.put("/deals/{deal_id}/interest", response=DealOut, operation_id="set_interest")
def put_interest(request: HttpRequest, deal_id: PathId, data: InterestIn) -> DealOut:
    """These items are the deal's now: priced of today, their net is its estimate."""
    rows = [Wanted(**row.model_dump()) for row in data.rows]
    set_interest(who(request), deal_id, data.version, rows, today=today())
    return deal_out(who(request), deal_id)
