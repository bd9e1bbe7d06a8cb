"""The worker's round: drain the outbox, read the back office's news."""

from collections.abc import Callable
from datetime import datetime
import logging

from apps.handover.flows import claim_next, settle
from apps.handover.gateway import BackOffice
from apps.handover.intake import feed_position, note_read, take_in
from apps.handover.models import WorkerBeat

log = logging.getLogger("vivid.worker")
MOST_A_ROUND = 50


def go_round(office: BackOffice, name: str, clock: Callable[[], datetime]) -> int:
    """One round; how much was done. Several workers may go round at the same time."""
    WorkerBeat.objects.update_or_create(name=name, defaults={"at": clock()})
    return drain(office, clock) + read_news(office, clock)


def drain(office: BackOffice, clock: Callable[[], datetime]) -> int:
    """Send what is due; how many entries were tried."""
    for done in range(MOST_A_ROUND):
        entry = claim_next(clock())
        if entry is None:
            return done
        outcome = office.send(entry.key, entry.payload)
        settled = settle(entry.pk, outcome, now=clock())
        log.info(
            "order %s: %s %s", entry.payload["order_number"], settled.state, settled.last_error
        )
    return MOST_A_ROUND


def read_news(office: BackOffice, clock: Callable[[], datetime]) -> int:
    """Take in what is new; how many events were new. An answer without news is one too."""
    news = office.news(feed_position())
    if news is None:
        return 0
    fresh = take_in(news) if news else 0
    note_read(clock())
    return fresh
