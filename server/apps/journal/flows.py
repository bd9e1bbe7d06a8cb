"""Writing the record of changes, in the transaction of the change itself."""

from collections.abc import Mapping
from datetime import datetime, timedelta

from apps.journal.models import Change, Made
from apps.people.models import User


def record_changes(
    who: User | None,
    what: str,
    record: int,
    changes: Mapping[str, tuple[object, object]],
    reason: str = "",
) -> None:
    """Note each field whose value differs; ``changes`` maps field to (before, after)."""
    record_each(who, what, {record: changes}, reason)


def record_each(
    who: User | None,
    what: str,
    changes: Mapping[int, Mapping[str, tuple[object, object]]],
    reason: str = "",
) -> None:
    """The same for many records of a kind at once, by their keys. One query."""
    Change.objects.bulk_create(
        Change(
            who=who,
            what=what,
            record=record,
            field=field[:80],
            before=_text(before),
            after=_text(after),
            reason=reason[:200],
        )
        for record, fields in changes.items()
        for field, (before, after) in fields.items()
        if before != after
    )


#: Whoever asks again, asks within these days.
REMEMBERED = timedelta(days=2)


def made_before(who: User, key: str) -> str:
    """What came of the request of that key: the answer that was kept, or empty."""
    row = Made.objects.filter(who=who, key=key).first()
    return row.answer if row else ""


def note_made(who: User, key: str, answer: str, now: datetime) -> None:
    """Keep what came of a request, in the transaction of what it made."""
    Made.objects.update_or_create(who=who, key=key, defaults={"answer": answer, "at": now})


def forget_made(now: datetime) -> None:
    """Answers to requests that nobody waits for any more."""
    Made.objects.filter(at__lt=now - REMEMBERED).delete()


def _text(value: object) -> str:
    return "" if value is None else str(value)[:300]
