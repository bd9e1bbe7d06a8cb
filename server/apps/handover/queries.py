"""How old the back office's figures are, and whether its news is missing."""

from datetime import datetime, timedelta

from apps.handover.models import FeedPosition

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
