"""Taking in the back office's changes: each for itself, the newest of a thing wins, however often it comes.

A change tells its thing whole, so that nothing is lost where changes between were missed. What cannot be
taken in is set aside with its reason; the rest goes on.
"""

from collections.abc import Callable, Iterable
from datetime import datetime
import json
import logging
from typing import Any

from django.db import transaction
from django.db.models import QuerySet
from django.db.utils import IntegrityError, OperationalError

from apps.catalogue.models import Item
from apps.errors import Refused, check_version
from apps.people.access import fulfils, pick_locked
from apps.people.models import User
from apps.stock.models import (
    APART,
    LET_GO,
    TAKEN_IN,
    Depot,
    Level,
    Receipt,
    Reported,
    Reservation,
    SetAside,
)
from apps.stock.reading import Change, DepotTold, StockTold, read_change
from apps.told import Unfit, mark_of, raw_text

log = logging.getLogger("vivid.stock")
MOST_RAW = 60_000
#: Of what is set aside, so much is looked at again at once.
MOST_AGAIN = 5_000


#: What is done once an item's stock was told anew, with the items; the areas above add theirs.
AFTER: list[Callable[[set[int]], None]] = []


def take_in_changes(raws: Iterable[object]) -> int:
    """Take in changes as they came; how many were new."""
    new = [raw for raw in raws if take_in_one(raw)]
    if new:
        try_what_is_known_now()
        _tell_after(new)
    return len(new)


def _tell_after(new: Iterable[object]) -> None:
    """Whoever builds on stock hears of it; what they stumble over holds no news up."""
    codes = {ref.partition("@")[0] for kind, ref in map(_name_of, new) if kind == "stock"}
    items = (
        set(Item.objects.filter(code__in=codes).values_list("pk", flat=True)) if codes else set()
    )
    for tell in AFTER if items else ():
        try:
            tell(items)
        except OperationalError:
            raise
        except Exception:
            log.exception("what builds on stock could not be looked at anew")


def take_in_one(raw: object) -> int:
    """Take one in, or set it aside; 1 where it told something new."""
    try:
        change = read_change(raw)
        with transaction.atomic():
            fresh = _apply_once(change)
            if fresh:
                _settle_older(change, raw)
        return fresh
    except Unfit as reason:
        return _set_aside(raw, reason.facts)
    except OperationalError:
        raise
    except Exception:
        log.exception("a change of the back office could not be taken in")
        return _set_aside(raw, {"what": "unexpected"})


def _apply_once(change: Change) -> int:
    """Somebody else may take in the same new thing in the same moment: then it is there the second time."""
    try:
        with transaction.atomic():
            return _apply(change)
    except IntegrityError:
        return _apply(change)


def _apply(change: Change) -> int:
    return APPLY[type(change.told)](change)


def _depot(change: Change) -> int:
    told = change.told
    assert isinstance(told, DepotTold)
    row = Depot.objects.select_for_update().filter(code=told.code).first() or Depot(code=told.code)
    if row.pk and row.change >= change.number:
        return 0
    row.name, row.country, row.region = told.name, told.country, told.region
    row.transit_days, row.transit_days_abroad = told.transit_days, told.transit_days_abroad
    row.change = change.number
    row.save()
    return 1


def _stock(change: Change) -> int:
    told = change.told
    assert isinstance(told, StockTold)
    item = Item.objects.filter(code=told.item).only("pk").first()
    if item is None:
        raise Unfit("unknown_item", item=told.item)
    depot = Depot.objects.filter(code=told.depot).first()
    if depot is None:
        raise Unfit("unknown_depot", depot=told.depot)
    row = Level.objects.select_for_update().filter(item=item, depot=depot).first()
    if row is not None and row.change >= change.number:
        return 0
    row = row or Level(item=item, depot=depot)
    row.on_hand, row.lead_days, row.minimum = told.on_hand, told.lead_days, told.minimum
    row.told_at, row.change = change.at, change.number
    row.save()
    _coming_and_kept(row, told)
    return 1


