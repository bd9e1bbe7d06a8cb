"""The discount on the net whose gross comes nearest to a target.

The gross under a discount is what would come out without rounding, give or take what rounding can
move: half a minor unit for each tax that is rounded, and the tax on the part of a unit by which a
category's share is off. So no discount outside a window around the proportional answer can come
nearer than one that was met already; inside it each is tried, from the middle outwards, until it is
met exactly or the window, which narrows with each better one, is done. Document rounding: a trial
costs the categories, not the lines. Rounding by line: a trial costs the different line nets.

Source: decision 0011 (why it cannot miss, and what it costs).
"""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from math import ceil, floor

from routecore.money import split_units
from routecore.totals.tax import TaxRates

#: How often the start of the search is corrected by what it missed.
CORRECTIONS = 3
#: After how many steps outwards it pays to narrow the window of lines taxed one by one.
SOON = 8


@dataclass(slots=True)
class Category:
    """One tax category of a document, in whole minor units.

    ``nets`` are its lines' in their order (asked where tax is rounded by line), ``whole`` their sum;
    ``charges`` bear no discount.
    """

    rates: TaxRates
    whole: int
    nets: Sequence[int]
    charges: Sequence[int]


class Taxed:
    """The gross of a document as a function of the discount on its net."""

    __slots__ = ("_by_line", "_categories", "_charged", "_groups", "_still", "whole")

    def __init__(self, categories: Sequence[Category], rounding: str):
        self._categories = categories
        self._by_line = rounding == "line"
        self.whole = sum(category.whole for category in categories)
        self._charged = sum(sum(category.charges) for category in categories)
        self._still = 0
        self._groups: list[list[tuple[int, int]]] = []
        if self._by_line:
            self._groups = [list(Counter(category.nets).items()) for category in categories]
            self._still = sum(
                category.rates.total(charge)
                for category in categories
                for charge in category.charges
            )

    def gross(self, discount: int) -> int:
        """Net and taxes where so much comes off the net."""
        shares = split_units(discount, [category.whole for category in self._categories])
        net = self.whole - discount + self._charged
        if self._by_line:
            pairs = zip(self._categories, self._groups, shares, strict=True)
            return net + self._still + sum(_taxed_by_line(*pair) for pair in pairs)
        return net + sum(
            category.rates.total(category.whole - share + sum(category.charges))
            for category, share in zip(self._categories, shares, strict=True)
        )

    def nearest(self, target: int) -> tuple[int, int]:
        """The discount between nothing and everything whose gross is nearest, and that gross.

        Of equals, the first one met from the middle outwards.
        """
        free = self.gross(0)
        if not self.whole:
            return 0, free
        slope, bend = self._slope_and_bend()
        middle = (free - target) / slope
        best, found = self._start(middle, target, slope)
        below, above = best - 1, best + 1
        least, most = self._window(middle, abs(found - target) - 1 + bend, slope)
        tried = 0
        while found != target and (below >= least or above <= most):
            if tried == SOON and self._by_line:
                least, most = self._narrowed(least, most, target, abs(found - target) - 1)
            for discount in (below, above):
                if not least <= discount <= most:
                    continue
                gross = self.gross(discount)
                if abs(gross - target) < abs(found - target):
                    best, found = discount, gross
                    reach = abs(found - target) - 1 + bend
                    nearer = self._window(middle, reach, slope)
                    least, most = max(least, nearer[0]), min(most, nearer[1])
            below, above, tried = below - 1, above + 1, tried + 1
        return best, found

    def _narrowed(self, least: int, most: int, target: int, off: int) -> tuple[int, int]:
        """The part of a window in which the gross can be within ``off`` of the target.

        From the least and the greatest tax of each line over the window: most lines have the same
        tax whether or not they get one more unit of the discount.
        """
        while least < most:
            low, high = 0, 0
            for category, groups in zip(self._categories, self._groups, strict=True):
                if category.whole:
                    taxes = _range_by_line(category, groups, least, most, self.whole)
                    low, high = low + taxes[0], high + taxes[1]
            fixed = self.whole + self._charged + self._still - target
            narrower = max(least, fixed + low - off), min(most, fixed + high + off)
            if narrower == (least, most):
                break
            least, most = narrower
        return least, most

    def _slope_and_bend(self) -> tuple[Fraction, Fraction]:
        """What the gross falls by for a unit of discount, unrounded; and the most by which two
        roundings, at no discount and at another, take it from that."""
        slope, bend = Fraction(1), Fraction(0)
        for category in self._categories:
            rates = category.rates
            slope += rates.steepness * Fraction(category.whole, self.whole)
            bend += rates.bend * (len(category.nets) if self._by_line else 1) + rates.steepness
        return slope, 2 * bend

    def _start(self, middle: Fraction, target: int, slope: Fraction) -> tuple[int, int]:
        """The proportional answer, corrected by what it misses: where many lines are alike, their
        roundings all lean one way."""
        best = self._within(round(middle))
        found = self.gross(best)
        for _ in range(CORRECTIONS):
            other = self._within(best + round((found - target) / slope))
            if other == best:
                break
            gross = self.gross(other)
            if abs(gross - target) >= abs(found - target):
                break
            best, found = other, gross
        return best, found

    def _within(self, discount: int) -> int:
        return min(max(discount, 0), self.whole)

    def _window(self, middle: Fraction, reach: Fraction, slope: Fraction) -> tuple[int, int]:
        """Where a discount lies whose gross is within ``reach`` of the target."""
        wide = reach / slope
        return max(ceil(middle - wide), 0), min(floor(middle + wide), self.whole)


