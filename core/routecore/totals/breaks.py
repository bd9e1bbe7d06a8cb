"""The nearest better tier of each line: what it needs, what it saves, what the document then costs.

A break is the least quantity that can be typed at which another price holds, or a rule stands in a
higher tier, and of which this is true: under all that holds there, the goods already wanted would
cost less, and would not if that one thing were as it is now. A graduated rule is true to its name:
its next tier is a break where goods beyond it cost less than goods below.

The work is linear in the lines for all but three kinds of document: a graduated rule over several
lines, an agreement that many lines draw from with a rule over them, and a discount on the gross with
tax rounded by line. There it is bounded, and what is left out is counted (decision 0012).
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from decimal import Decimal

from routecore.exact import CONTEXT, EXACT, ZERO
from routecore.totals.ahead import Road, Stop
from routecore.totals.draft import Lines
from routecore.totals.look import Look
from routecore.totals.result import NextBreak
from routecore.totals.tax import TaxTable
from routecore.totals.terms import DocumentTerms
from routecore.totals.whatif import Turn, WhatIf
from routecore.totals.work import MOST_AMOUNT, Worked

#: How many lines are netted anew, over all breaks of a document, before the rest is left out.
MOST_WORK = 4_000_000


@dataclass(slots=True)
class _Gain:
    """A break that is true, before the document with it is added up."""

    row: Worked
    rule: str
    stop: Stop
    turn: Turn
    saves: Decimal


def find_breaks(
    lines: Lines, nets: Sequence[Decimal], terms: DocumentTerms, taxes: TaxTable, net: Decimal
) -> tuple[tuple[NextBreak, ...], int]:
    """Every break, the greatest gain first, and how many were left out.

    ``nets`` are the lines' nets, ``net`` is the document's.
    """
    what_if = WhatIf(lines, nets, terms, taxes)
    search = _Search(lines, nets, what_if)
    gains = search.gains()
    gains.sort(key=lambda gain: -gain.saves)
    found: list[NextBreak] = []
    for gain in gains:
        if what_if.work > MOST_WORK:
            break
        new_net = what_if.document_net(gain.turn)
        line = gain.row.line
        found.append(
            NextBreak(
                line=line.id,
                rule=gain.rule,
                add=EXACT.subtract(gain.stop.quantity, line.quantity),
                quantity=gain.stop.quantity,
                unit=line.unit,
                new_net=new_net,
                saves=max(gain.saves, ZERO),
                cheaper_overall=new_net < net,
            )
        )
    found.sort(key=lambda step: (-max(net - step.new_net, ZERO), -step.saves, step.line))
    return tuple(found), len(gains) - len(found) + search.left_out


class _Search:
    """The breaks of every line."""

    def __init__(self, lines: Lines, nets: Sequence[Decimal], what_if: WhatIf):
        self._lines, self._nets, self._what_if = lines, nets, what_if
        self._shared: dict[str, tuple[Decimal, _Gain]] = {}
        self.left_out = 0

    def gains(self) -> list[_Gain]:
        """A graduated rule over several lines is shown on one: which needs the least more money."""
        found: list[_Gain] = []
        for row in self._lines.sheet.rows:
            if row.counts and row.line.price is None:
                found += self._of_line(row)
        return found + [gain for _, gain in self._shared.values()]

    def _of_line(self, row: Worked) -> Iterator[_Gain]:
        road = Road(row, self._lines)
        self.left_out += road.left_out
        for stop in road.stops():
            there = stop.row
            if there.offer is None or there.exact >= EXACT.multiply(MOST_AMOUNT, there.over):
                road.passed({})
                continue
            look = Look(self._what_if, self._lines, row, there, road.now, self._nets[row.n])
            if road.wants_price and look.price_gains():
                road.wants_price = False
                yield _Gain(row, there.offer.source, stop, look.turn, look.saves)
            for rule in list(road.open.values()):
                tier = look.tier(rule.id)
                if tier <= road.now[rule.id]:
                    continue
                if rule.graduated and not road.is_new(rule.id, tier, stop):
                    continue
                if not look.rule_gains(rule):
                    continue
                road.answered(rule.id)
                gain = _Gain(row, rule.id, stop, look.turn, look.saves)
                if rule.graduated and not rule.alone:
                    self._share(rule.id, gain)
                else:
                    yield gain
            road.passed({name: look.tier(name) for name in road.now})

    def _share(self, rule: str, gain: _Gain) -> None:
        row = gain.row
        more = EXACT.multiply(EXACT.subtract(gain.stop.row.base, row.base), row.exact)
        extra = CONTEXT.divide(more, EXACT.multiply(row.base, row.over))
        known = self._shared.get(rule)
        if known is None or extra < known[0]:
            self._shared[rule] = extra, gain
