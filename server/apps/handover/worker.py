"""The worker's round: drain the outbox, read the back office's news. Nothing that it reads ends it."""

from collections.abc import Callable
from datetime import datetime, timedelta
import logging
from typing import Any

from django.conf import settings
from django.utils import timezone

from apps.handover.by_itself import hand_over_due
from apps.handover.comparing import compare_some
from apps.handover.flows import (
    claim_change,
    claim_next,
    claim_request,
    settle,
    settle_change,
    settle_request,
)
from apps.handover.gateway import BackOffice, Silence
from apps.handover.intake import (
    begin_anew,
    feed,
    note_epoch,
    note_read,
    note_silence,
    take_in_raw,
)
from apps.handover.masters import telling
from apps.handover.models import FeedPosition, WorkerBeat
from apps.handover.queries import open_errands
from apps.ledger.balances import accounts_to_check, compare_accounts
from apps.orders.outlook import renew_some
from apps.stock import intake as stock
from apps.stock import progress
from apps.told import tidy

log = logging.getLogger("vivid.worker")
#: Orders that are sent before the news is read again.
MOST_A_ROUND = 5
#: What became visible late lies at most so far back; looked for so often.
LOOK_BACK, LOOK_BACK_EVERY = 200, timedelta(seconds=60)
BEATS_KEPT = timedelta(days=1)

Clock = Callable[[], datetime]


def go_round(office: BackOffice, name: str, clock: Clock) -> int:
    """One round; how much was done. Several workers may go round at the same time."""
    beat(name, clock())
    errands = open_errands(clock())
    handed = hand_over_due(clock()) if "itself" in errands else 0
    done = drain(office, clock, name) if handed or "orders" in errands else 0
    done += drain_changes(office, clock) if "changes" in errands else 0
    done += drain_requests(office, clock) if "goods" in errands else 0
    done += read_feed(office, clock) + read_changes(office, clock)
    done += compare_some(office, clock) if "comparison" in errands else 0
    done += renew_some(timezone.localdate(clock()), clock())
    return done + read_kinds_anew(office) + prove_accounts(clock)


def prove_accounts(clock: Clock) -> int:
    """Compare accounts that have changed, once everything was read; how many."""
    if not accounts_to_check():
        return 0
    at = progress.feed()
    heard_all = not at.problem and at.position >= at.last
    return compare_accounts(clock()) if heard_all else 0


def beat(name: str, now: datetime) -> None:
    """Show that this worker lives."""
    WorkerBeat.objects.update_or_create(name=name, defaults={"at": now})
    WorkerBeat.objects.filter(at__lt=now - BEATS_KEPT).delete()


def drain(office: BackOffice, clock: Clock, name: str = "") -> int:
    """Send what is due; how many entries were tried."""
    for done in range(MOST_A_ROUND):
        entry = claim_next(clock())
        if entry is None:
            return done
        outcome = office.send(entry.key, entry.payload, telling)
        settled = settle(entry.pk, outcome, now=clock(), tries=entry.tries)
        said = tidy(settled.last_error)
        log.info("order %s: %s %s", entry.payload["order_number"], settled.state, said)
        if name:
            beat(name, clock())
    return MOST_A_ROUND


def drain_changes(office: BackOffice, clock: Clock) -> int:
    """Ask for the changes that are due; how many were tried."""
    for done in range(MOST_A_ROUND):
        row = claim_change(clock())
        if row is None:
            return done
        number = row.order.backoffice_number
        change = {**row.payload, "lines": [_bare(line) for line in row.payload["lines"]]}
        outcome = office.ask(row.key, number, change)
        settled = settle_change(row.pk, outcome, now=clock(), tries=row.tries)
        log.info("change of order %s: %s", row.payload["order_number"], settled.state)
    return MOST_A_ROUND


def drain_requests(office: BackOffice, clock: Clock) -> int:
    """Ask for the goods that are due to be asked for; how many were tried."""
    for done in range(MOST_A_ROUND):
        row = claim_request(clock())
        if row is None:
            return done
        outcome = office.request(row.key, row.payload)
        settled = settle_request(row.pk, outcome, now=clock(), tries=row.tries)
        log.info("goods for order %s: %s", row.payload["order_number"], settled.state)
    return MOST_A_ROUND