def _coming_and_kept(row: Level, told: StockTold) -> None:
    """What comes of an item and what is kept of it, in place of what was told before."""
    Receipt.objects.filter(level=row).delete()
    Receipt.objects.bulk_create(
        Receipt(level=row, number=each.number, on=each.on, quantity=each.quantity, sure=each.sure)
        for each in told.receipts
    )
    Reported.objects.bulk_create(
        (
            Reported(order_number=each.order_number, item_id=row.item_id)
            for each in told.reservations
            if each.order_number
        ),
        ignore_conflicts=True,
    )
    Reservation.objects.filter(level=row).delete()
    Reservation.objects.bulk_create(
        Reservation(
            level=row,
            reference=each.reference,
            order_number=each.order_number,
            quantity=each.quantity,
            by=each.by,
        )
        for each in told.reservations
    )


#: What takes a change in, by what it tells; 1 where it told something new. The areas above add theirs.
APPLY: dict[type, Callable[[Change], int]] = {DepotTold: _depot, StockTold: _stock}
#: What a change may wait for: the reason it is set aside for, the fact that names it, what is known of it.
WAITS: list[tuple[str, str, Callable[[], QuerySet[Any]]]] = [
    ("unknown_item", "item", lambda: Item.objects.values_list("code", flat=True)),
    ("unknown_depot", "depot", lambda: Depot.objects.values_list("code", flat=True)),
]


def _name_of(raw: object) -> tuple[str, str]:
    """Kind and id of a change, as far as they can be read."""
    if not isinstance(raw, dict):
        return "", ""
    kind, ref = raw.get("kind"), raw.get("id")
    plain = [part if isinstance(part, str) and part.isprintable() else "" for part in (kind, ref)]
    return plain[0][:20], plain[1][:80]


@transaction.atomic
def _set_aside(raw: object, facts: dict[str, str]) -> int:
    text = raw_text(raw, MOST_RAW)
    kind, ref = _name_of(raw)
    row, created = SetAside.objects.get_or_create(
        mark=mark_of(text),
        defaults={"kind": kind, "ref": ref, "raw": text, "facts": facts},
    )
    if not created and row.state == TAKEN_IN:
        row.state, row.facts = APART, facts
        row.save(update_fields=["state", "facts"])
    return int(created)


def _settle_older(change: Change, raw: object) -> None:
    """What was set aside of the same thing is told anew by this change."""
    kind, ref = _name_of(raw)
    if ref:
        rows = SetAside.objects.filter(state=APART, kind=kind, ref=ref)
        rows.update(state=TAKEN_IN, settled_at=change.at)


def try_what_is_known_now() -> None:
    """Take in what was set aside for an item or a depot that has come since. Four queries, if none has."""
    waiting = SetAside.objects.filter(state=APART)
    for what, name, rows in WAITS:
        told = waiting.filter(facts__what=what)
        by_code: dict[str, list[int]] = {}
        for pk, facts in told.order_by("pk").values_list("pk", "facts")[:MOST_AGAIN]:
            by_code.setdefault(facts.get(name, ""), []).append(pk)
        known = _known(rows(), list(by_code)) if by_code else ()
        for row in waiting.filter(pk__in=[pk for code in known for pk in by_code[code]]):
            _again(row)


def _known(rows: QuerySet[Any], names: list[str]) -> list[str]:
    """Which of these are there. One query."""
    (column,) = rows.query.values_select
    return list(rows.filter(**{f"{column}__in": names}))


def _again(row: SetAside) -> bool:
    try:
        change = read_change(json.loads(row.raw))
        with transaction.atomic():
            _apply(change)
    except (Unfit, ValueError) as reason:
        row.facts = reason.facts if isinstance(reason, Unfit) else row.facts
        row.save(update_fields=["facts"])
        return False
    row.state = TAKEN_IN
    row.save(update_fields=["state"])
    return True


@transaction.atomic
def try_again(who: User, aside_id: int, version: int, *, now: datetime) -> SetAside:
    """Read a change once more that was set aside, now that something else has changed."""
    row = _locked(who, aside_id, version)
    if _again(row):
        row.settled_by, row.settled_at = who, now
    row.version += 1
    row.save()
    return row


@transaction.atomic
def let_go(who: User, aside_id: int, version: int, *, now: datetime) -> None:
    """Let a change go that was set aside; its thing is told anew with the next one."""
    row = _locked(who, aside_id, version)
    row.state, row.settled_by, row.settled_at = LET_GO, who, now
    row.version += 1
    row.save()


def _locked(who: User, aside_id: int, version: int) -> SetAside:
    fulfils(who)
    row = pick_locked(SetAside.objects.all(), aside_id, "news")
    check_version(row.version, version, "news")
    if row.state != APART:
        raise Refused("not_waiting")
    return row
