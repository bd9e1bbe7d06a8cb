"""How old the back office's figures are."""

from datetime import datetime

from apps.handover.models import FeedPosition


def figures_age_hours(now: datetime) -> int:
    """Whole hours since the back office last answered; 0 where it was never asked. One query."""
    read_at = FeedPosition.objects.values_list("read_at", flat=True).first()
    return 0 if read_at is None else max(int((now - read_at).total_seconds() // 3600), 0)
