"""``manage.py after_restore``: what has to be so once an older state of the data stands there again."""

from typing import Any

from django.contrib.sessions.models import Session
from django.core.management.base import BaseCommand
from django.db import transaction
from django.db.models import F

from apps.handover.models import UNDER_WAY, WAITING, FeedPosition, Handover
from apps.numbering.models import Series
from apps.stock.progress import forget_position

#: Numbers that may have been given since the backup, and stand on papers that left the house.
GAP = 1000


class Command(BaseCommand):
    """Numbers go on after a gap; the feed is read from its beginning; everybody signs in anew."""

    help = "After a restore: move numbers on, read the back office's news from its beginning"

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        """Do it; doing it twice leaves a larger gap and no other trace."""
        Series.objects.update(last=F("last") + GAP)
        FeedPosition.objects.update(position=0, looked_back_at=None)
        forget_position()
        Handover.objects.filter(state=UNDER_WAY).update(state=WAITING, leased_until=None)
        Session.objects.all().delete()
