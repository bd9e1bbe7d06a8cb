"""Sign-off: asked with a reason and figures, answered by somebody who may, for exactly what was asked."""

from collections.abc import Sequence
from datetime import datetime
import hashlib
import json

from django.db import transaction

from apps.errors import Forbidden, Invalid, Refused
from apps.journal.flows import record_changes
from apps.people.access import owned, pick_locked
from apps.people.models import ADMIN, LEAD, User
from apps.quotes.models import Revision, SignOff
from apps.quotes.queries import own_revision
from apps.quotes.seen import Seen, check_seen
from routecore.totals import Excess

GRANTED, REFUSED = "granted", "refused"


def fingerprint(revision: Revision) -> str:
    """A mark of the lines, prices and sums; it changes as soon as one of them does."""
    lines = [
        [line[name] for name in ("id", "price", "per", "unit", "net", "counted")]
        for line in revision.priced["lines"]
    ]
    figures = [lines, revision.priced["totals"]["net"], revision.priced["totals"]["payable"]]
    return hashlib.sha256(json.dumps(figures).encode()).hexdigest()


def sign_off_of(revision: Revision) -> SignOff | None:
    """The newest sign-off that is for the revision as it stands."""
    if not revision.priced["excesses"]:
        return None
    mark = fingerprint(revision)
    return next((row for row in revision.sign_offs.all() if row.fingerprint == mark), None)


def require_sign_off(revision: Revision, excesses: Sequence[Excess]) -> None:
    """Refuse to go on unless somebody signed off exactly this."""
    found = sign_off_of(revision)
    if found is not None and found.answer == GRANTED:
        return
    raise Refused("sign_off_needed", path="excesses", facts={"count": len(excesses)})


@transaction.atomic
def ask_sign_off(
    who: User, revision_id: int, reason: str, *, now: datetime, seen: Seen | None = None
) -> SignOff:
    """Ask for exactly what was ``seen``. A second time for the same changes the reason."""
    revision = own_revision(who, revision_id, lock=True)
    check_seen(revision, seen)
    if not revision.priced["excesses"]:
        raise Refused("nothing_to_sign")
    if not reason.strip():
        raise Invalid("required", path="reason", facts={"what": "sign_off"})
    known = sign_off_of(revision)
    if known is not None and not known.answer:
        known.reason = reason.strip()
        known.save(update_fields=["reason"])
        return known
    return SignOff.objects.create(
        revision=revision,
        fingerprint=fingerprint(revision),
        reason=reason.strip(),
        excesses=revision.priced["excesses"],
        asked_by=who,
        asked_at=now,
    )


@transaction.atomic
def answer_sign_off(
    who: User,
    sign_off_id: int,
    *,
    granted: bool,
    comment: str,
    now: datetime,
    seen: Seen | None = None,
) -> SignOff:
    """Grant or refuse; by a lead of the team, never by the one who asked."""
    if who.role not in (LEAD, ADMIN):
        raise Forbidden("not_for_role", facts={"what": "sign"})
    rows = SignOff.objects.filter(owned(who, "revision__quote__owner")).select_related(
        "revision__quote", "asked_by"
    )
    row = pick_locked(rows, sign_off_id, "sign-off")
    if row.asked_by_id == who.pk:
        raise Forbidden("own_request")
    check_seen(row.revision, seen)
    if row.answer:
        raise Refused("answered")
    if row.revision.issued_at is not None or row.fingerprint != fingerprint(row.revision):
        raise Refused("changed")
    row.answer = GRANTED if granted else REFUSED
    row.answered_by, row.answered_at, row.comment = who, now, comment.strip()
    row.save()
    record_changes(
        who,
        "quote",
        row.revision.quote_id,
        {f"sign-off {row.revision.letter}": ("asked", row.answer)},
        comment,
    )
    return row
