"""What the document would come to if one line were another: larger, or at another price.

Only what can move is looked at. A line's own net always moves; other lines move where a rule over
several lines reaches another tier (each combination of tiers is netted once), where a graduated one
is moved at all (``swing``), or where an agreement is drawn otherwise.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal

from routecore.exact import ZERO
from routecore.pricing.rules import Reached
from routecore.totals.draft import Lines
from routecore.totals.measure import NONE_MOVED
from routecore.totals.sums import Basis, aim_of, net_after
from routecore.totals.swing import Swing
from routecore.totals.take import net_of
from routecore.totals.tax import TaxTable
from routecore.totals.terms import DocumentTerms
from routecore.totals.work import Worked

Tiers = tuple[tuple[str, int], ...]


@dataclass(slots=True)
class Turn:
    """One line as another: every line that changes with it, and the rules that then stand elsewhere.

    ``stands`` is, once it was found, where each rule stands for the ``line`` itself.
    """

    rows: dict[int, Worked]
    moved: Mapping[str, Reached]
    line: int
    stands: Mapping[str, Reached] = field(default_factory=dict)


class WhatIf:
    """The priced document, asked what it would be otherwise. ``work`` counts the lines looked at."""

    __slots__ = (
        "_by_category",
        "_lines",
        "_lines_net",
        "_nets",
        "_swings",
        "_taxes",
        "_terms",
        "_under",
        "work",
    )

    def __init__(
        self, lines: Lines, nets: Sequence[Decimal], terms: DocumentTerms, taxes: TaxTable
    ):
        self._lines, self._nets, self._terms, self._taxes = lines, nets, terms, taxes
        self._by_category: dict[str, Decimal] = {}
        for row in lines.sheet.rows:
            if row.line.counted:
                name = row.line.item.tax_category
                self._by_category[name] = self._by_category.get(name, ZERO) + nets[row.n]
        self._lines_net = sum(self._by_category.values(), ZERO)
        self._under: dict[Tiers, tuple[dict[int, Decimal], dict[str, Decimal]]] = {}
        self._swings: dict[object, Swing] = {}
        self.work = 0

    def turn(self, old: Worked, new: Worked) -> Turn:
        """The line ``old`` as ``new``."""
        sheet = self._lines.sheet
        others = sheet.redrawn(old, new)
        changes = [(old, new), *((sheet.rows[n], row) for n, row in others.items())]
        return Turn({old.n: new, **others}, self._lines.meters.moved(changes), old.n)

    def net(
        self, row: Worked, moved: Mapping[str, Reached], forced: Mapping[str, Reached]
    ) -> Decimal:
        """A line's net where rules stand elsewhere."""
        lines = self._lines
        return net_of(row, lines.meters, lines.book.policy, lines.unit, moved, forced)

    def document_net(self, turn: Turn) -> Decimal:
        """The document's net after a turn, with its discount and charges."""
        if self._terms.tax_rounding == "line" and self._solved:
            return self._net_line_by_line(turn)
        if not turn.moved and len(turn.rows) == 1 and not self._solved:
            [(n, row)] = turn.rows.items()
            net = self.net(row, turn.moved, turn.stands) if row.counts else ZERO
            return net_after(self._lines_net + net - self._nets[n], self._terms)
        more = dict(self._moved_lines(turn)) if turn.moved else {}
        for n, row in turn.rows.items():
            name = row.line.item.tax_category
            stands = turn.stands if n == turn.line else NONE_MOVED
            net = self.net(row, turn.moved, stands) if row.counts else ZERO
            more[name] = more.get(name, ZERO) + net - self._nets[n]
        if not self._solved:
            return net_after(self._lines_net + sum(more.values(), ZERO), self._terms)
        sums = {name: net + more.get(name, ZERO) for name, net in self._by_category.items()}
        return self._with_discount(Basis(self._terms, self._taxes, sums))

    @property
    def _solved(self) -> bool:
        """Whether the document's discount has to be solved from its gross."""
        return self._terms.discount is not None and self._terms.discount.on == "gross"

    def _with_discount(self, basis: Basis) -> Decimal:
        return basis.lines_net - aim_of(basis).discount + basis.charged

    def _net_line_by_line(self, turn: Turn) -> Decimal:
        rows = [turn.rows.get(row.n, row) for row in self._lines.sheet.rows]
        touched = self._touched(turn.moved)
        rows = [row for row in rows if row.counts]
        nets = [
            self.net(row, turn.moved, {})
            if row.n in turn.rows or row.n in touched
            else self._nets[row.n]
            for row in rows
        ]
        self.work += 100 * len(rows)
        categories = [row.line.item.tax_category for row in rows]
        sums: dict[str, Decimal] = {}
        for net, name in zip(nets, categories, strict=True):
            sums[name] = sums.get(name, ZERO) + net
        return self._with_discount(Basis(self._terms, self._taxes, sums, nets, categories))

    def _touched(self, moved: Iterable[str]) -> dict[int, None]:
        touched = self._lines.meters.touched
        return dict.fromkeys(n for rule in moved for n in touched.get(rule, ()))

    # ---- lines that move because a rule over several lines does ----------------------------

    def _moved_lines(self, turn: Turn) -> Mapping[str, Decimal]:
        """By how much the lines that did not change themselves move, by category."""
        by_id = self._lines.meters.by_id
        fixed = {name: stands for name, stands in turn.moved.items() if not by_id[name].graduated}
        if len(fixed) == len(turn.moved):
            return self._under_tiers(turn, fixed)
        tiers = tuple(sorted((name, stands.tier) for name, stands in fixed.items()))
        swinging = tuple(sorted(name for name in turn.moved if name not in fixed))
        swing = self._swings.get((tiers, swinging))
        if swing is None:
            rows = self._lines.sheet.rows
            touched = [rows[n] for n in self._touched(turn.moved)]
            swing = Swing(self._lines, self._nets, touched, swinging, fixed)
            self._swings[tiers, swinging] = swing
        self.work += swing.work
        return swing.moves(turn.moved, turn.rows)

    def _under_tiers(self, turn: Turn, fixed: Mapping[str, Reached]) -> Mapping[str, Decimal]:
        tiers = tuple(sorted((name, stands.tier) for name, stands in fixed.items()))
        known = self._under.get(tiers)
        rows = self._lines.sheet.rows
        if known is None:
            moves: dict[int, Decimal] = {}
            whole: dict[str, Decimal] = {}
            for n in self._touched(fixed):
                name = rows[n].line.item.tax_category
                moves[n] = self.net(rows[n], fixed, {}) - self._nets[n]
                whole[name] = whole.get(name, ZERO) + moves[n]
            self.work += 50 * len(moves)
            known = self._under[tiers] = moves, whole
        moves, whole = known
        found = dict(whole)
        for n in turn.rows:
            if n in moves:
                found[rows[n].line.item.tax_category] -= moves[n]
        return found
