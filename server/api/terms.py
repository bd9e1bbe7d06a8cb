"""Payment terms as people type them."""

from typing import Annotated

from pydantic import Field

from api.schemas import Schema
from api.shapes import Percent
from apps.customers.payment import MOST_INSTALMENTS, More, more_of


class InstalmentIn(Schema):
    """A part of the amount, and in how many days it is due."""

    percent: Percent
    days: Annotated[int, Field(ge=0, le=365)]


class EarlyIn(Schema):
    """So many percent off for paying within so many days."""

    percent: Percent
    days: Annotated[int, Field(ge=0, le=365)]


class MoreTermsIn(Schema):
    """Payment terms beyond days and month: a fixed day of the next month, parts, paying early."""

    fixed_day: Annotated[int, Field(ge=1, le=31)] | None = None
    early: EarlyIn | None = None
    instalments: Annotated[list[InstalmentIn], Field(max_length=MOST_INSTALMENTS)] = []

    def kept(self) -> More:
        """As the rows keep it."""
        return more_of(
            fixed_day=self.fixed_day,
            early=(self.early.percent, self.early.days) if self.early else None,
            instalments=[(part.percent, part.days) for part in self.instalments],
        )
