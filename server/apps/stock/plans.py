"""What can be promised of items: stock by depot, what comes, and who has it, as the core's values.

Orders refer to items, not the other way round: the orders name here what of them is still to leave
(``OURS``), in ``claims.py``. What the back office reports of an order of ours is counted once: then ours
is dropped.
"""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date, datetime
from decimal import Decimal
from typing import NamedTuple

from django.db.models import F

from apps.stock.models import ChangeFeed, Depot, Level, Receipt, Reported, Reservation
from apps.stock.progress import FEED
from routecore import promise


@dataclass(frozen=True, slots=True, kw_only=True)
class Ours:
    """A line of an order of ours that has not left: its order, item, depot (None: the usual), how much
    in the base unit, by when."""

    line: int
    order_number: str
    item: int
    depot: int | None
    quantity: Decimal
    by: date


OURS: list[Callable[[Iterable[int]], Iterable[Ours]]] = []


@dataclass(frozen=True, slots=True, kw_only=True)
class Plan:
    """An item in a depot: stock, receipts and commitments; how long it takes to have it again.

    ``commitments`` by name: ``ours:7`` is an order line of ours, ``BO-1`` one of the back office.
    ``kept_for`` names those that the back office keeps for an order of ours, by its number.
    """

    item: int
    depot: Depot
    stock: promise.Stock
    lead_days: int | None
    minimum: Decimal | None
    told_at: datetime
    receipt_numbers: Mapping[date, str] = field(default_factory=dict)
    kept_for: Mapping[str, tuple[str, ...]] = field(default_factory=dict)


Plans = dict[tuple[int, int], Plan]


def depots() -> list[Depot]:
    """All of them, the usual one first. One query."""
    return list(Depot.objects.all())


def plans_of(items: Iterable[int], known: Iterable[Depot]) -> Plans:
    """By item and depot. The same queries, however many items."""
    wanted, by_depot = set(items), {row.pk: row for row in known}
    levels = list(Level.objects.filter(item_id__among=wanted, depot_id__in=by_depot))
    held, names = _reserved(levels)
    known_there = Reported.objects.filter(item_id__among=wanted)
    reported = set(known_there.values_list("order_number", "item_id"))
    coming = _coming(levels)
    ours, heard = _ours(wanted, by_depot, reported), _heard_at()
    found: Plans = {}
    for row in levels:
        key = (row.item_id, row.depot_id)
        receipts = coming.get(row.pk, [])
        found[key] = Plan(
            item=row.item_id,
            depot=by_depot[row.depot_id],
            stock=promise.Stock(
                on_hand=row.on_hand,
                receipts=tuple(
                    promise.Receipt(on=each.on, quantity=each.quantity, sure=each.sure)
                    for each in receipts
                ),
                commitments=(*held.get(row.pk, ()), *ours.get(key, ())),
            ),
            lead_days=row.lead_days,
            minimum=row.minimum,
            told_at=max(row.told_at, heard) if heard else row.told_at,
            receipt_numbers={each.on: each.number for each in receipts},
            kept_for=names.get(row.pk, {}),
        )
    return found


def _heard_at() -> datetime | None:
    """When the back office last said that there is nothing newer; None where there may be."""
    row = ChangeFeed.objects.filter(name=FEED, position__gte=F("last")).first()
    return row.read_at if row else None


def _reserved(
    levels: list[Level],
) -> tuple[dict[int, list[promise.Commitment]], dict[int, dict[str, tuple[str, ...]]]]:
    """What the back office keeps for orders, by level; and what of it for which of ours."""
    held: dict[int, list[promise.Commitment]] = {}
    names: dict[int, dict[str, tuple[str, ...]]] = {}
    for row in Reservation.objects.filter(level__among=[row.pk for row in levels]):
        if row.order_number:
            known = names.setdefault(row.level_id, {})
            known[row.order_number] = (*known.get(row.order_number, ()), row.reference)
        held.setdefault(row.level_id, []).append(
            promise.Commitment(line=row.reference, quantity=row.quantity, by=row.by)
        )
    return held, names


class _Coming(NamedTuple):
    """What a plan reads of a receipt."""

    level_id: int
    number: str
    on: date
    quantity: Decimal
    sure: bool


def _coming(levels: list[Level]) -> dict[int, list[_Coming]]:
    found: dict[int, list[_Coming]] = {}
    rows = Receipt.objects.filter(level__among=[row.pk for row in levels])
    for row in map(_Coming._make, rows.values_list(*_Coming._fields)):
        found.setdefault(row.level_id, []).append(row)
    return found


def _ours(
    items: set[int],
    by_depot: Mapping[int, Depot],
    reported: set[tuple[str, int]],
) -> dict[tuple[int, int], list[promise.Commitment]]:
    usual = next(iter(by_depot), 0)
    found: dict[tuple[int, int], list[promise.Commitment]] = {}
    for tell in OURS:
        for row in tell(items):
            if (row.order_number, row.item) in reported:
                continue
            key = (row.item, row.depot or usual)
            one = promise.Commitment(line=f"ours:{row.line}", quantity=row.quantity, by=row.by)
            found.setdefault(key, []).append(one)
    return found
