"""What is to be won by several together: a team's own target stands for its people's."""

from collections.abc import Collection, Iterable
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from routecore.money import ZERO, in_own_context


@dataclass(frozen=True, slots=True, kw_only=True)
class Aimed:
    """A target of the month that begins on ``month``: of a person of a team (None: of none), or with ``person`` None
    the team's own."""

    month: date
    team: int | None
    person: int | None
    amount: Decimal


@in_own_context
def aimed_by_month(rows: Iterable[Aimed], *, whole: Collection[int]) -> dict[date, Decimal]:
    """What is to be won together, by month; months without a target are left out.

    Of the teams that are looked at as a ``whole``, one with a target of its own counts with that, whatever its people
    are to win; the others count with their people's. A team's own target says nothing of a part of its people.

    >>> jan = date(2027, 1, 1)
    >>> rows = [Aimed(month=jan, team=1, person=7, amount=Decimal(40)),
    ...         Aimed(month=jan, team=1, person=None, amount=Decimal(90)),
    ...         Aimed(month=jan, team=2, person=8, amount=Decimal(5))]
    >>> aimed_by_month(rows, whole={1, 2})[jan], aimed_by_month(rows, whole={2})[jan]
    (Decimal('95'), Decimal('45'))
    """
    known = list(rows)
    own = {(row.month, row.team) for row in known if row.person is None and row.team in whole}
    found: dict[date, Decimal] = {}
    for row in known:
        counts = (row.month, row.team) in own
        if (row.person is None) == counts:
            found[row.month] = found.get(row.month, ZERO) + row.amount
    return found
