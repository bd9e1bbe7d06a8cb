"""Several deals are changed together: all of them or none, tried before it is done."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any

from django.db import transaction
from django.utils import timezone

from apps.deals.flows import change_deal
from apps.deals.models import Deal
from apps.deals.queries import by_month, deals_of
from apps.errors import FlowError, Invalid
from apps.people.access import sells
from apps.people.models import User
from routecore.forecast import Cell

MOST = 200


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """What one of them becomes; None leaves it as it is. ``stage_probability``: the stage's instead of the rep's own."""

    id: int
    version: int
    stage: str | None = None
    decision_on: date | None = None
    owner_id: int | None = None
    estimate: Decimal | None = None
    probability: Decimal | None = None
    probability_reason: str | None = None
    stage_probability: bool | None = None

    @property
    def given(self) -> dict[str, Any]:
        """What changes."""
        fields = {
            "stage": self.stage,
            "decision_on": self.decision_on,
            "owner_id": self.owner_id,
            "estimate": self.estimate,
        }
        given: dict[str, Any] = {name: each for name, each in fields.items() if each is not None}
        if self.stage_probability:
            given["probability"] = None
        elif self.probability is not None:
            given["probability"] = self.probability
            given["probability_reason"] = self.probability_reason
        return given


@dataclass(frozen=True, slots=True, kw_only=True)
class Effect:
    """What the open ones of them come to by month (``overdue`` for days gone by), before and after, and all open deals
    that this person sees: told where it is only tried, else empty."""

    before: Mapping[str, Cell]
    after: Mapping[str, Cell]
    all_before: Mapping[str, Cell]
    all_after: Mapping[str, Cell]
    keys: Sequence[int]


def change_together(who: User, changes: Sequence[Change], *, now: datetime, keep: bool) -> Effect:
    """Change all of them, or none where one is refused; without ``keep`` only what it would come to is told.

    A refusal names its row. A deal that leaves this person's sight is not in what comes after. What is only tried is
    tried on the deals as they stand now: a question that a change of one's own overtook is no clash.
    """
    sells(who)
    keys = [change.id for change in changes]
    if len(set(keys)) < len(keys):
        raise Invalid("double_id", path="rows")
    today = timezone.localdate(now)
    with transaction.atomic():
        before = {} if keep else by_month(deals_of(who).open().filter(pk__in=keys), today)
        all_before = {} if keep else by_month(deals_of(who).open(), today)
        # In one order, whoever changes them: no two wait for each other.
        for n, change in sorted(enumerate(changes), key=lambda each: each[1].id):
            try:
                version = change.version if keep else None
                change_deal(who, change.id, version, now=now, **change.given)
            except FlowError as error:
                error.path = f"rows[{n}].{error.path}"
                raise
        seen: list[int] = list(deals_of(who).filter(pk__in=keys).values_list("pk", flat=True))
        after = {} if keep else by_month(Deal.objects.open().filter(pk__in=seen), today)
        all_after = {} if keep else by_month(deals_of(who).open(), today)
        if not keep:
            transaction.set_rollback(True)
    return Effect(before=before, after=after, all_before=all_before, all_after=all_after, keys=seen)
