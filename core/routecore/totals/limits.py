"""What a person may give away without somebody else's sign-off.

Decided on exact values, shown rounded. The rep's own discount on a line is what a typed price or
discount takes off the net that the rules alone would give in this document; what the rules give is
nobody's to sign off. A margin floor holds for every line that a buyer can take, so also for
alternatives and options, as if they were taken; a line given away and a line of unknown cost do not
pass it unseen.

Source: the house's own policy; each number is an argument.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal

from routecore.exact import HUNDRED, ONE, ZERO, Ratio
from routecore.money import in_own_context
from routecore.totals.lines import Line, PricedLine
from routecore.totals.result import PricedDocument


@dataclass(frozen=True, slots=True, kw_only=True)
class Limits:
    """A role's limits in percent; None is no limit. ``margin_floors`` by item group come first.

    ``credit`` is the most, in the base currency, by which a document may take a customer's exposure
    beyond the customer's credit limit.
    """

    line_percent: Decimal | None = None
    document_percent: Decimal | None = None
    margin_floor: Decimal | None = None
    margin_floors: Mapping[str, Decimal] = field(default_factory=dict)
    credit: Decimal | None = None

    def floor(self, group: str) -> Decimal | None:
        """The least margin on a group of items."""
        return self.margin_floors.get(group, self.margin_floor)


@dataclass(frozen=True, slots=True, kw_only=True)
class Excess:
    """A limit that is exceeded.

    ``line_discount``, ``document_discount``, ``margin_floor``: percents. ``free_line`` (a floor, and
    the line costs nothing), ``unknown_cost`` (a floor that cannot be judged): ``found`` is None.
    ``credit``: amounts in the base currency.
    """

    code: str
    line: str
    found: Decimal | None
    limit: Decimal


@in_own_context
def exceeded(
    document: PricedDocument,
    lines: Sequence[Line],
    limits: Limits,
    *,
    over_credit: Decimal | None = None,
) -> tuple[Excess, ...]:
    """Every limit that the document exceeds, line by line, then the document's own.

    ``over_credit`` is how far the exposure lies over the customer's limit with this document, in the
    base currency; None where it is not asked, or there is no limit.
    """
    found: list[Excess] = []
    for line, priced in zip(lines, document.lines, strict=True):
        found.extend(_own_discount(line, priced, limits))
        found.extend(_margin(line, priced, document, limits))
    given = _document_share(document)
    if limits.document_percent is not None and given is not None:
        found += _over("document_discount", "", given, limits.document_percent)
    if over_credit is not None and limits.credit is not None and over_credit > limits.credit:
        found.append(Excess(code="credit", line="", found=over_credit, limit=limits.credit))
    return tuple(found)


@dataclass(frozen=True, slots=True, kw_only=True)
class Taken:
    """A line as the buyer takes it: its net as offered, its share of the document's discount."""

    id: str
    group: str
    net: Decimal
    share: Decimal
    cost: Decimal | None


@in_own_context
def exceeded_when_taken(
    lines: Sequence[Taken],
    limits: Limits,
    *,
    discount: Decimal,
    percent: Decimal | None,
    over_credit: Decimal | None = None,
) -> tuple[Excess, ...]:
    """Every limit that an order of these lines exceeds; ``exceeded`` judged the quote as a whole.

    With alternatives and options taken, a discount of so much (``discount``, where it was not typed
    as a ``percent``) can weigh more on what is left, and the exposure can grow.
    """
    found: list[Excess] = []
    for line in lines:
        after = Ratio(line.net - line.share)
        found.extend(_under_floor(line.id, limits.floor(line.group), line.cost, after))
    whole = sum((line.net for line in lines), ZERO)
    if limits.document_percent is not None and whole:
        given = Ratio(min(discount, whole), whole) if percent is None else Ratio(percent, HUNDRED)
        found += _over("document_discount", "", given, limits.document_percent)
    if over_credit is not None and limits.credit is not None and over_credit > limits.credit:
        found.append(Excess(code="credit", line="", found=over_credit, limit=limits.credit))
    return tuple(found)


