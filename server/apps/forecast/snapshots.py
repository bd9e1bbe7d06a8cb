"""Snapshots are taken: each deal's way of standing is written down once, and ends where it changed."""

from collections.abc import Callable
from datetime import date, datetime
import logging

from django.db import IntegrityError, transaction
from django.db.models import Case, Exists, F, OuterRef, Q, Value, When
from django.utils import timezone

from apps.deals.models import OPEN, Deal
from apps.errors import Invalid
from apps.forecast.learning import count_up
from apps.forecast.models import STILL, Seen, Snapshot
from apps.people.access import sells
from apps.people.models import User

log = logging.getLogger("vivid.forecast")
BATCH = 1_000
#: What a snapshot keeps of a deal, by what it is called there.
KEPT = ("owner_id", "stage_id", "outcome", "amount", "probability", "decision_on", "confidence")
Clock = Callable[[], datetime]


def take_tonight(clock: Clock) -> bool:
    """The night's snapshot, at the first chance after midnight by the house's clock; whether it was taken now."""
    now = clock()
    night = timezone.localdate(now)
    if Snapshot.objects.filter(night=night).exists():
        return False
    try:
        with transaction.atomic():
            _take(Snapshot.objects.create(at=now, night=night))
    except IntegrityError:
        return False  # another worker was there first
    log.info("the night's snapshot of the deals is taken")
    return True


@transaction.atomic
def keep_snapshot(who: User, note: str, now: datetime) -> Snapshot:
    """One by hand, under a name."""
    sells(who)
    note = " ".join(note.split())
    if not note:
        raise Invalid("required", path="note")
    made = Snapshot.objects.create(at=now, who=who, note=note)
    _take(made)
    return made


def last_until(day: date) -> Snapshot | None:
    """The last snapshot of this day, or of the last day before it that has one."""
    end = timezone.make_aware(datetime.combine(day, datetime.max.time()))
    return Snapshot.objects.filter(at__lte=end).order_by("at").last()


def _take(snapshot: Snapshot) -> None:
    """What changed ends; what is new begins. Each deal stands in one way, whoever changes it meanwhile.

    What earlier deals teach is counted with it, so that nobody waits for that.
    """
    moment = snapshot.at
    as_now = {name: F(f"deal__{name}") for name in KEPT}
    changed = Seen.objects.filter(until=STILL).exclude(**as_now).values_list("pk", flat=True)
    for keys in _parts(list(changed)):
        Seen.objects.filter(pk__in=keys).update(until=moment)
    fresh = Deal.objects.filter(
        ~Exists(Seen.objects.filter(deal=OuterRef("pk"), until=STILL)),
        Q(outcome=OPEN) | Q(Exists(Seen.objects.filter(deal=OuterRef("pk")))),
    )
    own = Case(When(own_probability_percent=None, then=Value(False)), default=Value(True))
    rows = fresh.order_by("pk").annotate(own=own).values("pk", *KEPT, "own")
    Seen.objects.bulk_create(
        (Seen(deal_id=row.pop("pk"), since=moment, **row) for row in rows.iterator(BATCH)),
        batch_size=BATCH,
    )
    snapshot.learnt = count_up(moment)
    snapshot.save(update_fields=["learnt"])


def _parts(keys: list[int]) -> list[list[int]]:
    return [keys[at : at + BATCH] for at in range(0, len(keys), BATCH)]