def _bare(line: dict[str, Any]) -> dict[str, Any]:
    """A line of a change as it is sent: without what it was."""
    return {name: value for name, value in line.items() if name != "was"}


def read_feed(office: BackOffice, clock: Clock) -> int:
    """Take in what is new; how many events were new. An answer without news is one too."""
    at = feed()
    now = clock()
    back = at.looked_back_at is None or now - at.looked_back_at > LOOK_BACK_EVERY
    page = office.news(max(0, at.position - LOOK_BACK) if back else at.position)
    if isinstance(page, Silence):
        note_silence(page.what, page.status, now)
        return 0
    anew = page.epoch != at.epoch if at.epoch and page.epoch else False
    if anew or (page.last is not None and page.last < at.position):
        log.warning("the feed began anew")
        begin_anew(page.epoch)
        return 1
    if page.epoch and not at.epoch:
        note_epoch(page.epoch)
    fresh = take_in_raw(page.events, page.last)
    if back:
        FeedPosition.objects.filter(pk=at.pk).update(looked_back_at=now)
    note_read(now)
    return fresh


#: Pages of changes that are read in one round: a whole resync leaves room for the orders.
MOST_PAGES = 5


def read_changes(office: BackOffice, clock: Clock, pages: int = MOST_PAGES) -> int:
    """Take in what has changed of depots and stock, so many pages at most; how much of it was new."""
    fresh = 0
    for _ in range(pages):
        at = progress.feed()
        page = office.changes(at.position)
        if isinstance(page, Silence):
            progress.note_trouble(page.what, clock())
            return fresh
        last = at.position if page.last is None else page.last
        anew = bool(at.epoch and page.epoch and page.epoch != at.epoch) or last < at.position
        fresh += 0 if anew else stock.take_in_changes(page.events)
        if not page.events and not anew and progress.quiet(at, page.epoch, last, clock()):
            return fresh
        if not page.events:
            stock.try_what_is_known_now()
        reached = page.next
        if reached is None:
            reached = max((_number(raw) for raw in page.events), default=last)
        progress.move_on(reached, epoch=page.epoch, last=last, now=clock(), anew=anew)
        if anew or not page.events or reached >= last:
            return fresh
    return fresh


#: How long a person waits for the newest figures at most.
ASK_SECONDS = 1.5


def ask_now(clock: Clock) -> bool:
    """Read what has changed while somebody waits; whether the back office answered in time.

    Where it did not, the last known figures serve, and are as old as they are.
    """
    office = BackOffice(
        settings.BACKOFFICE_URL,
        settings.BACKOFFICE_TOKEN,
        ASK_SECONDS,
        key=settings.BACKOFFICE_KEY,
        call_seconds=ASK_SECONDS,
    )
    try:
        read_changes(office, clock, pages=1)
    finally:
        office.close()
    now = progress.feed()
    return not now.problem and now.position >= now.last


def _number(raw: object) -> int:
    """A change's number; 0 for one that cannot be read, which moves nothing on."""
    number = raw.get("change") if isinstance(raw, dict) else None
    return number if type(number) is int and 0 < number < 2**53 else 0


def read_kinds_anew(office: BackOffice, pages: int = MOST_PAGES) -> int:
    """Take in the next pages of every kind that was asked for anew; how much of it was new.

    One who tells all kinds nevertheless is read as well: what is known under its number is passed over.
    """
    fresh = 0
    for row in progress.anew_by_kind():
        kind, position = progress.kind_of(row), row.position
        for _ in range(pages):
            page = office.changes(position, kind)
            if isinstance(page, Silence):
                break
            fresh += stock.take_in_changes(page.events)
            last = row.last if page.last is None else page.last
            reached = max((_number(raw) for raw in page.events), default=last)
            position = last if not page.events else max(position + 1, page.next or reached)
            progress.move_kind_on(kind, position, last=last)
            if position >= last:
                break
    return fresh
