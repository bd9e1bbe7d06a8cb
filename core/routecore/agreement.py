"""How far a framework agreement has been called off, against how much of its time has gone by or what was planned.

Source: the house's own policy; the margin is an argument with this default.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.exact import EXACT, HUNDRED, ZERO, nearest
from routecore.money import in_own_context, sum_of

#: Shares are told to a tenth of a percent.
TENTH = Decimal("0.1")


@dataclass(frozen=True, slots=True, kw_only=True)
class Pace:
    """Where an agreement stands on a day.

    ``state``: ``coming`` (not begun), ``behind``, ``even``, ``ahead`` while it runs, ``used`` (nothing is
    left), ``over`` (its days are over). ``percent`` of what was committed that is called off,
    ``time_percent`` of its days gone by, ``due_percent`` of what should be called off by now, each
    to a tenth; ``left`` in what was committed; ``by_end`` what will be called off when its days are over: by
    the plan that is left, or at this pace (whole from a hundred on); None before it begins. ``short_plan``
    where a plan, followed from now on, comes to less than was committed.
    """

    state: str
    percent: Decimal
    time_percent: Decimal
    due_percent: Decimal
    left: Decimal
    by_end: Decimal | None
    short_plan: bool = False

    @property
    def misses(self) -> bool:
        """Whether less will be called off than was committed, unless somebody does something."""
        return self.state == "behind" or (self.state in ("even", "ahead") and self.short_plan)


@dataclass(frozen=True, slots=True, kw_only=True)
class Planned:
    """A call-off that was planned: so much by a day."""

    on: date
    quantity: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class PlannedState:
    """Where a planned call-off stands: ``open`` of it; ``done``, ``late``, ``due`` or ``coming``."""

    on: date
    quantity: Decimal
    open: Decimal
    state: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Point:
    """A point of a curve, in percent to a tenth: of the agreement's days, of what was committed."""

    time_percent: Decimal
    percent: Decimal


@in_own_context
def pace_of(
    committed: Decimal,
    called_off: Decimal,
    begins: date,
    ends: date,
    on: date,
    *,
    plan: Sequence[Planned] = (),
    margin_percent: Decimal = Decimal(10),
) -> Pace:
    """The pace of an agreement over ``committed`` (a quantity or an amount) from ``begins`` to ``ends``, both
    inclusive.

    ``behind`` and ``ahead`` are more than ``margin_percent`` points from what should be called off by now: of
    a ``plan`` what it says up to yesterday, without one the share of its time. Raises ``InvalidInput``
    for nothing committed and for days out of order.

    >>> found = pace_of(Decimal(100), Decimal(20), date(2026, 1, 1), date(2026, 12, 31), date(2026, 7, 2))
    >>> found.state, str(found.time_percent), str(found.by_end)
    ('behind', '50.1', '40')
    """
    if committed <= 0:
        raise InvalidInput("out_of_range", path="quantity", facts={"value": committed})
    if ends < begins:
        raise InvalidInput("out_of_order", path="ends")
    share = nearest(EXACT.multiply(called_off, HUNDRED), committed, TENTH)
    time = _time_percent(begins, ends, on)
    due = _planned_percent(plan, committed, on) if plan else time
    left = max(committed - called_off, ZERO)
    by_end = None if on < begins else _by_end(committed, called_off, begins, ends, on, plan)
    return Pace(
        state=_state(share - due, left, margin_percent, begins=begins, ends=ends, on=on),
        percent=share,
        time_percent=time,
        due_percent=due,
        left=left,
        by_end=by_end,
        short_plan=bool(plan) and by_end is not None and by_end < committed,
    )


def _planned_percent(plan: Sequence[Planned], committed: Decimal, on: date) -> Decimal:
    planned = sum_of(row.quantity for row in plan if row.on < on)
    return min(nearest(EXACT.multiply(planned, HUNDRED), committed, TENTH), HUNDRED)


def _time_percent(begins: date, ends: date, on: date) -> Decimal:
    days = (ends - begins).days + 1
    gone = min(max((on - begins).days + 1, 0), days)
    return nearest(Decimal(gone * 100), Decimal(days), TENTH)


def _by_end(
    committed: Decimal,
    called_off: Decimal,
    begins: date,
    ends: date,
    on: date,
    plan: Sequence[Planned],
) -> Decimal:
    if plan:
        coming = against_plan(plan, called_off, on)
        return called_off + sum_of(row.open for row in coming if on <= row.on <= ends)
    days = (ends - begins).days + 1
    gone = min((on - begins).days + 1, days)
    step = Decimal(1) if committed >= HUNDRED else Decimal("0.01")
    return nearest(EXACT.multiply(called_off, Decimal(days)), Decimal(gone), step)


