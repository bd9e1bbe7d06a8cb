"""What everybody is to win, by month."""

from collections.abc import Iterable
from datetime import date, datetime
from decimal import Decimal
from types import SimpleNamespace
from typing import Annotated, Literal, Self

from django.conf import settings
from django.db.models import Q
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from ninja import File, Router, UploadedFile
from pydantic import BaseModel, Field, model_validator

from api.errors import Fault
from api.export import Column, as_file
from api.schemas import Schema
from api.shapes import Amount, Day, Id, Number, sure_money, today, who
from apps.errors import Invalid
from apps.forecast.filed import HEADS, read_targets
from apps.forecast.flows import Aim, set_targets, subject_of
from apps.forecast.models import Target
from apps.forecast.targets import (
    Aims,
    Subject,
    last_years,
    names_of,
    people_of,
    won_a_year_before,
)
from apps.journal.models import Change
from apps.people.access import signs, signs_for, teams_of
from apps.people.models import User
from apps.tables import MOST_BYTES
from routecore.dates import months_from
from routecore.money import ZERO, round_amount

router = Router(tags=["forecast"])
CHANGES_SHOWN = 30
MONTHS = 12


class SubjectOut(Schema):
    """Who is to win it: a person; a team; or a team with the items of one group."""

    owner_id: int | None
    team_id: int | None
    group_id: int | None


class TargetOut(Schema):
    """What is to be won in a month; version 0 and no amount where nothing is set. Beside a team's own, what its people
    are to win together."""

    month: date
    amount: str | None
    version: int
    of_people: str | None


class TargetsOf(SubjectOut):
    """The targets of a person, a team or a team's group, month by month; the names that apply."""

    person: str
    team: str
    group: str
    targets: list[TargetOut]


class TargetsOut(Schema):
    """A year's targets, from a month on; whether this person may set them."""

    currency: str
    months: list[date]
    rows: list[TargetsOf]
    may_set: bool


class TargetIn(BaseModel):
    """What somebody is to win in the month that begins on ``month``; without an amount nothing is set any more."""

    owner_id: Id | None = None
    team_id: Id | None = None
    group_id: Id | None = None
    month: Day
    amount: Annotated[Amount, Field(gt=0)] | None
    version: Annotated[int, Field(ge=0, le=2_000_000_000)]

    @property
    def subject(self) -> Subject:
        """Who is to win it."""
        return Subject(owner=self.owner_id or 0, team=self.team_id or 0, group=self.group_id or 0)

    @model_validator(mode="after")
    def of_somebody(self) -> Self:
        """Either a person's or a team's."""
        if not self.subject.one:
            raise ValueError("a target is either a person's or a team's")
        return self


class TargetsIn(Schema):
    """The targets that change, and the month from which the year is told again."""

    rows: Annotated[list[TargetIn], Field(min_length=1, max_length=2000)]
    first: Day | None = None


def subject_out(subject: Subject) -> dict[str, int | None]:
    """What a ``SubjectOut`` says."""
    return {
        "owner_id": subject.owner or None,
        "team_id": subject.team or None,
        "group_id": subject.group or None,
    }


def _targets(person: User, first: date | None) -> TargetsOut:
    months = months_from(first or today(), MONTHS)
    rows = Target.objects.filter(
        Q(owner__in=people_of(person)) | Q(team__in=teams_of(person)), month__in=months
    )
    known = {(subject_of(row), row.month): row for row in rows.select_related("owner")}
    sums: dict[tuple[int, date], Decimal] = {}
    for (_, month), row in known.items():
        if row.owner and row.owner.team_id:
            key = (row.owner.team_id, month)
            sums[key] = sums.get(key, ZERO) + row.amount
    return TargetsOut(
        currency=settings.BASE_CURRENCY,
        months=months,
        rows=[
            TargetsOf(
                **subject_out(subject),
                person=name,
                team=team,
                group=group,
                targets=[_told(subject, month, known, sums) for month in months],
            )
            for subject, name, team, group in names_of(person)
        ],
        may_set=signs_for(person),
    )


def _told(
    subject: Subject,
    month: date,
    known: dict[tuple[Subject, date], Target],
    sums: dict[tuple[int, date], Decimal],
) -> TargetOut:
    row, base = known.get((subject, month)), settings.BASE_CURRENCY
    together = None if subject.group else sums.get((subject.team, month))
    return TargetOut(
        month=month,
        amount=sure_money(row.amount, base) if row else None,
        version=row.version if row else 0,
        of_people=sure_money(together, base) if together else None,
    )


@router.get("/targets", response=TargetsOut, operation_id="list_targets")
def targets(request: HttpRequest, first: Day | None = None) -> TargetsOut:
    """A year's targets of those whose deals this person sees, of their teams and these with each item group.

    Four queries.
    """
    return _targets(who(request), first)