@in_own_context
def worse(found: Iterable[Excess], known: Iterable[Excess]) -> tuple[Excess, ...]:
    """The excesses that were not known, or have grown: a margin lower, a discount or credit higher."""
    before = {(row.code, row.line): row.found for row in known}

    def has_grown(row: Excess) -> bool:
        if (row.code, row.line) not in before:
            return True
        old = before[row.code, row.line]
        if row.found is None or old is None:
            return row.found is not old
        return row.found < old if row.code == "margin_floor" else row.found > old

    return tuple(row for row in found if has_grown(row))


def _own_discount(line: Line, priced: PricedLine, limits: Limits) -> Iterable[Excess]:
    own = own_discount(priced)
    if limits.line_percent is not None and own is not None:
        yield from _over("line_discount", line.id, own, limits.line_percent)


def own_discount(priced: PricedLine) -> Ratio | None:
    """What the rep took off the net by the rules, as a part of it; None where they give none."""
    net, by_rules = priced.exact_net, priced.exact_by_rules
    if net is None or by_rules is None or not by_rules.top:
        return None
    was = by_rules.top * net.under
    return Ratio(was - net.top * by_rules.under, was)


def _document_share(document: PricedDocument) -> Ratio | None:
    """The document discount as a part of what it is taken on, as it was typed."""
    discount = document.discount
    if discount is None or not document.discount_on:
        return None
    if discount.percent is not None:
        return Ratio(discount.percent, HUNDRED)
    return Ratio(min(discount.amount or ZERO, document.discount_on), document.discount_on)


def _margin(
    line: Line, priced: PricedLine, document: PricedDocument, limits: Limits
) -> Iterable[Excess]:
    if priced.net is not None:
        after = _after_document_discount(priced, document)
        yield from _under_floor(line.id, limits.floor(line.item.group), priced.cost, after)


def _under_floor(
    line: str, floor: Decimal | None, cost: Decimal | None, after: Ratio
) -> Iterable[Excess]:
    """Where a line that brings ``after`` crosses the floor, or cannot be judged."""
    if floor is None:
        return
    if cost is None:
        yield Excess(code="unknown_cost", line=line, found=None, limit=floor)
        return
    if not after.top:
        if cost:
            yield Excess(code="free_line", line=line, found=None, limit=floor)
        return
    margin = Ratio(after.top - cost * after.under, after.top)
    if margin.top * HUNDRED < floor * margin.under:
        shown = _shown(margin, floor)
        yield Excess(code="margin_floor", line=line, found=shown, limit=floor)


def _after_document_discount(priced: PricedLine, document: PricedDocument) -> Ratio:
    """A line's net less its share; of what is not counted, the share that it would bear if taken."""
    net = priced.net or ZERO
    if priced.counted:
        return Ratio(net - priced.document_discount_share)
    discount, totals = document.discount, document.totals
    if discount is not None and discount.percent is not None:
        return Ratio(net * (HUNDRED - discount.percent), HUNDRED)
    whole = totals.lines_net + net
    return Ratio(net * (whole - totals.document_discount), whole) if whole else Ratio(net)


def _over(code: str, line: str, given: Ratio, limit: Decimal) -> list[Excess]:
    if given.top * HUNDRED <= limit * given.under:
        return []
    return [Excess(code=code, line=line, found=_shown(given, limit), limit=limit)]


def _shown(part: Ratio, limit: Decimal) -> Decimal:
    """A part in percent, to a hundredth, or as many decimals more as tell it from the limit."""
    percent = Ratio(part.top * HUNDRED, part.under)
    for digits in (2, 4, 6):
        shown = percent.rounded(ONE.scaleb(-digits))
        if shown != limit:
            break
    return shown
