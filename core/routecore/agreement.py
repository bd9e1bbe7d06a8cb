"""How far a framework agreement has been called off, against how much of its time has gone by.

Source: the house's own policy; the margin is an argument with this default.
"""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.exact import EXACT, HUNDRED, ZERO, nearest
from routecore.money import in_own_context

#: Shares are told to a tenth of a percent.
TENTH = Decimal("0.1")


@dataclass(frozen=True, slots=True, kw_only=True)
class Pace:
    """Where an agreement stands on a day.

    ``state``: ``coming`` (not begun), ``behind``, ``even``, ``ahead`` while it runs, ``used`` (nothing is
    left), ``over`` (its days are over). ``percent`` of the quantity called off and ``time_percent``
    of its days gone by, to a tenth; ``left`` in the agreement's unit; ``by_end`` what will be called off
    at this pace when its days are over (whole from a hundred on), None before it begins.
    """

    state: str
    percent: Decimal
    time_percent: Decimal
    left: Decimal
    by_end: Decimal | None


@in_own_context
def pace_of(
    quantity: Decimal,
    called_off: Decimal,
    begins: date,
    ends: date,
    on: date,
    *,
    margin_percent: Decimal = Decimal(10),
) -> Pace:
    """The pace of an agreement over ``quantity`` from ``begins`` to ``ends``, both inclusive.

    ``behind`` and ``ahead`` are more than ``margin_percent`` points from the share of its time.
    Raises ``InvalidInput`` for no quantity and for days out of order.

    >>> found = pace_of(Decimal(100), Decimal(20), date(2026, 1, 1), date(2026, 12, 31), date(2026, 7, 2))
    >>> found.state, str(found.time_percent), str(found.by_end)
    ('behind', '50.1', '40')
    """
    if quantity <= 0:
        raise InvalidInput("out_of_range", path="quantity", facts={"value": quantity})
    if ends < begins:
        raise InvalidInput("out_of_order", path="ends")
    days = (ends - begins).days + 1
    gone = min(max((on - begins).days + 1, 0), days)
    share = nearest(EXACT.multiply(called_off, HUNDRED), quantity, TENTH)
    time = nearest(Decimal(gone * 100), Decimal(days), TENTH)
    left = max(quantity - called_off, ZERO)
    by_end = None
    if gone:
        step = Decimal(1) if quantity >= HUNDRED else Decimal("0.01")
        by_end = nearest(EXACT.multiply(called_off, Decimal(days)), Decimal(gone), step)
    return Pace(
        state=_state(share - time, left, margin_percent, begins=begins, ends=ends, on=on),
        percent=share,
        time_percent=time,
        left=left,
        by_end=by_end,
    )


def _state(
    points: Decimal, left: Decimal, margin: Decimal, *, begins: date, ends: date, on: date
) -> str:
    if not left:
        return "used"
    if on > ends:
        return "over"
    if on < begins:
        return "coming"
    if abs(points) <= margin:
        return "even"
    return "ahead" if points > 0 else "behind"