@router.put("/targets", response=TargetsOut, operation_id="set_targets")
def put_targets(request: HttpRequest, data: TargetsIn) -> TargetsOut:
    """Set targets: all of them, or none where somebody changed one meanwhile."""
    if any(row.month.day != 1 for row in data.rows):
        raise Invalid("not_a_month", path="rows")
    keys = [(row.subject, row.month) for row in data.rows]
    if len(set(keys)) < len(keys):
        raise Invalid("double_id", path="rows")
    set_targets(
        who(request),
        [
            Aim(of=row.subject, month=row.month, amount=row.amount, version=row.version)
            for row in data.rows
        ],
    )
    return _targets(who(request), data.first)


class ProposedTarget(SubjectOut):
    """What somebody's month may be set to."""

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

    Months without anything before are left out. At most ten queries.
    """
    person, base = who(request), settings.BASE_CURRENCY
    signs(person)
    found = (won_a_year_before if of == "won" else last_years)(
        person, months_from(first or today(), MONTHS)
    )
    return _proposed({key: round_amount(amount * factor, base) for key, amount in found.items()})


def _proposed(found: Aims) -> list[ProposedTarget]:
    base = settings.BASE_CURRENCY
    return [
        ProposedTarget(**subject_out(subject), month=month, amount=sure_money(amount, base))
        for (subject, month), amount in sorted(found.items())
        if amount > 0
    ]


@router.get("/targets.{kind}", operation_id="export_targets")
def export(
    request: HttpRequest, kind: Literal["csv", "xlsx"], first: Day | None = None
) -> HttpResponseBase:
    """A year's targets as a file, which can be changed and read in again. Four queries."""
    told = _targets(who(request), first)
    columns = [Column(name, name) for name in HEADS]
    columns += [Column(f"{month:%Y-%m}", f"{month:%Y-%m}", number=True) for month in told.months]
    rows = [
        SimpleNamespace(
            **dict(zip(HEADS, (row.person, row.team, row.group), strict=True)),
            **{f"{each.month:%Y-%m}": each.amount for each in row.targets},
        )
        for row in told.rows
    ]
    return as_file(kind, "targets", columns, [rows])


class TargetRefused(Schema):
    """A cell or a row of a file that is not taken, and why."""

    row: int
    fault: Fault


class TargetFiling(Schema):
    """What a file says of a year's targets: nothing is stored. ``refused`` are rows and cells that are not taken."""

    targets: list[ProposedTarget]
    refused: list[TargetRefused]


@router.post("/targets/file", response=TargetFiling, operation_id="read_targets")
def from_file(
    request: HttpRequest, file: File[UploadedFile], first: Day | None = None
) -> TargetFiling:
    """Read targets from a CSV or XLSX file as the export makes it; months of another year are left out."""
    months = months_from(first or today(), MONTHS)
    body = file.read(MOST_BYTES + 1)
    found, refused = read_targets(who(request), file.name or "", body, months)
    return TargetFiling(
        targets=_proposed(found),
        refused=[TargetRefused(row=row, fault=Fault.of(error)) for row, error in refused],
    )


class TargetChange(Schema):
    """A target that was set: who set whose (a person's, a team's, a team's of a group), for which month (ISO), from what
    to what; None for none."""

    at: datetime
    who: str
    owner: str
    group: str
    month: str
    before: str | None
    after: str | None


@router.get("/targets/changes", response=list[TargetChange], operation_id="list_target_changes")
def changes(request: HttpRequest) -> list[TargetChange]:
    """The newest changes of those targets that this person sees. Four queries."""
    person = who(request)
    named = list(names_of(person))
    names = {subject: name or team for subject, name, team, _ in named}
    groups = {str(subject.group): group for subject, _, _, group in named if group}
    rows = Change.objects.filter(_of(names)).select_related("who").order_by("-pk")
    return [_change(row, names, groups) for row in rows[:CHANGES_SHOWN]]


def _of(names: Iterable[Subject]) -> Q:
    people = [each.owner for each in names if each.owner]
    teams = [each.team for each in names if each.team and not each.group]
    return Q(what="target", record__in=people) | Q(what="team_target", record__in=teams)


def _change(row: Change, names: dict[Subject, str], groups: dict[str, str]) -> TargetChange:
    month, _, group = row.field.partition(" ")
    of_team = row.what == "team_target"
    subject = Subject(team=row.record) if of_team else Subject(owner=row.record)
    return TargetChange(
        at=row.at,
        who=row.who.name if row.who else "",
        owner=names[subject],
        group=groups.get(group, ""),
        month=month,
        before=row.before or None,
        after=row.after or None,
    )
