"""Two states of a quote side by side."""

from django.http import HttpRequest
from ninja import Router

from api.quotes.shapes import RevisionMark
from api.schemas import Schema
from api.shapes import PathId, sure_money, today, who
from apps.errors import Invalid
from apps.quotes.pricing.comparing import (
    Comparison,
    LinePair,
    Pair,
    compare_revisions,
    priced_again,
)
from apps.quotes.queries import own_revision

router = Router(tags=["quotes"])


class PairOut(Schema):
    """One figure or word before and after."""

    name: str
    before: str | None
    after: str | None


class LinePairOut(Schema):
    """One line before and after; ``change``: same, changed, new, gone."""

    key: str
    text: str
    change: str
    pairs: list[PairOut]


class ComparisonOut(Schema):
    """Everything side by side; ``moved`` counts what differs in lines and sums."""

    number: str
    customer: str
    currency: str
    before: str
    after: str
    revisions: list[RevisionMark]
    moved: int
    lines: list[LinePairOut]
    sums: list[PairOut]
    terms: list[PairOut]


def _pair(pair: Pair) -> PairOut:
    return PairOut(name=pair.name, before=pair.before, after=pair.after)


def _line(line: LinePair) -> LinePairOut:
    return LinePairOut(
        key=line.key,
        text=line.text,
        change=line.change,
        pairs=[_pair(pair) for pair in line.pairs],
    )


def _moved(found: Comparison) -> int:
    lines = sum(line.change != "same" for line in found.lines)
    return lines + sum(pair.before != pair.after for pair in found.sums)


@router.get("/revisions/{revision_id}/compare", response=ComparisonOut, operation_id="compare")
def compare(request: HttpRequest, revision_id: PathId, other: int = 0) -> ComparisonOut:
    """A revision against another of the same quote; ``other`` 0 is the one before it."""
    person = who(request)
    after = own_revision(person, revision_id)
    marks = list(after.quote.revisions.defer("priced", "case").order_by("pk"))
    earlier = [mark.pk for mark in marks if mark.pk < after.pk]
    chosen = other or (earlier[-1] if earlier else after.pk)
    if chosen not in {mark.pk for mark in marks}:
        raise Invalid("other_quote", path="other")
    before = own_revision(person, chosen)
    found = compare_revisions(before, after)
    return ComparisonOut(
        number=after.quote.number,
        customer=after.quote.customer.name,
        currency=after.currency,
        before=before.letter,
        after=after.letter,
        revisions=[
            RevisionMark(
                id=mark.pk,
                letter=mark.letter,
                issued_at=mark.issued_at,
                payable=sure_money(mark.payable, mark.currency),
            )
            for mark in marks
        ],
        moved=_moved(found),
        lines=[_line(line) for line in found.lines],
        sums=[_pair(pair) for pair in found.sums],
        terms=[_pair(pair) for pair in found.terms],
    )


@router.get("/revisions/{revision_id}/again", response=ComparisonOut, operation_id="price_again")
def again(request: HttpRequest, revision_id: PathId) -> ComparisonOut:
    """What the draft would come to as of today; nothing is changed."""
    row = own_revision(who(request), revision_id)
    found = priced_again(row, today())
    return ComparisonOut(
        number=row.quote.number,
        customer=row.quote.customer.name,
        currency=row.currency,
        before=row.on.isoformat(),
        after=today().isoformat(),
        revisions=[],
        moved=_moved(found),
        lines=[_line(line) for line in found.lines],
        sums=[_pair(pair) for pair in found.sums],
        terms=[_pair(pair) for pair in found.terms],
    )
