"""What becomes of an offer that was not wholly ordered: the rest is let go, or a lapsed one is allowed."""

from datetime import date, datetime

from django.db import transaction

from apps.diary.flows import settle_follow_ups
from apps.errors import Forbidden, Invalid
from apps.journal.flows import record_changes
from apps.people.access import sells
from apps.people.models import ADMIN, LEAD, User
from apps.quotes.models import Quote
from apps.quotes.state import lock_quote, require


@transaction.atomic
def close_rest(who: User, quote_id: int, *, reason: str, today: date, now: datetime) -> Quote:
    """Nothing more will be ordered of it, and why; what asks about the quote is done."""
    sells(who)
    quote, newest = lock_quote(who, quote_id)
    require("close_rest", newest, today)
    quote.rest_reason = _said(reason)
    quote.rest_closed_at, quote.rest_closed_by = now, who
    quote.save(update_fields=["rest_closed_at", "rest_closed_by", "rest_reason"])
    settle_follow_ups(quote.pk, now=now)
    record_changes(who, "quote", quote.pk, {"state": ("part_ordered", "ordered")}, reason.strip())
    return quote


@transaction.atomic
def ask_late(who: User, quote_id: int, *, reason: str, today: date, now: datetime) -> Quote:
    """Ask a lead to let a lapsed quote be ordered as it was offered. A second time changes the reason."""
    sells(who)
    quote, newest = lock_quote(who, quote_id)
    require("allow", newest, today)
    quote.late_reason = _said(reason)
    quote.late_asked_at, quote.late_asked_by = now, who
    quote.save(update_fields=["late_asked_at", "late_asked_by", "late_reason"])
    return quote


@transaction.atomic
def allow_late(who: User, quote_id: int, *, until: date, reason: str, today: date) -> Quote:
    """Let a lapsed quote be ordered, at its prices, until a day; a lead's right, recorded with its reason."""
    if who.role not in (LEAD, ADMIN):
        raise Forbidden("not_for_role", facts={"what": "sign"})
    quote, newest = lock_quote(who, quote_id)
    require("allow", newest, today)
    if until < today:
        raise Invalid("date_gone_by", path="until")
    before = quote.valid_until
    quote.allowed_until, quote.allowed_by, quote.allowed_reason = until, who, _said(reason)
    quote.late_asked_at = None
    quote.save(update_fields=["allowed_until", "allowed_by", "allowed_reason", "late_asked_at"])
    quote.refresh_from_db()
    record_changes(
        who, "quote", quote.pk, {"may be ordered until": (before, until)}, reason.strip()
    )
    return quote


def _said(reason: str) -> str:
    words = reason.strip()
    if not words:
        raise Invalid("required", path="reason", facts={"what": "late"})
    return words
