"""What the rules and the typed discount take off a line, exactly, and the one rounding of its net."""

from collections.abc import Iterable, Iterator, Mapping
from decimal import Decimal
from typing import NamedTuple

from routecore.exact import EXACT, ONE, ZERO, Ratio, nearest
from routecore.pricing import DiscountRule, Touch
from routecore.pricing.rules import Reached
from routecore.totals.lines import Line
from routecore.totals.measure import NONE_MOVED, Meters
from routecore.totals.work import Worked

Standing = tuple[Touch, Reached]
_times = EXACT.multiply
_less = EXACT.subtract


class Taking(NamedTuple):
    """What one rule takes off: ``top / over``, and the percent where it is one."""

    rule: DiscountRule
    top: Decimal
    over: Decimal
    percent: Decimal | None


class Taken(NamedTuple):
    """What each rule takes off a line, and what they leave: ``left / over``."""

    takings: tuple[Taking, ...]
    left: Decimal
    over: Decimal


def take(
    row: Worked,
    meters: Meters,
    policy: str,
    moved: Mapping[str, Reached] = NONE_MOVED,
    forced: Mapping[str, Reached] = NONE_MOVED,
) -> Taken:
    """What each rule that applies takes off a line; together never more than its amount.

    ``moved`` are rules over several lines that stand elsewhere; ``forced`` sets where rules stand
    whatever is measured.
    """
    if policy == "best" or row.prices.any_exclusive:
        standing = list(_standing(row, meters, moved, forced))
        exclusive = [entry for entry in standing if entry[0].rule.exclusive]
        if standing and (exclusive or policy == "best"):
            best, factor = _greatest(row, exclusive or standing)
            return Taken((best,), _less(_times(row.exact, factor), best.top), best.over)
    found: list[Taking] = []
    left, over = _one_after_another(row, meters, policy, moved, forced, found)
    return Taken(tuple(found), left, over)


def _standing(
    row: Worked, meters: Meters, moved: Mapping[str, Reached], forced: Mapping[str, Reached]
) -> Iterator[Standing]:
    """The rules that are reached, and where they stand."""
    for touch in row.touches:
        stands = forced.get(touch.rule.id) or meters.of(touch, row, moved)
        if stands.tier >= 0:
            yield touch, stands


def _one_after_another(
    row: Worked,
    meters: Meters,
    policy: str,
    moved: Mapping[str, Reached],
    forced: Mapping[str, Reached],
    found: list[Taking] | None = None,
) -> tuple[Decimal, Decimal]:
    """What is left after each rule: on what the earlier left (``chain``), or on the whole (``add``).

    What each takes goes to ``found``, where it is asked for.
    """
    left = whole = row.exact
    over = row.over
    chain = policy == "chain"
    for touch, stands in _standing(row, meters, moved, forced):
        off, factor, percent = _gives(touch, stands, row.base, left if chain else whole, over)
        if factor is not ONE:
            left, whole, over = _times(left, factor), _times(whole, factor), _times(over, factor)
        off = min(off, left)
        left = _less(left, off)
        if found is not None:
            found.append(Taking(touch.rule, off, over, percent))
    return left, over


def _greatest(row: Worked, standing: Iterable[Standing]) -> tuple[Taking, Decimal]:
    """The rule that takes most, and what it is over beside the line's own; of equals, the first."""
    best: tuple[Taking, Decimal] | None = None
    for touch, stands in standing:
        off, factor, percent = _gives(touch, stands, row.base, row.exact, row.over)
        taking = Taking(touch.rule, off, _times(row.over, factor), percent)
        if best is None or Ratio(off, taking.over).exceeds(Ratio(best[0].top, best[0].over)):
            best = taking, factor
    assert best is not None
    return best


def _gives(
    touch: Touch, stands: Reached, base: Decimal, on: Decimal, over: Decimal
) -> tuple[Decimal, Decimal, Decimal | None]:
    """What a rule takes off ``on / over``, over ``over`` times the second figure; and its percent."""
    rule = touch.rule
    if rule.graduated:
        off, factor = _times(on, stands.percent), stands.under
        if stands.per_unit and touch.counted_in is not None:
            of_units = _times(_times(base, stands.per_unit), over)
            off = EXACT.add(_times(off, touch.counted_in), of_units)
            factor = _times(factor, touch.counted_in)
        return min(off, _times(on, factor)), factor, None
    tier = rule.tiers[stands.tier]
    if tier.percent is not None:
        return _times(on, tier.fraction), ONE, tier.percent
    if tier.per_line is not None:
        return min(_times(tier.per_line, over), on), ONE, None
    if touch.counted_in is None:
        return ZERO, ONE, None
    off = _times(_times(base, tier.per_unit or ZERO), over)
    return min(off, _times(on, touch.counted_in)), touch.counted_in, None


def after_own_discount(line: Line, left: Decimal, over: Decimal) -> Decimal:
    """What the typed discount leaves of what the rules left, over the same; never less than nothing."""
    if line.discount_percent is not None:
        return _less(left, _times(left, line.discount_percent).scaleb(-2, EXACT))
    if line.discount_amount is not None:
        return max(_less(left, _times(line.discount_amount, over)), ZERO)
    return left


def net_of(
    row: Worked,
    meters: Meters,
    policy: str,
    unit: Decimal,
    moved: Mapping[str, Reached] = NONE_MOVED,
    forced: Mapping[str, Reached] = NONE_MOVED,
) -> Decimal:
    """The line's net, rounded once: the amount less what rules and the typed discount take."""
    left, over = row.exact, row.over
    if row.touches:
        if policy == "best" or row.prices.any_exclusive:
            _, left, over = take(row, meters, policy, moved, forced)
        else:
            left, over = _one_after_another(row, meters, policy, moved, forced)
    return nearest(after_own_discount(row.line, left, over), over, unit)
