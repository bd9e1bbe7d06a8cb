"""A draft is thrown away, or the buyer says no."""

from datetime import date, datetime

from django.db import transaction

from apps.diary.flows import settle_follow_ups
from apps.errors import Invalid, check_version
from apps.journal.flows import record_changes
from apps.people.access import sells
from apps.people.models import User
from apps.quotes.models import Quote
from apps.quotes.state import lock_quote, lock_revision, require


@transaction.atomic
def discard_draft(who: User, revision_id: int, version: int, *, today: date) -> None:
    """Throw a draft away; the quote goes with it where it was the only revision."""
    sells(who)
    revision = lock_revision(who, revision_id)
    require("discard", revision, today)
    check_version(revision.version, version, "quote")
    quote = revision.quote
    revision.delete()
    record_changes(who, "quote", quote.pk, {f"revision {revision.letter}": ("draft", "discarded")})
    if not quote.revisions.exists():
        quote.delete()


@transaction.atomic
def decline(who: User, quote_id: int, *, reason: str, today: date, now: datetime) -> Quote:
    """The buyer said no, and why; what asks about the quote is done."""
    sells(who)
    quote, newest = lock_quote(who, quote_id)
    require("decline", newest, today)
    if not reason.strip():
        raise Invalid("required", path="reason", facts={"what": "decline"})
    quote.declined_at, quote.declined_by = now, who
    quote.decline_reason = reason.strip()
    quote.save(update_fields=["declined_at", "declined_by", "decline_reason"])
    settle_follow_ups(quote.pk, now=now)
    record_changes(who, "quote", quote.pk, {"state": ("issued", "declined")}, reason)
    return quote
