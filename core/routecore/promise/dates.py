"""By when everybody who was promised something gets it, and what moves where one gives to another."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date

from routecore.errors import InvalidInput
from routecore.exact import ZERO
from routecore.money import in_own_context
from routecore.promise.atp import Stock


@dataclass(frozen=True, slots=True, kw_only=True)
class Held:
    """When a commitment is covered: ``on`` its day or later, None where nothing that is planned covers it.

    ``there`` is the day on which its goods are in the house, which may be before it is wanted.
    """

    line: str
    by: date
    on: date | None
    there: date | None = None

    @property
    def late(self) -> bool:
        """Whether it comes later than it was promised, or not at all."""
        return self.on is None or self.on > self.by


@in_own_context
def held_dates(
    stock: Stock, today: date, order: Mapping[str, int] | None = None
) -> tuple[Held, ...]:
    """The day of every commitment: served in order of their days, then of their ranks, then as they stand.

    ``order`` gives a line another rank than 0; the lowest goes first, whatever its day.
    """
    ranks = order or {}
    rows = sorted(
        enumerate(stock.commitments),
        key=lambda pair: (ranks.get(pair[1].line, 0), pair[1].by, pair[0]),
    )
    supply = [(today, stock.on_hand), *((row.on, row.quantity) for row in stock.coming(today))]
    found, needed = [], ZERO
    for _, row in rows:
        needed += row.quantity
        covered, there, have = None, None, ZERO
        for day, quantity in supply:
            have += quantity
            if have >= needed:
                covered, there = max(day, row.by), day
                break
        found.append(Held(line=row.line, by=row.by, on=covered, there=there))
    return tuple(found)


def what_moves(
    stock: Stock, today: date, *, giver: str, taker: str
) -> tuple[tuple[Held, Held], ...]:
    """Each line whose day changes where ``giver`` lets ``taker`` go first: before and after.

    Nothing is changed: who asks decides. Raises ``InvalidInput`` for a line that is not there, or one
    that would give to itself.
    """
    known = {row.line for row in stock.commitments}
    for path, line in (("giver", giver), ("taker", taker)):
        if line not in known:
            raise InvalidInput("unknown_line", path=path, facts={"line": line})
    if giver == taker:
        raise InvalidInput("itself", path="taker", facts={"line": taker})
    before = {row.line: row for row in held_dates(stock, today)}
    rows = list(stock.commitments)
    by_line = {row.line: row for row in rows}
    # They stand in each other's place, each with its own quantity.
    swapped = {
        giver: replace(by_line[giver], by=max(by_line[giver].by, by_line[taker].by)),
        taker: replace(by_line[taker], by=min(by_line[giver].by, by_line[taker].by)),
    }
    order = [row.line for row in rows]
    first, second = order.index(giver), order.index(taker)
    order[first], order[second] = order[second], order[first]
    again = replace(stock, commitments=tuple(swapped.get(line, by_line[line]) for line in order))
    after = {row.line: row for row in held_dates(again, today)}
    pairs = ((before[line], replace(after[line], by=before[line].by)) for line in before)
    return tuple((one, other) for one, other in pairs if one.on != other.on)
