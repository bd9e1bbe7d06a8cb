"""The deals that decide a month, and what becomes of the forecast if they come otherwise: nothing is stored."""

from datetime import date
from typing import Annotated

from django.conf import settings
from django.http import HttpRequest
from ninja import Query, Router
from pydantic import BaseModel, Field

from api.forecast.outlook import PeriodOut, RangeFilters, called_by, period_out, seen_by
from api.forecast.weighted import Month
from api.schemas import Schema
from api.shapes import Amount, Day, Id, Percent, sure_money, today, who
from apps.deals.models import DealQuerySet
from apps.errors import Invalid
from apps.forecast.called import Called, Thought
from apps.forecast.deciding import DealThatDecides, deciding_deals
from apps.forecast.queries import periods_of
from apps.forecast.targets import Counted
from routecore.casefile.words import plain
from routecore.money import round_amount

router = Router(tags=["forecast"])


class DecidingDeal(Schema):
    """A deal that decides a month, as it stands: what it comes to (``quoted``: by its quote), when it is decided, how
    likely it is, by its stage, by the rep's own word or learnt from so many decided deals. ``swing`` is how far the
    chance of the target lies apart with it and without it (0 to 1), ``inside`` whether it is in the month, both as it
    is thought of."""

    id: int
    version: int
    title: str
    customer: str
    amount: str
    quoted: bool
    decision_on: date
    probability: str
    stage: str
    reason: str
    own: bool
    learnt_from: int | None
    swing: float
    inside: bool


class DecidingOut(Schema):
    """The deals that decide a month; ``thought`` is the chance with the deals as they are thought of. ``target_set`` is
    false where the middle of what may be won stands for a target."""

    currency: str
    target: str
    target_set: bool
    chance: float
    thought: float
    deals: list[DecidingDeal]


class DecidingFilters(RangeFilters):
    """The month."""

    month: Month


class ThoughtIn(BaseModel):
    """How a deal is thought of: left out, decided on another day, of another probability or amount."""

    id: Id
    out: bool = False
    decision_on: Day | None = None
    probability: Percent | None = None
    amount: Annotated[Amount, Field(ge=0)] | None = None


class WhatIfIn(DecidingFilters):
    """What is thought of the deals."""

    thoughts: Annotated[list[ThoughtIn], Field(min_length=1, max_length=50)]


class WhatIfOut(Schema):
    """What may be won then, and the deals that decide the month."""

    currency: str
    periods: list[PeriodOut]
    deciding: DecidingOut


@router.get("/forecast/deciding", response=DecidingOut, operation_id="get_deciding")
def deciding(request: HttpRequest, filters: Query[DecidingFilters]) -> DecidingOut:
    """The deals that decide a month, those that swing its odds most first. Four queries."""
    rows, counted = seen_by(who(request), filters, today())
    return _deciding(rows, counted, filters, called_by(filters))


@router.post("/forecast/what-if", response=WhatIfOut, operation_id="what_if")
def what_if(request: HttpRequest, data: WhatIfIn) -> WhatIfOut:
    """What becomes of the forecast if deals come otherwise; nothing is stored. Seven queries."""
    on = today()
    keys = [each.id for each in data.thoughts]
    if len(set(keys)) < len(keys):
        raise Invalid("double_id", path="thoughts")
    thoughts = {
        each.id: Thought(
            out=each.out,
            decision_on=each.decision_on,
            percent=each.probability,
            amount=each.amount,
        )
        for each in data.thoughts
    }
    rows, counted = seen_by(who(request), data, on)
    called = called_by(data, thoughts)
    periods = periods_of(rows, counted, today=on, called=called)
    return WhatIfOut(
        currency=settings.BASE_CURRENCY,
        periods=[period_out(row) for row in periods],
        deciding=_deciding(rows, counted, data, called),
    )


def _deciding(
    rows: DealQuerySet, counted: Counted, filters: DecidingFilters, called: Called
) -> DecidingOut:
    base = settings.BASE_CURRENCY
    month = date.fromisoformat(f"{filters.month}-01")
    found = deciding_deals(rows, counted, month, today=today(), called=called)
    return DecidingOut(
        currency=base,
        target=sure_money(round_amount(found.target, base), base),
        target_set=found.set,
        chance=round(found.chance, 4),
        thought=round(found.thought, 4),
        deals=[_deal(row) for row in found.deals],
    )


def _deal(row: DealThatDecides) -> DecidingDeal:
    deal, learnt = row.deal, row.learnt
    return DecidingDeal(
        id=deal.pk,
        version=deal.version,
        title=deal.title,
        customer=deal.customer_name,
        amount=sure_money(deal.amount, settings.BASE_CURRENCY),
        quoted=deal.quoted_amount is not None,
        decision_on=deal.decision_on,
        probability=plain(row.percent) or "0",
        stage=deal.stage.name,
        reason=deal.probability_reason,
        own=deal.own_probability_percent is not None,
        learnt_from=learnt.decided if learnt else None,
        swing=round(row.swing, 4),
        inside=row.inside,
    )
