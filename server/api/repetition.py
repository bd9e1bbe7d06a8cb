"""A rule for days, as the API takes and tells it: see ``routecore.repeat``."""

from typing import Annotated, Any

from pydantic import Field

from api.schemas import Schema
from apps.errors import Invalid
from routecore.errors import CoreError
from routecore.repeat import Repetition, read_rule


class RepetitionIn(Schema):
    """Every so many weeks on days; or months, on the n-th weekday or a day; of some months alone."""

    every: Annotated[str, Field(json_schema_extra={"enum": ["week", "month"]})]
    interval: Annotated[int, Field(ge=1, le=26)] = 1
    weekdays: Annotated[list[Annotated[int, Field(ge=0, le=6)]], Field(max_length=7)] = []
    turn: Annotated[int, Field(ge=-1, le=4)] | None = None
    month_day: Annotated[int, Field(ge=-1, le=28)] | None = None
    months: Annotated[list[Annotated[int, Field(ge=1, le=12)]], Field(max_length=12)] = []

    def as_repetition(self) -> Repetition:
        """The core's value; refused where it names no day."""
        facts: dict[str, Any] = self.dict()
        for name in ("weekdays", "months"):
            facts[name] = tuple(sorted(facts[name]))
        try:
            return Repetition(**facts)
        except CoreError as error:
            raise Invalid.of(error, path=f"repetition.{error.path}") from error


class RepetitionOut(RepetitionIn):
    """The same, and as RFC 5545 writes it."""

    rule: str


def repetition_out(rule: str) -> RepetitionOut:
    """What a kept rule says."""
    found = read_rule(rule)
    return RepetitionOut(
        every=found.every,
        interval=found.interval,
        weekdays=list(found.weekdays),
        turn=found.turn,
        month_day=found.month_day,
        months=list(found.months),
        rule=rule,
    )
