"""What a change of prices would do to the open quotes."""

from collections.abc import Iterator
from copy import copy
from datetime import date

from apps.prices.flows import Moved
from apps.quotes.models import Revision
from apps.quotes.pricing import draft_lines, price_revision

MOST = 300


def open_revisions(today: date) -> list[Revision]:
    """The drafts, and the issued quotes that a buyer can still accept, newest first."""
    rows = (
        Revision.objects.filter(valid_until__gte=today, quote__declined_at__isnull=True)
        .exclude(quote__revisions__order__isnull=False)
        .select_related("quote__customer__price_list", "quote__customer__parent")
        .prefetch_related("lines")
        .order_by("quote_id", "-pk")
    )
    newest: dict[int, Revision] = {}
    for row in rows:
        newest.setdefault(row.quote_id, row)
    return list(newest.values())[:MOST]


def moved_quotes(revisions: list[Revision], today: date) -> Iterator[Moved]:
    """Those whose net as of today differs from what they say now."""
    for row in revisions:
        again = copy(row)
        again.on = today
        net = price_revision(again, row.quote.customer, draft_lines(row.lines.all())).totals.net
        if net != row.net:
            yield Moved(
                number=f"{row.quote.number} {row.letter}",
                revision_id=row.pk,
                customer=row.quote.customer.name,
                currency=row.currency,
                before=row.net,
                after=net,
            )
