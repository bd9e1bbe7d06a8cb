"""Many lines under a graduated rule that is moved a little: their new nets, added up quickly.

A graduated percent over several lines takes the same share of each line that it touches, and every
change of its measure changes that share. Each line's net is then

    min(ceiling, whole - part × share), not below nothing, rounded,

where ``share`` is one for all the lines that the same rules touch: under ``chain`` what the moved
rules take one after another, under ``add`` their sum, under ``best`` the greatest of them. In whole
numbers that is a multiplication and a division a line. Lines that do not fit this form (amounts per
unit or line between the percents, exclusive rules) are netted in full.
"""

from collections.abc import Mapping, Sequence
from decimal import Decimal
from fractions import Fraction
from math import lcm
from typing import NamedTuple

from routecore.exact import EXACT, HUNDRED, ZERO, amount_of, units_of
from routecore.money import minor_digits
from routecore.pricing.rules import Reached
from routecore.totals.draft import Lines
from routecore.totals.take import net_of
from routecore.totals.work import Worked

#: What a line that does not fit costs, in lines that do.
IN_FULL = 60


class _Line(NamedTuple):
    """A net as ``min(ceiling, whole - part × share) / under`` minor units."""

    whole: int
    part: int
    ceiling: int
    under: int

    def net(self, top: int, under: int) -> int:
        """Rounded half up where the share is ``top / under``."""
        exact = min(self.ceiling * under, self.whole * under - self.part * top)
        return (2 * max(exact, 0) + self.under * under) // (2 * self.under * under)


Place = tuple[str, tuple[str, ...]]


class Swing:
    """Lines that some graduated rules touch, with the other rules standing still."""

    __slots__ = ("_before", "_fit", "_groups", "_lines", "_nets", "_odd", "_touched", "work")

    def __init__(
        self,
        lines: Lines,
        nets: Sequence[Decimal],
        rows: Sequence[Worked],
        swinging: Sequence[str],
        fixed: Mapping[str, Reached],
    ):
        self._lines, self._nets = lines, nets
        self._touched = {row.n: row.line.item.tax_category for row in rows}
        self._before: dict[str, Decimal] = {}
        self._odd: list[Worked] = []
        self._fit: dict[int, tuple[Place, _Line]] = {}
        grouped: dict[Place, dict[int, list[_Line]]] = {}
        for row in rows:
            name = row.line.item.tax_category
            self._before[name] = self._before.get(name, ZERO) + nets[row.n]
            made = _fitted(row, lines, frozenset(swinging), fixed)
            if made is None:
                self._odd.append(row)
                continue
            self._fit[row.n] = (name, made[0]), made[1]
            grouped.setdefault((name, made[0]), {}).setdefault(made[1].under, []).append(made[1])
        self._groups = {
            place: [_Group(under, rows) for under, rows in by_under.items()]
            for place, by_under in grouped.items()
        }
        self.work = len(self._fit) + IN_FULL * len(self._odd)

    def moves(
        self, moved: Mapping[str, Reached], without: Mapping[int, object]
    ) -> dict[str, Decimal]:
        """By how much the lines' nets move, by category, without some lines."""
        shares = {place: self._share(place[1], moved) for place in self._groups}
        after: dict[str, int] = {}
        for place, groups in self._groups.items():
            whole = sum(group.sum(*shares[place]) for group in groups)
            after[place[0]] = after.get(place[0], 0) + whole
        before = dict(self._before)
        for n in without:
            if n in self._touched:
                before[self._touched[n]] -= self._nets[n]
            if n in self._fit:
                place, line = self._fit[n]
                after[place[0]] -= line.net(*shares[place])
        lines, digits = self._lines, minor_digits(self._lines.currency)
        for row in self._odd:
            if row.n not in without:
                net = net_of(row, lines.meters, lines.book.policy, lines.unit, moved)
                name = row.line.item.tax_category
                after[name] = after.get(name, 0) + units_of(net, digits)
        return {name: amount_of(after.get(name, 0), digits) - net for name, net in before.items()}

    def _share(self, rules: Sequence[str], moved: Mapping[str, Reached]) -> tuple[int, int]:
        parts = [_fraction(moved[name]) for name in rules]
        policy = self._lines.book.policy
        if policy == "add":
            share = sum(parts, Fraction(0))
        elif policy == "best":
            share = max(parts, default=Fraction(0))
        else:
            left = Fraction(1)
            for part in parts:
                left *= 1 - part
            share = 1 - left
        return share.numerator, share.denominator


class _Group:
    """Lines over the same figure, ready to be added up."""

    __slots__ = ("_alike", "_rows", "_under")

    def __init__(self, under: int, rows: Sequence[_Line]):
        self._under = under
        alike = all(row.whole == row.part == row.ceiling for row in rows)
        self._alike = [row.whole for row in rows] if alike else []
        self._rows = [] if alike else rows

    def sum(self, top: int, under: int) -> int:
        if self._alike:
            times, half = 2 * (under - top), self._under * under
            twice = 2 * half
            return sum([(whole * times + half) // twice for whole in self._alike])
        return sum(row.net(top, under) for row in self._rows)


def _fraction(stands: Reached) -> Fraction:
    return Fraction(stands.percent) / Fraction(stands.under)


def _fitted(
    row: Worked, lines: Lines, swinging: frozenset[str], fixed: Mapping[str, Reached]
) -> tuple[tuple[str, ...], _Line] | None:
    """A line in the quick form, with the moved rules that touch it; None where it does not fit."""
    names: list[str] = []
    still: list[Fraction] = []
    for touch in row.touches:
        rule = touch.rule
        if rule.exclusive or any(tier.percent is None for tier in rule.tiers):
            return None
        if rule.id in swinging:
            names.append(rule.id)
            continue
        stands = lines.meters.of(touch, row, fixed)
        if stands.tier >= 0:
            part = rule.tiers[stands.tier].fraction
            still.append(_fraction(stands) if rule.graduated else Fraction(part))
    if row.line.discount_amount is not None:
        return None
    percent = row.line.discount_percent or ZERO
    kept = Fraction(EXACT.subtract(HUNDRED, percent)) / 100
    digits = minor_digits(lines.currency)
    amount = Fraction(row.exact) / Fraction(row.over) * kept * 10**digits
    whole = swung = ceiling = amount
    if lines.book.policy == "add":
        whole = ceiling = amount * (1 - sum(still, Fraction(0)))
    elif lines.book.policy == "best":
        ceiling = amount * (1 - max(still, default=Fraction(0)))
    else:
        for share in still:
            whole *= 1 - share
        swung = ceiling = whole
    under = lcm(whole.denominator, swung.denominator, ceiling.denominator)
    return tuple(names), _Line(int(whole * under), int(swung * under), int(ceiling * under), under)