def _range_by_line(
    category: Category, groups: Sequence[tuple[int, int]], least: int, most: int, whole: int
) -> tuple[int, int]:
    """The least and the greatest taxes of a category over a window of discounts."""
    total, its = category.rates.total, category.whole
    low, high = least * its // whole, most * its // whole + 1
    fewest = sum(total(max(net - high * net // its - 1, 0)) * times for net, times in groups)
    return fewest, sum(total(net - low * net // its) * times for net, times in groups)


def _taxed_by_line(category: Category, groups: Sequence[tuple[int, int]], share: int) -> int:
    """The taxes of a category, each line's rounded, where so much is split over its lines.

    Lines of the same net get the same, but for the last unit, so each net is looked at once.
    """
    tax, whole = category.rates.total, category.whole
    if not share:
        return sum(times * tax(net) for net, times in groups)
    rests = [share * net % whole for net, _ in groups]
    missing = sum(rest * row[1] for rest, row in zip(rests, groups, strict=True)) // whole
    bar, more = _last_units(category.nets, groups, rests, missing)
    total = 0
    for rest, (net, times) in zip(rests, groups, strict=True):
        left = net - share * net // whole
        if rest > bar:
            total += times * tax(left - 1)
        elif rest == bar:
            raised = more.get(net, 0)
            total += raised * tax(left - 1) + (times - raised) * tax(left)
        else:
            total += times * tax(left)
    return total


def _last_units(
    nets: Sequence[int], groups: Sequence[tuple[int, int]], rests: Sequence[int], missing: int
) -> tuple[int, Mapping[int, int]]:
    """The remainder down to which lines get one more unit; and, just there, how many of each net."""
    ranked = sorted(zip(rests, groups, strict=True), key=_greatest_remainder)
    place = 0
    while True:
        bar, tied = ranked[place][0], {}
        while place < len(ranked) and ranked[place][0] == bar:
            net, times = ranked[place][1]
            tied[net] = times
            place += 1
        room = sum(tied.values())
        if room >= missing or place == len(ranked):
            return bar, _in_line_order(nets, tied, missing)
        missing -= room


def _greatest_remainder(row: tuple[int, tuple[int, int]]) -> int:
    return -row[0]


def _in_line_order(nets: Sequence[int], room: dict[int, int], missing: int) -> Mapping[int, int]:
    """How many lines of each of some nets, whose remainders tie, get one more unit: the first."""
    if sum(room.values()) <= missing:
        return room
    if len(room) == 1:
        return dict.fromkeys(room, missing)
    found: Counter[int] = Counter()
    for net in nets:
        if not missing:
            break
        if net in room:
            found[net] += 1
            missing -= 1
    return found
