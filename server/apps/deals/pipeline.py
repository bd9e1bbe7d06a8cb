"""The pipeline as an administrator keeps it: its stages in their order, and the reasons why deals are closed."""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
import hashlib
from secrets import token_hex

from django.db import transaction
from django.db.models import F

from apps.deals.models import DECIDER, OPEN, QUOTE, Reason, Stage
from apps.errors import Invalid, Missing, Stale
from apps.journal.flows import record_changes
from apps.people.access import keeps_prices
from apps.people.models import User

MOST = 20
#: Beyond every position: where stages stand while their order changes.
ASIDE = 1_000


@dataclass(frozen=True, slots=True, kw_only=True)
class StageLine:
    """An open stage in the order it is to have; without ``id`` a new one."""

    name: str
    probability_percent: Decimal
    id: int | None = None
    asks: str = ""
    retired: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class ReasonLine:
    """A reason why deals are ``outcome``; without ``id`` a new one."""

    outcome: str
    name: str
    id: int | None = None
    retired: bool = False


def mark_of_pipeline() -> str:
    """A fingerprint of all of it: who changes it names what they saw. Two queries."""
    stages = Stage.objects.values_list(
        "pk", "name", "position", "probability_percent", "asks", "retired"
    )
    reasons = Reason.objects.values_list("pk", "outcome", "name", "position", "retired")
    return hashlib.sha256(repr([*stages, *reasons]).encode()).hexdigest()[:16]


@transaction.atomic
def keep_pipeline(
    who: User, stages: Sequence[StageLine], reasons: Sequence[ReasonLine], seen: str
) -> None:
    """The open stages in this order, then the closed ones as they were; each line that is left out stays retired."""
    keeps_prices(who, "pipeline")
    known = {row.pk: row for row in Stage.objects.select_for_update().order_by("pk")}
    if mark_of_pipeline() != seen:
        raise Stale("stale", path="seen", facts={"what": "pipeline"})
    _check(stages)
    Stage.objects.filter(pk__in=known).update(position=F("position") + ASIDE)
    open_ = {pk: row for pk, row in known.items() if row.outcome == OPEN}
    kept = [_stage(who, open_, line, n) for n, line in enumerate(stages, start=1)]
    left = [row for pk, row in open_.items() if pk not in {each.pk for each in kept}]
    for row in left:
        _retire(who, row)
    closed = [row for row in known.values() if row.outcome != OPEN]
    for n, row in enumerate([*left, *sorted(closed, key=lambda each: each.position)], start=1):
        Stage.objects.filter(pk=row.pk).update(position=len(kept) + n)
    _reasons(who, reasons)


def _check(stages: Sequence[StageLine]) -> None:
    if not any(not line.retired for line in stages):
        raise Invalid("required", path="stages", facts={"what": "stage"})
    names = [line.name.strip().casefold() for line in stages if not line.retired]
    for n, line in enumerate(stages):
        if not line.name.strip():
            raise Invalid("required", path=f"stages[{n}].name", facts={"what": "name"})
        if line.asks not in ("", QUOTE, DECIDER):
            raise Invalid("unknown_choice", path=f"stages[{n}].asks", facts={"value": line.asks})
        if not line.retired and names.count(line.name.strip().casefold()) > 1:
            facts = {"value": line.name.strip()}
            raise Invalid("double_name", path=f"stages[{n}].name", facts=facts)


def _stage(who: User, known: dict[int, Stage], line: StageLine, position: int) -> Stage:
    row = known.get(line.id) if line.id else Stage(code=f"s{token_hex(4)}")
    if row is None:
        raise Missing("not_found", facts={"what": "stage"})
    before = _told(row) if row.pk else {}
    row.name, row.probability_percent = " ".join(line.name.split()), line.probability_percent
    row.asks, row.retired, row.position = line.asks, line.retired, position
    row.save()
    after = _told(row)
    record_changes(
        who, "stage", row.pk, {name: (before.get(name, ""), after[name]) for name in after}
    )
    return row


def _retire(who: User, row: Stage) -> None:
    if not row.retired:
        Stage.objects.filter(pk=row.pk).update(retired=True)
        record_changes(who, "stage", row.pk, {"retired": (False, True)})


def _told(row: Stage) -> dict[str, object]:
    return {
        "name": row.name,
        "probability": f"{row.probability_percent.normalize():f}",
        "asks": row.asks,
        "retired": row.retired,
        "position": row.position,
    }


def _reasons(who: User, lines: Sequence[ReasonLine]) -> None:
    known = {row.pk: row for row in Reason.objects.select_for_update().order_by("pk")}
    seen = set()
    for n, line in enumerate(lines):
        name = " ".join(line.name.split())
        if not name:
            raise Invalid("required", path=f"reasons[{n}].name", facts={"what": "name"})
        row = known.get(line.id) if line.id else Reason(outcome=line.outcome)
        if row is None:
            raise Missing("not_found", facts={"what": "reason"})
        same = Reason.objects.filter(outcome=row.outcome, name=name).exclude(pk=row.pk)
        if same.exists():
            raise Invalid("double_name", path=f"reasons[{n}].name", facts={"value": name})
        before = (row.name, row.retired)
        row.name, row.retired, row.position = name, line.retired, n
        row.save()
        seen.add(row.pk)
        after = {"name": (before[0], name), "retired": (before[1], line.retired)}
        record_changes(who, "reason", row.pk, after)
    for row in (known[pk] for pk in known.keys() - seen if not known[pk].retired):
        Reason.objects.filter(pk=row.pk).update(retired=True)
        record_changes(who, "reason", row.pk, {"retired": (False, True)})
