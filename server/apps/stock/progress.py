"""How far the back office's changes have been read: the feed's position, and what is asked for anew.

Everything is asked for anew by reading the feed from its beginning; one kind of things by reading that
kind alone beside it. What is known stays in use until the other has come.
"""

from datetime import datetime, timedelta

from django.db import transaction
from django.db.models import F, Model, QuerySet

from apps.errors import Missing
from apps.people.access import fulfils
from apps.people.models import User
from apps.stock.models import ChangeFeed, Depot, Level, Reported

FEED = "changes"
#: How often it is written down that there is nothing new.
READ_EVERY = timedelta(minutes=1)
#: Tables that keep under which number a thing was told last, by its kind. The areas above add theirs.
NUMBERED: dict[str, type[Model]] = {"depot": Depot, "stock": Level}


def feed() -> ChangeFeed:
    """How far the changes have been read."""
    return ChangeFeed.objects.get_or_create(name=FEED)[0]


def anew_by_kind() -> QuerySet[ChangeFeed]:
    """The kinds that are being asked for anew, each with how far it has come."""
    return ChangeFeed.objects.exclude(name=FEED).order_by("name")


def kind_of(row: ChangeFeed) -> str:
    """Which kind a row of ``anew_by_kind`` reads."""
    return row.name.removeprefix(f"{FEED}.")


def quiet(at: ChangeFeed, epoch: str, last: int, now: datetime) -> bool:
    """Whether an answer without changes says nothing that is not written down: once a minute it is."""
    same = at.epoch == epoch and at.last == last and not at.problem and at.resync_from is None
    return same and at.read_at is not None and now - at.read_at < READ_EVERY


@transaction.atomic
def move_on(position: int, *, epoch: str, last: int, now: datetime, anew: bool = False) -> None:
    """A page was taken in: it is not asked for again. ``anew``: the other side counts from its beginning."""
    ChangeFeed.objects.get_or_create(name=FEED)
    row = ChangeFeed.objects.select_for_update().get(name=FEED)
    if anew:
        _forget_numbers()
        Reported.objects.all().delete()
        anew_by_kind().delete()
        row.position = 0
    else:
        row.position = max(row.position, min(position, last))
    row.epoch, row.last, row.read_at = epoch or row.epoch, last, now
    row.problem, row.failing_since = "", None
    if row.position >= row.last:
        row.resync_from = None
    row.save()


@transaction.atomic
def move_kind_on(kind: str, position: int, *, last: int) -> None:
    """A page of a kind was taken in; read to its end, its row goes."""
    rows = ChangeFeed.objects.filter(name=f"{FEED}.{kind}")
    if position >= last:
        rows.delete()
    else:
        rows.filter(position__lt=position).update(position=position, last=last)


def note_trouble(what: str, now: datetime) -> None:
    """The back office tells no changes, and why."""
    row = feed()
    if row.problem != what:
        row.problem, row.failing_since = what, row.failing_since or now
        row.save(update_fields=["problem", "failing_since"])


@transaction.atomic
def resync(who: User, kind: str = "", *, now: datetime) -> None:
    """Everything is asked for anew, or one kind of things; what is known stays in use until then."""
    fulfils(who)
    if not kind:
        forget_position()
        ChangeFeed.objects.filter(name=FEED).update(resync_from=now)
    elif kind not in NUMBERED:
        raise Missing("not_found", facts={"what": "kind"})
    else:
        _forget_numbers(kind)
        begun = {"position": 0, "last": feed().last, "resync_from": now}
        ChangeFeed.objects.update_or_create(name=f"{FEED}.{kind}", defaults=begun)


@transaction.atomic
def forget_position() -> None:
    """The changes are read from their beginning; what comes counts as newer than what is known."""
    ChangeFeed.objects.get_or_create(name=FEED)
    ChangeFeed.objects.filter(name=FEED).update(position=0)
    anew_by_kind().delete()
    _forget_numbers()


def _forget_numbers(kind: str = "") -> None:
    """What is known counts as older than anything that comes, and still as told: its number turns below 0."""
    for table in [NUMBERED[kind]] if kind else NUMBERED.values():
        table._base_manager.filter(change__gt=0).update(change=-F("change"))
