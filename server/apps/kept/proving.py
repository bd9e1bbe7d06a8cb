"""Every night the kept figures are proved, a few thousand rows at a time, beside all other work."""

from collections.abc import Callable
from datetime import datetime, timedelta
import logging
from threading import Thread
import time

from django.db import connection
from django.utils import timezone

from apps.kept.figures import DECLARED
from apps.kept.models import Proof

log = logging.getLogger("vivid.figures")
#: By the house's clock; a night that was missed is made up for.
NIGHT = range(2, 5)
SOON, LATE = timedelta(hours=20), timedelta(hours=28)
KEPT_FOR = timedelta(days=60)
CHUNK, BREATH_SECONDS = 2_000, 0.05
LOOK_SECONDS = 60.0

Clock = Callable[[], datetime]


def is_due(last: datetime | None, now: datetime) -> bool:
    """Whether figures are to be proved now; never proved before, they are."""
    if last is None or now - last > LATE:
        return True
    return now - last > SOON and timezone.localtime(now).hour in NIGHT


def prove(clock: Clock, breath: float = BREATH_SECONDS) -> Proof:
    """Prove all figures, and write down what came of it."""
    wrong: dict[str, list[int]] = {}
    for kept in DECLARED:
        for keys in kept.wrong_by_parts(CHUNK):
            if keys:
                wrong.setdefault(kept.table, []).extend(keys)
            time.sleep(breath)
    wrong = {table: keys[:20] for table, keys in wrong.items()}
    if wrong:
        log.error("kept figures do not follow from their rows: %s", wrong)
    Proof.objects.filter(at__lt=clock() - KEPT_FOR).delete()
    return Proof.objects.create(at=clock(), wrong=wrong)


class Nightly:
    """Proves when it is due, in a thread of its own: who drains the outbox does not wait for it."""

    def __init__(self, clock: Clock):
        self._clock = clock
        self._thread: Thread | None = None
        self._looked: float = -LOOK_SECONDS

    def look(self) -> bool:
        """Begin where it is due, looked up once a minute; whether it began."""
        if time.monotonic() - self._looked < LOOK_SECONDS:
            return False
        self._looked = time.monotonic()
        if self._thread is not None and self._thread.is_alive():
            return False
        last = Proof.objects.values_list("at", flat=True).first()
        if not is_due(last, self._clock()):
            return False
        self._thread = Thread(target=self._prove, name="figures", daemon=True)
        self._thread.start()
        return True

    def _prove(self) -> None:
        try:
            prove(self._clock)
        except Exception:
            log.exception("the figures could not be proved")
        finally:
            connection.close()


def last_wrong() -> dict[str, list[int]]:
    """What was wrong at the last proof."""
    last = Proof.objects.first()
    return dict(last.wrong) if last else {}
