"""The pipeline as an administrator keeps it: stages in their order, reasons why deals are closed."""

from typing import Annotated, Literal

from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel, Field, StringConstraints

from api.deals import ClosingReason, StageOut, reasons, stages
from api.schemas import Schema
from api.shapes import Id, Percent, who
from apps.deals.pipeline import MOST, ReasonLine, StageLine, keep_pipeline, mark_of_pipeline

router = Router(tags=["deals"])


class PipelineOut(Schema):
    """The stages, the reasons, and the mark that a change of them names."""

    stages: list[StageOut]
    reasons: list[ClosingReason]
    seen: str


class StageIn(BaseModel):
    """An open stage, in the order it is to have; without ``id`` a new one."""

    id: Id | None = None
    name: Annotated[str, StringConstraints(max_length=30)]
    probability_percent: Percent
    asks: Literal["", "quote", "decider"] = ""
    retired: bool = False


class ClosingReasonIn(BaseModel):
    """A reason; without ``id`` a new one."""

    id: Id | None = None
    outcome: Literal["won", "lost", "parked"]
    name: Annotated[str, StringConstraints(max_length=60)]
    retired: bool = False


class PipelineIn(Schema):
    """All of it. What is left out is retired."""

    stages: Annotated[list[StageIn], Field(min_length=1, max_length=MOST)]
    reasons: Annotated[list[ClosingReasonIn], Field(max_length=100)]
    seen: Annotated[str, StringConstraints(max_length=16)]


@router.get("/pipeline", response=PipelineOut, operation_id="get_pipeline")
def pipeline(request: HttpRequest) -> PipelineOut:
    """The stages and reasons as they are kept. Four queries."""
    return PipelineOut(stages=stages(request), reasons=reasons(request), seen=mark_of_pipeline())


@router.put("/pipeline", response=PipelineOut, operation_id="keep_pipeline")
def keep(request: HttpRequest, data: PipelineIn) -> PipelineOut:
    """Keep all of it as it is given; 409 where somebody changed it meanwhile."""
    keep_pipeline(
        who(request),
        [StageLine(**row.model_dump()) for row in data.stages],
        [ReasonLine(**row.model_dump()) for row in data.reasons],
        data.seen,
    )
    return pipeline(request)
