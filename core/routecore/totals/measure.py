"""What rules over several lines measure: totals by rule, over the counted lines.

A rule over a group adds up the lines that it touches; rules over the document that measure alike
share one total over all counted lines. A total is an exact ratio: lines may be counted in boxes of
seven and cartons of twelve.
"""

from collections.abc import Iterable, Mapping, Sequence
from decimal import Decimal

from routecore.exact import EXACT, ONE, ZERO, Ratio
from routecore.pricing import DiscountRule, Touch
from routecore.pricing.rules import Reached
from routecore.pricing.touch import Key
from routecore.totals.work import Worked

NOTHING = ZERO, ONE
NONE_MOVED: Mapping[str, Reached] = {}


class Meters:
    """The totals of every rule over several lines that is on any item, and where the rules stand."""

    __slots__ = (
        "_bounds",
        "_document_keys",
        "_today",
        "by_id",
        "reached",
        "rules",
        "totals",
        "touched",
    )

    def __init__(self, rows: Sequence[Worked]):
        self.rules: dict[Key, dict[str, DiscountRule]] = {}
        #: The counted lines that each rule over several lines touches, by the rule's id.
        self.touched: dict[str, list[int]] = {}
        for row in rows:
            for touch in row.prices.holding:
                if touch.key is not None:
                    self.rules.setdefault(touch.key, {})[touch.rule.id] = touch.rule
                    if row.touches and row.line.counted:
                        self.touched.setdefault(touch.rule.id, []).append(row.n)
        self._today: dict[tuple[Key, int], tuple[Decimal, Decimal]] = {}
        self._document_keys = tuple(key for key in self.rules if not isinstance(key, str))
        self.totals = self._added_up(rows)
        self.by_id = {name: rule for rules in self.rules.values() for name, rule in rules.items()}
        self.reached = {
            name: rule.standing_at(self.totals[key])
            for key, rules in self.rules.items()
            for name, rule in rules.items()
        }
        self._bounds = {key: self._bounds_of(key) for key in self.rules}

    def _added_up(self, rows: Sequence[Worked]) -> dict[Key, Ratio]:
        parts: dict[Key, dict[Decimal, Decimal]] = {key: {} for key in self.rules}
        for row in rows:
            for key in self._keys(row):
                top, under = part_of(key, row)
                sums = parts[key]
                sums[under] = EXACT.add(sums.get(under, ZERO), top)
        return {key: _sum_of(sums) for key, sums in parts.items()}

    def _keys(self, row: Worked) -> tuple[Key, ...]:
        """The totals that a line adds to."""
        if not row.counts:
            return ()
        if not row.touches or not row.prices.group_keys:
            return self._document_keys
        return self._document_keys + row.prices.group_keys

    def _bounds_of(self, key: Key) -> tuple[Decimal, Decimal | None, bool]:
        """Between which thresholds no tier changes; and whether a graduated rule follows each move."""
        low, high, graduated = ZERO, None, False
        for rule in self.rules[key].values():
            tier = self.reached[rule.id].tier
            graduated = graduated or rule.graduated
            if tier >= 0:
                low = max(low, rule.tiers[tier].start)
            if tier + 1 < len(rule.tiers):
                start = rule.tiers[tier + 1].start
                high = start if high is None else min(high, start)
        return low, high, graduated

    def of(self, touch: Touch, row: Worked, moved: Mapping[str, Reached] = NONE_MOVED) -> Reached:
        """Where a rule stands for a line. What is not counted is measured as if it were.

        ``moved`` are rules over several lines that stand elsewhere.
        """
        rule = touch.rule
        if touch.key is None:
            return rule.standing_at(touch.gauge.read(row.base, row.exact, row.over))
        if row.line.counted:
            return moved.get(rule.id) or self.reached[rule.id]
        own = touch.gauge.read(row.base, row.exact, row.over)
        return rule.standing_at(self.totals[touch.key].plus(*own))

    def moved(self, changes: Iterable[tuple[Worked, Worked]]) -> dict[str, Reached]:
        """The rules that stand elsewhere where lines are others: (before, after) pairs."""
        if not self.rules:
            return {}
        found: dict[str, Reached] = {}
        for key, total in self.totals_with(changes).items():
            low, high, graduated = self._bounds[key]
            if not graduated and total.reaches(low) and (high is None or not total.reaches(high)):
                continue
            for rule in self.rules[key].values():
                stands = rule.standing_at(total)
                if stands != self.reached[rule.id]:
                    found[rule.id] = stands
        return found

    def _part_today(self, key: Key, row: Worked) -> tuple[Decimal, Decimal]:
        """What a line of the document adds; asked for each of its larger quantities."""
        known = self._today.get((key, row.n))
        if known is None:
            known = self._today[key, row.n] = part_of(key, row)
        return known

    def totals_with(self, changes: Iterable[tuple[Worked, Worked]]) -> dict[Key, Ratio]:
        """The totals that differ where lines are others."""
        totals: dict[Key, Ratio] = {}
        for old, new in changes:
            keys, others = self._keys(old), self._keys(new)
            for key in keys if keys == others else {*keys, *others}:
                was = self._part_today(key, old)
                now = part_of(key, new)
                if was == now:
                    continue
                total = totals.get(key) or self.totals[key]
                if was[1] == now[1]:
                    total = total.plus(EXACT.subtract(now[0], was[0]), now[1])
                else:
                    total = total.plus(was[0].copy_negate(), was[1]).plus(*now)
                totals[key] = total
        return totals


def part_of(key: Key, row: Worked) -> tuple[Decimal, Decimal]:
    """What a line adds to a total; nothing where it is not counted or cannot be measured."""
    if not row.counts or (isinstance(key, str) and not row.touches):
        return NOTHING
    gauge = row.prices.gauge(key)
    return gauge.read(row.base, row.exact, row.over) if gauge else NOTHING


def _sum_of(parts: Mapping[Decimal, Decimal]) -> Ratio:
    total = Ratio(parts.get(ONE, ZERO))
    for under, top in parts.items():
        if under != 1:
            total = total.plus(top, under)
    return total
