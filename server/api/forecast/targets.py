"""What everybody is to win, by month."""

from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Literal

from django.conf import settings
from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel, Field

from api.schemas import Schema
from api.shapes import Amount, Day, Id, Number, sure_money, today, who
from apps.errors import Invalid
from apps.forecast.flows import Aim, set_targets
from apps.forecast.models import Target
from apps.forecast.queries import last_years, months_from, people_of
from apps.journal.models import Change
from apps.people.access import signs, signs_for
from apps.people.models import User
from routecore.money import round_amount

router = Router(tags=["forecast"])
CHANGES_SHOWN = 30


class TargetOut(Schema):
    """What is to be won in a month; version 0 and no amount where nothing is set."""

    month: date
    amount: str | None
    version: int


class TargetsOf(Schema):
    """A person's targets, month by month."""

    id: int
    name: str
    targets: list[TargetOut]


class TargetsOut(Schema):
    """A year's targets, from a month on; whether this person may set them."""

    currency: str
    months: list[date]
    people: list[TargetsOf]
    may_set: bool


class TargetIn(BaseModel):
    """What somebody is to win in the month that begins on ``month``; without an amount nothing is set any more."""

    owner_id: Id
    month: Day
    amount: Annotated[Amount, Field(gt=0)] | None
    version: Annotated[int, Field(ge=0, le=2_000_000_000)]


class TargetsIn(Schema):
    """The targets that change, and the month from which the year is told again."""

    rows: Annotated[list[TargetIn], Field(min_length=1, max_length=1000)]
    first: Day | None = None


def _targets(person: User, first: date | None) -> TargetsOut:
    months = months_from(first or today(), 12)
    people = list(people_of(person))
    rows = Target.objects.filter(owner__in=people, month__in=months)
    known = {(row.owner_id, row.month): row for row in rows}
    base = settings.BASE_CURRENCY

    def told(owner: int, month: date) -> TargetOut:
        row = known.get((owner, month))
        amount = sure_money(row.amount, base) if row else None
        return TargetOut(month=month, amount=amount, version=row.version if row else 0)

    return TargetsOut(
        currency=base,
        months=months,
        people=[
            TargetsOf(id=each.pk, name=each.name, targets=[told(each.pk, m) for m in months])
            for each in people
        ],
        may_set=signs_for(person),
    )


@router.get("/targets", response=TargetsOut, operation_id="list_targets")
def targets(request: HttpRequest, first: Day | None = None) -> TargetsOut:
    """A year's targets of those whose deals this person sees. Two queries."""
    return _targets(who(request), first)


@router.put("/targets", response=TargetsOut, operation_id="set_targets")
def put_targets(request: HttpRequest, data: TargetsIn) -> TargetsOut:
    """Set targets: all of them, or none where somebody changed one meanwhile."""
    if any(row.month.day != 1 for row in data.rows):
        raise Invalid("not_a_month", path="rows")
    keys = [(row.owner_id, row.month) for row in data.rows]
    if len(set(keys)) < len(keys):
        raise Invalid("double_id", path="rows")
    set_targets(who(request), [Aim(**row.model_dump()) for row in data.rows])
    return _targets(who(request), data.first)


class ProposedTarget(Schema):
    """What somebody's month may be set to."""

    owner_id: int
    month: date
    amount: str


Factor = Annotated[Number, Field(gt=0, le=10, max_digits=6, decimal_places=4)]


@router.get("/targets/proposed", response=list[ProposedTarget], operation_id="propose_targets")
def proposed(
    request: HttpRequest,
    factor: Factor = Decimal(1),
    of: Literal["targets", "won"] = "targets",
    first: Day | None = None,
) -> list[ProposedTarget]:
    """A year's targets from those of the year before, or from what was won then, times a factor. Nothing is stored.

    Months without anything before are left out. Three queries.
    """
    person = who(request)
    signs(person)
    base = settings.BASE_CURRENCY
    found = last_years(people_of(person), months_from(first or today(), 12), of=of)
    return [
        ProposedTarget(
            owner_id=owner,
            month=month,
            amount=sure_money(round_amount(amount * factor, base), base),
        )
        for (owner, month), amount in sorted(found.items())
        if amount > 0
    ]


class TargetChange(Schema):
    """A target that was set: who set whose, for which month (ISO), from what to what; None for none."""

    at: datetime
    who: str
    owner: str
    month: str
    before: str | None
    after: str | None


@router.get("/targets/changes", response=list[TargetChange], operation_id="list_target_changes")
def changes(request: HttpRequest) -> list[TargetChange]:
    """The newest changes of those targets that this person sees. Two queries."""
    names = {person.pk: person.name for person in people_of(who(request))}
    rows = Change.objects.filter(what="target", record__in=list(names)).select_related("who")
    return [
        TargetChange(
            at=row.at,
            who=row.who.name if row.who else "",
            owner=names[row.record],
            month=row.field,
            before=row.before or None,
            after=row.after or None,
        )
        for row in rows.order_by("-pk")[:CHANGES_SHOWN]
    ]