@in_own_context
def against_plan(
    plan: Iterable[Planned], called_off: Decimal, on: date, *, notice_days: int = 0
) -> tuple[PlannedState, ...]:
    """Where each planned call-off stands: what was called off fills the earliest first.

    ``late`` from the day after its own; ``due`` from ``notice_days`` before it. Sums of ``open`` and of what
    was filled are what was planned, exactly.

    >>> rows = [Planned(on=date(2026, 3, 2), quantity=Decimal(40)), Planned(on=date(2026, 4, 6), quantity=Decimal(40))]
    >>> [(row.state, str(row.open)) for row in against_plan(rows, Decimal(50), date(2026, 4, 6))]
    [('done', '0'), ('due', '30')]
    """
    left, found = called_off, []
    for row in sorted(plan, key=lambda each: each.on):
        filled = min(row.quantity, max(left, ZERO))
        left -= filled
        still = row.quantity - filled
        found.append(
            PlannedState(
                on=row.on,
                quantity=row.quantity,
                open=still,
                state=_state_of_planned(still, row.on, on, notice_days),
            )
        )
    return tuple(found)


@in_own_context
def quantity_for(
    amount: Decimal, price: Decimal, per: Decimal, step: Decimal = Decimal("0.000001")
) -> Decimal:
    """What an amount buys at a price per so many: rounded up to a whole ``step``, so that nothing of it is left.

    >>> str(quantity_for(Decimal("500.00"), Decimal("3.30"), Decimal(1), step=Decimal(1)))
    '152'
    """
    for name, value in (("price", price), ("per", per), ("step", step)):
        if value <= 0:
            raise InvalidInput("not_positive", path=name, facts={"value": value})
    whole = EXACT.multiply(amount, per)
    steps = whole // EXACT.multiply(price, step)
    if EXACT.multiply(steps, EXACT.multiply(price, step)) < whole:
        steps += 1
    return EXACT.multiply(steps, step)


def _state_of_planned(still: Decimal, planned_on: date, on: date, notice_days: int) -> str:
    if not still:
        return "done"
    if planned_on < on:
        return "late"
    return "due" if planned_on <= on + timedelta(days=notice_days) else "coming"


@in_own_context
def spread(committed: Decimal, days: Sequence[date], step: Decimal) -> tuple[Planned, ...]:
    """What was committed, evenly over days: whole ``step``s (a pack, a piece), what is over on the first ones.

    The sum is ``committed`` exactly: a rest that is no whole step goes to the last day.

    >>> [str(row.quantity) for row in spread(Decimal(100), [date(2026, 1, d) for d in (5, 12, 19)], Decimal(10))]
    ['40', '30', '30']
    """
    if not days:
        raise InvalidInput("required", path="days", facts={"what": "days"})
    if step <= 0:
        raise InvalidInput("not_positive", path="step", facts={"value": step})
    steps = int(committed // step)
    each, more = divmod(steps, len(days))
    rest = committed - EXACT.multiply(Decimal(steps), step)
    rows = []
    for n, day in enumerate(sorted(days)):
        quantity = EXACT.multiply(Decimal(each + (1 if n < more else 0)), step)
        if n == len(days) - 1:
            quantity += rest
        if quantity:
            rows.append(Planned(on=day, quantity=quantity))
    return tuple(rows)


def joined(rows: Iterable[Planned]) -> list[Planned]:
    """The same by days, each once."""
    days: dict[date, Decimal] = {}
    for row in rows:
        days[row.on] = EXACT.add(days.get(row.on, ZERO), row.quantity)
    return [Planned(on=day, quantity=days[day]) for day in sorted(days)]


@in_own_context
def curve_of(
    rows: Iterable[Planned], committed: Decimal, begins: date, ends: date
) -> tuple[Point, ...]:
    """What came to how much by when, as points of a curve of steps; beyond the agreement's days at its edges.

    It begins at nothing; each day adds what came on it.

    >>> [(str(p.time_percent), str(p.percent)) for p in curve_of(
    ...     [Planned(on=date(2026, 1, 5), quantity=Decimal(4))], Decimal(8), date(2026, 1, 1), date(2026, 1, 10))]
    [('0', '0'), ('50.0', '50.0')]
    """
    whole, points = ZERO, [Point(time_percent=ZERO, percent=ZERO)]
    for row in sorted(rows, key=lambda each: each.on):
        whole += row.quantity
        share = nearest(EXACT.multiply(whole, HUNDRED), committed, TENTH)
        points.append(Point(time_percent=_time_percent(begins, ends, row.on), percent=share))
    return tuple(points)


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
