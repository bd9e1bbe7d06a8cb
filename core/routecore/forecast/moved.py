"""What moved between two snapshots of the open deals, cause by cause, adding up exactly.

The weighted amount of a period at one moment is that of the deals that were open then and to be decided in it, but not
of those whose day had gone by. Each deal's difference is told as one cause, or as several that follow each other: it
came or went, then its amount, then its chance. Nothing is left over: the steps telescope.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal

from routecore.exact import ZERO
from routecore.forecast.weighted import weigh
from routecore.money import in_own_context

#: In the order in which they are told.
CAUSES = (
    *("new", "won", "lost", "parked", "handed"),
    *("later", "sooner", "overdue", "grew", "shrank", "chance"),
)
OPEN = "open"


@dataclass(frozen=True, slots=True, kw_only=True)
class Seen:
    """A deal in a snapshot; ``state``: open, won, lost, parked. ``counts``: whether it is in the view, as the rep's."""

    amount: Decimal
    probability_percent: Decimal
    decision: date
    state: str = OPEN
    counts: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class Snapshot:
    """All deals on a day, by their keys."""

    on: date
    deals: Mapping[int, Seen]


@dataclass(slots=True)
class Step:
    """One cause: what it comes to, and each deal's part of it, in the order of the deals' keys."""

    amount: Decimal = ZERO
    deals: list[tuple[int, Decimal]] = field(default_factory=list)


@dataclass(frozen=True, slots=True, kw_only=True)
class Moved:
    """From ``start`` to ``end``: ``start`` and all steps add up to ``end``."""

    start: Decimal
    end: Decimal
    steps: Mapping[str, Step]


@dataclass(frozen=True, slots=True, kw_only=True)
class Window:
    """The days of decision that are looked at, both included."""

    first: date
    last: date


@in_own_context
def moved(before: Snapshot, after: Snapshot, window: Window, currency: str) -> Moved:
    """What moved from one snapshot to a later one, in the deals to be decided within the window."""
    steps = {cause: Step() for cause in CAUSES}
    start = end = ZERO
    for key in sorted(before.deals.keys() | after.deals.keys()):
        was, now = before.deals.get(key), after.deals.get(key)
        begun = _worth(was, before.on, window, currency)
        ended = _worth(now, after.on, window, currency)
        start, end = start + (begun or ZERO), end + (ended or ZERO)
        for cause, amount in _causes(was, now, begun, ended, after.on, window, currency):
            if amount:
                steps[cause].amount += amount
                steps[cause].deals.append((key, amount))
    return Moved(start=start, end=end, steps=steps)


def _worth(deal: Seen | None, on: date, window: Window, currency: str) -> Decimal | None:
    """The weighted amount; None where the deal is not in the view."""
    if deal is None or deal.state != OPEN or not deal.counts:
        return None
    if not max(window.first, on) <= deal.decision <= window.last:
        return None
    return weigh(deal.amount, deal.probability_percent, currency)


def _causes(
    was: Seen | None,
    now: Seen | None,
    begun: Decimal | None,
    ended: Decimal | None,
    on: date,
    window: Window,
    currency: str,
) -> Iterator[tuple[str, Decimal]]:
    if begun is not None and ended is None:
        yield _why_gone(was, now, on, window), -begun
    elif ended is not None and now is not None:
        if was is None or was.state != OPEN:
            yield "new", ended
            return
        first = weigh(was.amount, was.probability_percent, currency)
        if begun is None:
            yield _why_come(was, window), first
        grown = weigh(now.amount, was.probability_percent, currency)
        yield ("grew" if grown > first else "shrank"), grown - first
        yield "chance", ended - grown


def _why_gone(was: Seen | None, now: Seen | None, on: date, window: Window) -> str:
    if now is None or not now.counts:
        return "handed"
    if now.state != OPEN:
        return now.state
    if now.decision > window.last:
        return "later"
    moved_up = was is not None and now.decision < was.decision
    return "sooner" if moved_up and now.decision >= on else "overdue"


def _why_come(was: Seen, window: Window) -> str:
    if not was.counts:
        return "handed"
    return "sooner" if was.decision > window.last else "later"
