"""Deals that nobody looks after: no next step, or nothing done for long."""

from datetime import datetime, timedelta
from typing import Any

from django.conf import settings
from django.db.models import DateTimeField, Exists, F, OuterRef, Q, QuerySet, Subquery
from django.db.models.functions import Coalesce, Greatest
from django.utils import timezone

from apps.deals.models import OPEN, Deal, DealQuerySet
from apps.diary.models import FOLLOW_UP, Activity

#: Why: nothing is planned; nothing was done for long.
NO_STEP, QUIET = "no_step", "quiet"


def looked_after(rows: DealQuerySet) -> QuerySet[Any]:
    """The deals with ``planned`` (whether a follow-up is open) and ``touched`` (when something was last done)."""
    of_deal = Activity.objects.filter(deal=OuterRef("pk"))
    planned = Exists(of_deal.filter(kind=FOLLOW_UP, done_at=None))
    newest = of_deal.order_by("-created_at").values("created_at")[:1]
    last = Coalesce(Subquery(newest), F("created_at"), output_field=DateTimeField())
    return rows.annotate(planned=planned, touched=Greatest(last, F("created_at")))


def why_stale(deal: Any, now: datetime) -> list[str]:
    """Why nobody seems to look after it; nothing for a closed one. A day that has gone by is told of itself."""
    if deal.outcome != OPEN:
        return []
    found = [] if deal.planned else [NO_STEP]
    return [*found, QUIET] if deal.touched < now - _long() else found


def stale(rows: DealQuerySet, now: datetime) -> DealQuerySet:
    """Those of which something is said, or whose day has gone by."""
    left = looked_after(rows).filter(
        Q(planned=False)
        | Q(touched__lt=now - _long())
        | Q(decision_on__lt=timezone.localdate(now)),
        outcome=OPEN,
    )
    # By their keys: what was asked to find them is no column of theirs.
    found: DealQuerySet = Deal.objects.filter(pk__in=left.values("pk"))
    return found


def _long() -> timedelta:
    return timedelta(days=settings.DEAL_QUIET_DAYS)
