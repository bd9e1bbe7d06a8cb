"""A line at a larger quantity, beside the line as it is: which of the changes is a gain."""

from collections.abc import Mapping
from decimal import Decimal

from routecore.exact import Ratio
from routecore.pricing import DiscountRule, Touch
from routecore.pricing.rules import Reached
from routecore.totals.draft import Lines
from routecore.totals.measure import NONE_MOVED
from routecore.totals.take import take
from routecore.totals.whatif import Turn, WhatIf
from routecore.totals.work import Worked


class Look:
    """What changes for a line at a quantity, and what the goods already wanted would cost there.

    ``now`` is the tier of each rule on the item today, -1 where it does not touch the line.
    """

    def __init__(
        self,
        what_if: WhatIf,
        lines: Lines,
        row: Worked,
        there: Worked,
        now: Mapping[str, int],
        net: Decimal,
    ):
        self._what_if, self._lines = what_if, lines
        self._row, self._there, self._now = row, there, now
        self.turn: Turn = what_if.turn(row, there)
        self._stands = self.turn.stands = self._standing(there, self.turn.moved)
        self._repriced = there.offer is not row.offer
        self._changes = self._repriced + sum(
            self._stands.get(name, Reached(-1)).tier != tier for name, tier in now.items()
        )
        self._wanted = row.at(row.base, there.offer) if self._repriced else row
        self._net_there = self._net(there, self._stands)
        self.saves = net - self._net_there

    def tier(self, rule: str) -> int:
        """Where a rule stands there."""
        stands = self._stands.get(rule)
        return -1 if stands is None else stands.tier

    def price_gains(self) -> bool:
        """Whether the price is lower, and the goods would cost more at the price of today."""
        if not self._repriced or self.saves <= 0 or not self._cheaper():
            return False
        if self._changes == 1:
            return True
        kept = self._row.at(self._there.base, self._row.offer)
        moved = self._what_if.turn(self._row, kept).moved
        return self._net(kept, self._standing(kept, moved)) > self._net_there

    def _cheaper(self) -> bool:
        old, new = self._row.offer, self._there.offer
        if old is None or new is None:
            return False
        return Ratio(old.top, old.over).exceeds(Ratio(new.top, new.over))

    def rule_gains(self, rule: DiscountRule) -> bool:
        """Whether a rule that stands higher there gives something that it does not give today."""
        now, then = self._now[rule.id], self.tier(rule.id)
        if rule.graduated:
            return self.saves >= 0 and self._goes_on(rule, now, then)
        if self.saves <= 0:
            return False
        if self._changes == 1:
            return True
        return self._net(self._there, {**self._stands, rule.id: Reached(now)}) > self._net_there

    def _goes_on(self, rule: DiscountRule, now: int, then: int) -> bool:
        """Whether a graduated rule takes more of each unit beyond its next tier, and is not beaten."""
        if not any(rule.gives_more(tier, now) for tier in range(now + 1, then + 1)):
            return False
        lines = self._lines
        taken = take(self._there, lines.meters, lines.book.policy, self.turn.moved)
        if not taken.left:
            return False
        if any(taking.rule.id == rule.id for taking in taken.takings):
            return True
        # Another stands alone here: level with it, this one takes over with the next unit.
        others = {name: at for name, at in self._stands.items() if name != rule.id}
        alone = {name: Reached(-1) for name in others}
        only = take(self._there, lines.meters, lines.book.policy, self.turn.moved, alone)
        taker = taken.takings[0]
        level = not Ratio(taker.top, taker.over).exceeds(Ratio(*only.takings[0][1:3]))
        return level and taker.rule.exclusive <= rule.exclusive

    def _standing(self, row: Worked, moved: Mapping[str, Reached]) -> dict[str, Reached]:
        meters = self._lines.meters
        return {touch.rule.id: meters.of(touch, row, moved) for touch in row.touches}

    def _net(self, there: Worked, stands: Mapping[str, Reached]) -> Decimal:
        """The goods already wanted at another line's price, rules standing as they do there.

        A graduated rule measures what is wanted: its tiers beyond are not for these goods.
        """
        row = self._row if there.offer is self._row.offer else self._wanted
        if not row.prices.any_graduated:
            return self._what_if.net(row, NONE_MOVED, stands)
        graduated = [touch for touch in row.touches if touch.rule.graduated]
        moved = NONE_MOVED
        if row is not self._row and any(touch.key is not None for touch in graduated):
            moved = self._lines.meters.moved([(self._row, row)])
        return self._what_if.net(row, moved, _without(stands, graduated))


def _without(stands: Mapping[str, Reached], left_out: list[Touch]) -> dict[str, Reached]:
    names = {touch.rule.id for touch in left_out}
    return {name: reached for name, reached in stands.items() if name not in names}
