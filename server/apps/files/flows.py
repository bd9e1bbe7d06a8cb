"""Adding, marking, taking away files; each is recorded with its record."""

from datetime import datetime
from pathlib import PurePath

from django.db import transaction

from apps.cleaning import clean
from apps.errors import Invalid, Missing, Refused, check_version
from apps.files.kinds import kind_of
from apps.files.models import PLACES, KeptFile
from apps.files.queries import Place, place_of, seen_by
from apps.files.store import put
from apps.journal.flows import record_changes
from apps.people.access import pick, sells
from apps.people.models import User
from apps.quotes.flows.starting import REVISED
from apps.quotes.models import Revision

MOST_OF_ONE = 100
#: What each place is called.
KINDS = {
    "customer": "customer",
    "deal": "deal",
    "revision": "quote",
    "order": "order",
    "activity": "activity",
}


def add_file(
    who: User, kind: str, record: int, *, name: str, body: bytes, line_key: str, now: datetime
) -> KeptFile:
    """Keep a file with a record. Raises ``Invalid`` for a kind or size that is not kept here.

    Its content is written before its row: a cut in between leaves a content that nobody names.
    """
    sells(who)
    place = place_of(who, kind, record)
    _refuse_fixed(place)
    found = kind_of(body)
    digest = put(body)
    with transaction.atomic():
        if (
            KeptFile.objects.filter(**{place.column: record}, removed_at=None).count()
            >= MOST_OF_ONE
        ):
            raise Invalid("too_many", path="file", facts={"what": "files", "most": MOST_OF_ONE})
        row = KeptFile(
            name=_named(name),
            media_type=found,
            size=len(body),
            digest=digest,
            line_key=_line(place, line_key),
            added_by=who,
            added_at=now,
        )
        setattr(row, f"{place.column}_id", record)
        row.save()
        record_changes(who, _what(row), _record(row), {"file": ("", row.name)})
    return row


def _named(name: str) -> str:
    plain = clean(PurePath(name.replace("\\", "/")).name).strip()
    return plain[-120:] or "file"


def _line(place: Place, key: str) -> str:
    if not key:
        return ""
    known = (
        place.column == "revision"
        and Revision.objects.filter(pk=place.record, lines__key=key).exists()
    )
    if not known:
        raise Missing("not_found", path="line", facts={"what": "line"})
    return key


def _refuse_fixed(place: Place) -> None:
    if place.fixed:
        raise Refused("files_fixed")


@transaction.atomic
def mark_file(who: User, pk: int, version: int, *, with_paper: bool) -> KeptFile:
    """Whether the buyer gets it too."""
    row = _own(who, pk, version)
    if row.revision_id is None and row.order_id is None:
        raise Refused("no_paper_here")
    before, row.with_paper = row.with_paper, with_paper
    return _kept(who, row, {f"file {row.name}: with the paper": (before, with_paper)})


@transaction.atomic
def remove_file(who: User, pk: int, version: int, *, removed: bool, now: datetime) -> KeptFile:
    """Take it away, or bring it back."""
    row = _own(who, pk, version)
    row.removed_at = now if removed else None
    change = (row.name, "") if removed else ("", row.name)
    return _kept(who, row, {"file": change})


def _own(who: User, pk: int, version: int) -> KeptFile:
    sells(who)
    row = pick(seen_by(who), pk, "file")
    row = KeptFile.objects.select_for_update().get(pk=row.pk)
    check_version(row.version, version, "file")
    column = next(each for each in PLACES if getattr(row, f"{each}_id") is not None)
    _refuse_fixed(place_of(who, KINDS[column], getattr(row, f"{column}_id")))
    return row


def _kept(who: User, row: KeptFile, changes: dict[str, tuple[object, object]]) -> KeptFile:
    row.version += 1
    row.save()
    record_changes(who, _what(row), _record(row), changes)
    return row


def _what(row: KeptFile) -> str:
    return next(KINDS[each] for each in PLACES if getattr(row, f"{each}_id") is not None)


def _record(row: KeptFile) -> int:
    if row.revision is not None:
        return row.revision.quote_id
    keys: list[int | None] = [row.customer_id, row.deal_id, row.order_id, row.activity_id]
    return next(key for key in keys if key)


def carry_over(before: Revision, after: Revision) -> None:
    """A revision begins with the files of the one before; their content is the same."""
    rows = list(before.files.filter(removed_at=None))
    for row in rows:
        row.pk, row.revision, row.version = None, after, 1
    KeptFile.objects.bulk_create(rows)


REVISED.append(carry_over)
