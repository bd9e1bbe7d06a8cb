"""Giving the promise of one order to another: what it would move, and moving it.

What the back office keeps already, it moves itself and tells by its feed; what it does not know yet is
moved here, and goes to it with the order. A move that makes a promise of somebody else later is not made.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal

from django.conf import settings
from django.db import transaction

from apps.catalogue.models import Item
from apps.errors import Busy, Invalid, Missing, Refused, Stale
from apps.handover.flows import NotNow, TurnedDown
from apps.handover.gateway import BackOffice
from apps.handover.models import Handover
from apps.handover.worker import ASK_SECONDS, ask_now
from apps.journal.flows import record_each
from apps.orders.holders import OURS, Holder, holders_of
from apps.orders.models import OrderLine
from apps.people.models import ADMIN, LEAD, User
from apps.quotes.drafts import digest
from apps.stock.models import Depot, Level
from apps.stock.plans import Plan, plans_of
from routecore.errors import CoreError
from routecore.promise import Commitment, Held, what_moves

Clock = Callable[[], datetime]


@dataclass(frozen=True, slots=True, kw_only=True)
class Moving:
    """Who lets which commitment of an item in a depot give its place to which."""

    who: User
    item: Item
    depot: int
    giver: str
    taker: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Move:
    """A promise whose day moves; ``holder`` None where it is not this person's."""

    holder: Holder | None
    quantity: Decimal
    before: Held
    after: Held


@dataclass(frozen=True, slots=True, kw_only=True)
class Moves:
    """All that would move, by which ``plan`` and whose ``holders``; ``refused`` is why it cannot, ``mark`` is of all
    that was looked at."""

    plan: Plan
    holders: Mapping[str, Holder]
    rows: tuple[Move, ...]
    refused: str
    mark: str


def moves_of(moving: Moving, *, today: date) -> Moves:
    """What would move. Raises ``Missing`` where nothing is kept in the depot, or a promise is not this person's."""
    plan = plans_of([moving.item.pk], Depot.objects.all()).get((moving.item.pk, moving.depot))
    holders = holders_of(moving.who, [plan]) if plan else {}
    if plan is None or not {moving.giver, moving.taker} <= set(holders):
        raise Missing("not_found", facts={"what": "promise"})
    return _looked_at(moving, plan, holders, today)


def _looked_at(moving: Moving, plan: Plan, holders: Mapping[str, Holder], today: date) -> Moves:
    try:
        pairs = what_moves(plan.stock, today, giver=moving.giver, taker=moving.taker)
    except CoreError as error:
        raise Invalid.of(error) from error
    by_line = {row.line: row for row in plan.stock.commitments}
    rows = tuple(
        Move(
            holder=holders.get(before.line),
            quantity=by_line[before.line].quantity,
            before=before,
            after=after,
        )
        for before, after in pairs
    )
    stock = plan.stock
    seen = [[moving.giver, moving.taker, stock.on_hand], stock.receipts, stock.commitments]
    return Moves(
        plan=plan,
        holders=holders,
        rows=rows,
        refused=_refused(moving, rows, holders),
        mark=digest(repr(seen)),
    )


def _refused(moving: Moving, rows: Sequence[Move], holders: Mapping[str, Holder]) -> str:
    """Why it cannot be made: a code of the words for faults; nothing where it can."""
    if not any(_earlier(row) for row in rows):
        return "move_gains_nothing"
    if any(row.holder is None and _later(row) for row in rows):
        return "move_of_others"
    if moving.who.role not in (LEAD, ADMIN) and any(
        row.holder is not None and row.holder.priority and _later(row) for row in rows
    ):
        return "move_of_priority"
    ours = [
        line
        for name in (moving.giver, moving.taker)
        if (line := holders[name].order_line) is not None
    ]
    if len(ours) == 1:
        return "move_mixed"
    if ours and Handover.objects.filter(order__lines__in=ours).exists():
        return "move_on_the_way"
    return ""


def _earlier(row: Move) -> bool:
    return (row.after.on or date.max) < (row.before.on or date.max)


def _later(row: Move) -> bool:
    return (row.after.on or date.max) > (row.before.on or date.max)


def move(moving: Moving, mark: str, *, today: date, clock: Clock) -> bool:
    """Move it, as it was seen; whether the back office did. Raises ``Stale`` where it was seen otherwise.

    Raises ``Refused`` for what cannot be moved, ``Busy`` where the back office does not answer: what it
    has done then, its feed tells.
    """
    if moving.giver.startswith(OURS):
        _move_here(moving, mark, today)
        return False
    found = _as_seen(moving, mark, today)
    _ask_office(moving, found.plan)
    _note(moving, found)
    ask_now(clock)
    return True


def _as_seen(moving: Moving, mark: str, today: date) -> Moves:
    found = moves_of(moving, today=today)
    if found.mark != mark:
        raise Stale("stale", path="promises")
    if found.refused:
        raise Refused(found.refused)
    return found


@transaction.atomic
def _move_here(moving: Moving, mark: str, today: date) -> None:
    """Both lines take each other's day; it goes to the back office with their orders."""
    list(Level.objects.select_for_update().filter(item=moving.item).order_by("pk").values("pk"))
    found = _as_seen(moving, mark, today)
    for name, day in _days(moving, found.plan).items():
        OrderLine.objects.filter(pk=int(name.removeprefix(OURS))).update(reserve_by=day)
    _note(moving, found)


def _days(moving: Moving, plan: Plan) -> dict[str, date]:
    """The day of each of the two, once they stand in each other's place."""
    days = {row.line: row.by for row in plan.stock.commitments}
    giver, taker = days[moving.giver], days[moving.taker]
    return {moving.giver: max(giver, taker), moving.taker: min(giver, taker)}


def _ask_office(moving: Moving, plan: Plan) -> None:
    by_line: dict[str, Commitment] = {row.line: row for row in plan.stock.commitments}
    office = BackOffice(
        settings.BACKOFFICE_URL,
        settings.BACKOFFICE_TOKEN,
        ASK_SECONDS,
        key=settings.BACKOFFICE_KEY,
        call_seconds=ASK_SECONDS,
    )
    try:
        answer = office.move(
            {
                "item": moving.item.code,
                "depot": plan.depot.code,
                "gives": {"reference": moving.giver, "by": by_line[moving.giver].by.isoformat()},
                "takes": {"reference": moving.taker, "by": by_line[moving.taker].by.isoformat()},
            }
        )
    finally:
        office.close()
    if isinstance(answer, NotNow):
        raise Busy("back_office_away")
    if isinstance(answer, TurnedDown):
        if not answer.reason:
            raise Refused("move_not_known")
        raise Refused("move_turned_down", facts={"words": answer.reason})


@transaction.atomic
def _note(moving: Moving, found: Moves) -> None:
    """In the history of both orders: from which day to which, and to whom the place was given."""
    before = {row.line: row.by for row in found.plan.stock.commitments}
    after = _days(moving, found.plan)
    giver, taker = found.holders[moving.giver], found.holders[moving.taker]
    field = f"promise {moving.item.code}"
    changes = {name: {field: (before[name], after[name])} for name in (moving.giver, moving.taker)}
    record_each(moving.who, "order", {giver.order: changes[moving.giver]}, f"to {taker.number}")
    record_each(moving.who, "order", {taker.order: changes[moving.taker]}, f"from {giver.number}")
