"""Sign-off: asked with a reason and figures, answered by somebody who may, for exactly what was asked."""

from collections.abc import Sequence
from datetime import date, datetime
from decimal import Decimal

from django.db import transaction

from apps.errors import Forbidden, Invalid, Refused
from apps.journal.flows import record_changes
from apps.people.access import owned, pick, pick_locked
from apps.people.models import ADMIN, LEAD, User
from apps.quotes.drafts import digest
from apps.quotes.models import Revision, SignOff
from apps.quotes.seen import Seen, check_seen
from apps.quotes.state import lock_revision, require
from routecore.totals import Excess

GRANTED, REFUSED = "granted", "refused"

#: What of a quote is signed: all that binds the house or costs it money. Not who it is sent to.
SIGNED = (
    *("valid_until", "currency", "payable_step", "discount_percent", "discount_amount"),
    *("discount_on", "charges", "terms_days", "terms_end_of_month", "terms_more"),
    *("message", "requested_on", "deliver_to"),
)
SIGNED_OF_A_LINE = (
    *("key", "position", "kind", "alternative_to", "item_id", "text", "quantity", "unit"),
    *("typed_price", "price_reason", "discount_percent", "discount_amount"),
)
SIGNED_FIGURES = ("id", "price", "per", "unit", "net", "counted", "cost")


def fingerprint(revision: Revision) -> str:
    """A mark of all that a signer sees or that costs the house money.

    Terms, validity and words; every line's item, quantity, price, discount and cost; the sums.
    """
    typed = [
        [getattr(line, name) for name in SIGNED_OF_A_LINE]
        for line in sorted(revision.lines.all(), key=lambda line: line.position)
    ]
    figures = [[line.get(name) for name in SIGNED_FIGURES] for line in revision.priced["lines"]]
    totals = revision.priced["totals"]
    terms = [getattr(revision, name) for name in SIGNED]
    return digest([terms, typed, figures, totals["net"], totals["payable"]])


def sign_off_of(revision: Revision) -> SignOff | None:
    """The newest sign-off that is for the revision as it stands."""
    asked = list(revision.sign_offs.all()) if revision.priced["excesses"] else []
    if not asked:
        return None
    mark = fingerprint(revision)
    return next((row for row in asked if row.fingerprint == mark), None)


def require_sign_off(revision: Revision, excesses: Sequence[Excess]) -> None:
    """Refuse to go on unless somebody signed off exactly this, and every limit that it exceeds."""
    found = sign_off_of(revision)
    if found is None or found.answer != GRANTED or not _covered(found, excesses):
        raise Refused("sign_off_needed", path="excesses", facts={"count": len(excesses)})


def _covered(signed: SignOff, excesses: Sequence[Excess]) -> bool:
    """Whether each excess was before the signer, and has not grown since."""
    seen = {(row["code"], row["line"]): row["found"] for row in signed.excesses}
    for excess in excesses:
        if (excess.code, excess.line) not in seen:
            return False
        before = seen[excess.code, excess.line]
        if excess.code == "credit" and excess.found and Decimal(before) < excess.found:
            return False
    return True


@transaction.atomic
def ask_sign_off(
    who: User,
    revision_id: int,
    reason: str,
    *,
    today: date,
    now: datetime,
    seen: Seen | None = None,
) -> SignOff:
    """Ask for exactly what was ``seen``. A second time for the same changes the reason."""
    revision = lock_revision(who, revision_id)
    require("ask", revision, today)
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
    today: date,
    now: datetime,
    seen: Seen | None = None,
) -> SignOff:
    """Grant or refuse; by a lead of the team, never by the one who asked or whose quote it is."""
    if who.role not in (LEAD, ADMIN):
        raise Forbidden("not_for_role", facts={"what": "sign"})
    known = SignOff.objects.filter(owned(who, "revision__quote__owner"))
    row = pick(known, sign_off_id, "sign-off")
    revision = lock_revision(who, row.revision_id)
    row = pick_locked(known.select_related("asked_by"), sign_off_id, "sign-off")
    if row.asked_by_id == who.pk:
        raise Forbidden("own_request")
    if revision.quote.owner_id == who.pk:
        raise Forbidden("own_quote")
    check_seen(revision, seen)
    if row.answer:
        raise Refused("answered")
    require("sign", revision, today)
    if row.fingerprint != fingerprint(revision):
        raise Refused("changed")
    row.answer = GRANTED if granted else REFUSED
    row.answered_by, row.answered_at, row.comment = who, now, comment.strip()
    row.save()
    record_changes(
        who,
        "quote",
        revision.quote_id,
        {f"sign-off {revision.letter}": ("asked", row.answer)},
        comment,
    )
    return row
