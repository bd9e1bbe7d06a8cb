"""How old the back office's figures are, and whether its news is missing."""

from datetime import datetime, timedelta
from itertools import compress

from django.db.models import Exists

from apps.handover.models import (
    UNDER_WAY,
    WAITING,
    Comparison,
    Difference,
    FeedPosition,
    Handover,
    OrderChange,
    Replenishment,
    SelfHandover,
)

#: News that is missing for so long is told.
SILENCE = timedelta(minutes=10)


def figures_age_hours(now: datetime) -> int:
    """Whole hours since the back office last answered; 0 where it was never asked. One query."""
    read_at = FeedPosition.objects.values_list("read_at", flat=True).first()
    return 0 if read_at is None else max(int((now - read_at).total_seconds() // 3600), 0)


def silent_since(now: datetime) -> tuple[datetime, dict[str, object]] | None:
    """Since when there is no news, with the facts of why; None while there is. One query."""
    row = FeedPosition.objects.exclude(problem="").first()
    if row is None or row.failing_since is None or now - row.failing_since < SILENCE:
        return None
    return row.failing_since, {"what": row.problem, "status": row.status}


def lost_there(entry: Handover) -> bool:
    """Whether the newest comparison found that the back office does not know an order that it took. Two queries."""
    newest = (
        Comparison.objects.filter(finished_at__isnull=False, problem="").order_by("-pk").first()
    )
    if newest is None or entry.taken_at is None or entry.taken_at > newest.asked_at:
        return False
    rows = Difference.objects.filter(comparison=newest, order=entry.order_id)
    return rows.filter(what="missing_there").exists()


def open_errands(now: datetime) -> frozenset[str]:
    """Which kinds of errands there may be something to do for, so that an idle round asks but once. One query."""
    on_their_way = {"state__in": (WAITING, UNDER_WAY)}
    kinds = {
        "orders": Handover.objects.filter(**on_their_way),
        "changes": OrderChange.objects.filter(**on_their_way),
        "goods": Replenishment.objects.filter(**on_their_way),
        "itself": SelfHandover.objects.filter(done=False, due_at__lte=now),
        "comparison": Comparison.objects.filter(finished_at=None),
    }
    asked = [Exists(rows) for rows in kinds.values()]
    found = FeedPosition.objects.values_list(*asked).first()
    return frozenset(kinds if found is None else compress(kinds, found))
