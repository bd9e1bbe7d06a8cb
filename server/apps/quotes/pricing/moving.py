"""What a change of prices would do: to the open quotes, and to the cases that are kept."""

from collections.abc import Callable, Iterable
from copy import copy
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from apps.errors import FlowError
from apps.prices.flows import taken_back
from apps.prices.keeping import house_answer
from apps.prices.models import KeptCase
from apps.quotes.models import Revision
from apps.quotes.pricing.question import draft_lines, price_revision
from routecore.errors import CoreError

MOST = 300


@dataclass(frozen=True, slots=True, kw_only=True)
class Moved:
    """An open quote or a kept case whose net, or else its payable, a change would move.

    ``before`` and ``after`` are None where it cannot be priced. ``revision_id`` is 0 for a case.
    """

    name: str
    revision_id: int
    customer: str
    currency: str
    before: Decimal | None
    after: Decimal | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Preview:
    """What was looked at, and what of it would move."""

    open_quotes: int
    kept_cases: int
    quotes: tuple[Moved, ...]
    cases: tuple[Moved, ...]


def open_revisions(today: date) -> list[Revision]:
    """The drafts, and the issued quotes that a buyer can still accept, newest first."""
    rows = (
        Revision.objects.filter(valid_until__gte=today, quote__declined_at__isnull=True)
        .filter(quote__order_number__isnull=True)
        .select_related("quote__customer__price_list", "quote__customer__parent")
        .prefetch_related("lines")
        .order_by("quote_id", "-pk")
    )
    newest: dict[int, Revision] = {}
    for row in rows:
        newest.setdefault(row.quote_id, row)
    return list(newest.values())[:MOST]


def what_would_move(change: Callable[[], object], *, today: date, on: date) -> Preview:
    """Price the open quotes and the kept cases on a day, before the change and with it.

    The change is made in a transaction that is taken back. What moved for other reasons since a
    quote was priced is the same on both sides and does not show.
    """
    revisions = open_revisions(today)
    cases = list(KeptCase.objects.order_by("name")[:MOST])
    before = [_sums_of(row, on) for row in revisions], [_case_sums(row, on) for row in cases]
    after = taken_back(
        change,
        lambda: ([_sums_of(row, on) for row in revisions], [_case_sums(row, on) for row in cases]),
    )
    return Preview(
        open_quotes=len(revisions),
        kept_cases=len(cases),
        quotes=_moved(map(_quote_name, revisions), before[0], after[0]),
        cases=_moved(map(_case_name, cases), before[1], after[1]),
    )


Name = tuple[str, int, str, str]
#: Net and payable; None where it cannot be priced.
Sums = tuple[Decimal, Decimal] | None


def _moved(
    names: Iterable[Name], before: Iterable[Sums], after: Iterable[Sums]
) -> tuple[Moved, ...]:
    found = []
    for name, old, new in zip(names, before, after, strict=True):
        if old != new:
            part = 1 if old and new and old[0] == new[0] else 0
            found.append(
                Moved(
                    name=name[0],
                    revision_id=name[1],
                    customer=name[2],
                    currency=name[3],
                    before=old[part] if old else None,
                    after=new[part] if new else None,
                )
            )
    return tuple(found)


def _quote_name(row: Revision) -> Name:
    return f"{row.quote.number} {row.letter}", row.pk, row.quote.customer.name, row.currency


def _case_name(row: KeptCase) -> Name:
    return row.name, 0, row.customer, row.currency


def _sums_of(row: Revision, on: date) -> Sums:
    again = copy(row)
    again.on = on
    try:
        lines = draft_lines(row.lines.all())
        totals = price_revision(again, row.quote.customer, lines).totals
    except FlowError:
        return None
    return totals.net, totals.payable


def _case_sums(row: KeptCase, on: date) -> Sums:
    try:
        totals = house_answer(row.case, on=on).totals
    except (FlowError, CoreError):
        return None
    return totals.net, totals.payable
