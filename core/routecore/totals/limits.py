"""What a person may give away without somebody else's sign-off.

The rep's own discount on a line is what a typed price or discount takes off the net that the rules
alone would give; what the rules give is nobody's to sign off.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal

from routecore.money import HUNDRED, in_own_context, round_to_step
from routecore.totals.lines import Line, PricedLine
from routecore.totals.result import PricedDocument

HUNDREDTH = Decimal("0.01")


@dataclass(frozen=True, slots=True, kw_only=True)
class Limits:
    """A role's limits in percent; None is no limit. ``margin_floors`` by item group come first."""

    line_percent: Decimal | None = None
    document_percent: Decimal | None = None
    margin_floor: Decimal | None = None
    margin_floors: Mapping[str, Decimal] = field(default_factory=dict)

    def floor(self, group: str) -> Decimal | None:
        """The least margin on a group of items."""
        return self.margin_floors.get(group, self.margin_floor)


@dataclass(frozen=True, slots=True, kw_only=True)
class Excess:
    """A limit that is exceeded: ``line_discount``, ``document_discount``, ``margin_floor``."""

    code: str
    line: str
    found: Decimal
    limit: Decimal


@in_own_context
def exceeded(document: PricedDocument, lines: Sequence[Line], limits: Limits) -> tuple[Excess, ...]:
    """Every limit that the document exceeds, line by line, then the document's own."""
    found: list[Excess] = []
    for line, priced in zip(lines, document.lines, strict=True):
        found.extend(_of_line(line, priced, limits))
    totals = document.totals
    if limits.document_percent is not None and totals.lines_net:
        percent = _percent(totals.document_discount, totals.lines_net)
        if percent > limits.document_percent:
            found.append(
                Excess(
                    code="document_discount",
                    line="",
                    found=percent,
                    limit=limits.document_percent,
                )
            )
    return tuple(found)


def _of_line(line: Line, priced: PricedLine, limits: Limits) -> Iterable[Excess]:
    own = own_discount_percent(priced)
    if limits.line_percent is not None and own is not None and own > limits.line_percent:
        yield Excess(code="line_discount", line=line.id, found=own, limit=limits.line_percent)
    floor = limits.floor(line.item.group)
    margin = priced.margin_percent
    if line.counted and floor is not None and margin is not None and margin < floor:
        yield Excess(code="margin_floor", line=line.id, found=margin, limit=floor)


def own_discount_percent(priced: PricedLine) -> Decimal | None:
    """What the rep took off the net by the rules, in percent to a hundredth; None without one."""
    if priced.net is None or not priced.by_rules:
        return None
    return _percent(priced.by_rules - priced.net, priced.by_rules)


def _percent(part: Decimal, whole: Decimal) -> Decimal:
    return round_to_step(part * HUNDRED / whole, HUNDREDTH)
