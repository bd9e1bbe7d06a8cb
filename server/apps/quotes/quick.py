"""The price while somebody types: the same computation, with the prices of a moment ago.

Nothing is stored. What the house has (items, lists, agreements, rules, rates, taxes) is kept in
memory for a few seconds per quote; the save that follows the typing reads it anew and has the last
word.
"""

from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from threading import Lock
from time import monotonic

from apps.catalogue.queries import core_items, tax_table
from apps.people.access import owned, pick
from apps.people.models import User
from apps.prices.queries import price_book
from apps.quotes.drafts import Draft, content_mark, take_terms
from apps.quotes.models import Revision
from apps.quotes.pricing.answers import house_problems
from apps.quotes.pricing.question import DraftLine, Prices, question_with, typing_form
from apps.quotes.pricing.verdicts import Checks, checks_of
from apps.quotes.seen import figures_mark
from routecore.casefile.writer import Json

SECONDS = 30.0
MOST_KEPT = 64


@dataclass(frozen=True, slots=True)
class _Kept:
    prices: Prices
    at: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Quick:
    """The answer and its verdicts; the limits are judged by the save that follows."""

    answer: Json
    checks: Checks
    mark: str


_kept: OrderedDict[tuple[int, date, frozenset[int]], _Kept] = OrderedDict()
_lock = Lock()


def forget() -> None:
    """Forget what is kept: the next answer reads everything anew."""
    with _lock:
        _kept.clear()


def quick_answer(
    who: User, revision_id: int, draft: Draft, *, today: date, trails: Sequence[str] = ()
) -> Quick:
    """The draft as typed, priced; everything only of the lines named. Three queries at most times.

    Raises ``Invalid`` with the path to the line that the core refuses.
    """
    rows = Revision.objects.filter(owned(who, "quote__owner"), issued_at__isnull=True)
    joined = rows.select_related("quote__customer__price_list", "quote__customer__parent")
    revision = pick(joined.defer("priced", "case"), revision_id, "draft")
    if draft.as_of_today:
        revision.on = today
    take_terms(revision, draft)
    prices = _prices(revision, draft.lines)
    priced = question_with(prices, revision, draft.lines).answer()
    answer = typing_form(priced, frozenset(trails))
    problems = answer["problems"]
    assert isinstance(problems, list)
    problems += house_problems(draft.lines)
    checks = checks_of(
        answer, state="draft", on=revision.on, valid_until=draft.valid_until, today=today
    )
    return Quick(answer=answer, checks=checks, mark=figures_mark(content_mark(draft), answer))


def _prices(revision: Revision, lines: Sequence[DraftLine]) -> Prices:
    """What prices these items for the customer, at most ``SECONDS`` old."""
    ids = frozenset(line.item_id for line in lines if line.item_id is not None)
    key = (revision.quote.customer_id, revision.on, ids)
    now = monotonic()
    with _lock:
        found = _kept.get(key)
    if found and now - found.at < SECONDS:
        return found.prices
    customer = revision.quote.customer
    prices = Prices(
        items=core_items(ids, customer.tax_category_id),
        book=price_book(customer, ids, revision.on),
        taxes=tax_table(),
    )
    with _lock:
        _kept[key] = _Kept(prices, now)
        while len(_kept) > MOST_KEPT:
            _kept.popitem(last=False)
    return prices
