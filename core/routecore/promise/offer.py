"""What can be promised of a quantity, and what else could be done: later, in parts, elsewhere, instead."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.exact import EXACT, ZERO
from routecore.money import in_own_context
from routecore.promise.atp import Stock, periods_of
from routecore.workdays import Workdays

ONE = Decimal(1)
IN_STOCK, COMING, SHORT = "in_stock", "coming", "short"


@dataclass(frozen=True, slots=True, kw_only=True)
class Rules:
    """How long what is not planned takes to come, how long goods travel, and in what steps they go.

    ``lead_days`` is the replenishment's lead time, ``transit_days`` the way to the buyer, both in working
    days; ``lead_days`` None where it cannot be had again. A part of a delivery is a multiple of ``step``.
    """

    calendar: Workdays = field(default_factory=Workdays)
    lead_days: int | None = None
    transit_days: int = 0
    step: Decimal = ONE

    def __post_init__(self) -> None:
        for name in ("lead_days", "transit_days"):
            value = getattr(self, name)
            if value is not None and not 0 <= value <= 1000:
                raise InvalidInput("out_of_range", path=name, facts={"value": value})
        if self.step <= 0:
            raise InvalidInput("out_of_range", path="step", facts={"value": self.step})

    def arrives(self, leaves: date) -> date:
        """The day at the buyer's of what leaves on the first working day from a day on."""
        return self.calendar.after(leaves, self.transit_days)

    def replenished(self, today: date) -> date | None:
        """The day on which what is ordered today has come."""
        return None if self.lead_days is None else self.calendar.after(today, self.lead_days)


@dataclass(frozen=True, slots=True, kw_only=True)
class Part:
    """A quantity, when it leaves, when it is there; ``sure`` is false where it hangs on an unconfirmed receipt."""

    quantity: Decimal
    leaves: date
    arrives: date
    sure: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class Answer:
    """What a quantity is: ``in_stock``, ``coming`` (on ``whole``'s day), or ``short``.

    Short: no planned receipt covers it; ``whole`` is then the day of a replenishment, or None. ``missing``
    is what is lacking beyond all that is planned. ``free`` can be promised today, whatever was asked for; below
    zero where more is promised than there is.
    """

    kind: str
    whole: Part | None
    missing: Decimal = ZERO
    free: Decimal = ZERO

    def in_time(self, wanted: date | None) -> bool:
        """Whether all of it is there by the wanted day; a quantity without one is in time when it comes."""
        return self.whole is not None and (wanted is None or self.whole.arrives <= wanted)


@in_own_context
def answer_of(stock: Stock, quantity: Decimal, today: date, rules: Rules) -> Answer:
    """Whether and when a quantity can be promised without breaking an earlier promise.

    >>> from routecore.promise import Receipt
    >>> plan = Stock(on_hand=Decimal(10), receipts=(Receipt(on=date(2026, 12, 7), quantity=Decimal(30)),))
    >>> rules = Rules(lead_days=15)
    >>> found = [answer_of(plan, Decimal(n), date(2026, 11, 26), rules) for n in (10, 40, 41)]
    >>> [(one.kind, one.whole.leaves.day, str(one.missing)) for one in found]
    [('in_stock', 26, '0'), ('coming', 7, '0'), ('short', 17, '1')]
    """
    if quantity <= 0:
        raise InvalidInput("out_of_range", path="quantity", facts={"value": quantity})
    periods = periods_of(stock, today)
    free = periods[0].by_then
    for n, period in enumerate(periods):
        if period.by_then >= quantity:
            part = _part(quantity, period.start, rules, sure=period.sure)
            return Answer(kind=COMING if n else IN_STOCK, whole=part, free=free)
    missing = quantity - max(periods[-1].by_then, ZERO)
    again = rules.replenished(today)
    if again is None:
        return Answer(kind=SHORT, whole=None, missing=missing, free=free)
    last = max(again, periods[-1].start)
    whole = _part(quantity, last, rules, sure=False)
    return Answer(kind=SHORT, whole=whole, missing=missing, free=free)


def _part(quantity: Decimal, day: date, rules: Rules, *, sure: bool) -> Part:
    leaves = rules.calendar.first_from(day)
    return Part(quantity=quantity, leaves=leaves, arrives=rules.arrives(leaves), sure=sure)


@dataclass(frozen=True, slots=True, kw_only=True)
class Proposal:
    """Something that could be done: ``whole`` later, ``split`` by day, another ``depot``, an item ``instead``.

    ``at`` names the depot or the item. ``last`` is when the last part is there.
    """

    kind: str
    parts: tuple[Part, ...]
    at: str = ""

    @property
    def last(self) -> date:
        """When all of it is there."""
        return max(part.arrives for part in self.parts)


@in_own_context
def proposals(
    here: Stock,
    quantity: Decimal,
    today: date,
    rules: Rules,
    *,
    elsewhere: Mapping[str, tuple[Stock, Rules]] | None = None,
    instead: Mapping[str, tuple[Stock, Rules, Decimal]] | None = None,
) -> tuple[Proposal, ...]:
    """What could be done about a quantity that is not in stock here, the soonest first.

    ``elsewhere``: other depots, each with its own way to the buyer; ``instead``: other items, each with the
    quantity of it that serves. Only what is planned is proposed of these, and only where it comes sooner
    than all of it here. Nothing, where it is in stock.
    """
    whole = answer_of(here, quantity, today, rules)
    if whole.kind == IN_STOCK:
        return ()
    found = []
    if whole.whole is not None:
        found.append(Proposal(kind="whole", parts=(whole.whole,)))
    parts = split_by_day(here, quantity, today, rules)
    if len(parts) > 1:
        found.append(Proposal(kind="split", parts=parts))
    others = [("depot", name, *row, quantity) for name, row in (elsewhere or {}).items()]
    others += [("instead", name, *row) for name, row in (instead or {}).items()]
    for kind, name, stock, own, wanted in others:
        other = answer_of(stock, wanted, today, own)
        sooner = other.whole and (whole.whole is None or other.whole.arrives < whole.whole.arrives)
        if other.kind != SHORT and other.whole and sooner:
            found.append(Proposal(kind=kind, parts=(other.whole,), at=name))
    return tuple(sorted(found, key=lambda each: (each.last, each.kind, each.at)))


@in_own_context
def split_by_day(stock: Stock, quantity: Decimal, today: date, rules: Rules) -> tuple[Part, ...]:
    """As much as can be promised as soon as it can, in whole steps; the rest by a replenishment.

    Nothing where the rest cannot be had. The parts add up to the quantity.
    """
    left, parts = quantity, []
    for period in periods_of(stock, today):
        can = min(left, period.by_then - (quantity - left))
        if can < left:
            can = can // rules.step * rules.step
        if can <= 0:
            continue
        parts.append(_part(can, period.start, rules, sure=period.sure))
        left = EXACT.subtract(left, can)
        if not left:
            return _of_a_day(parts)
    again = rules.replenished(today)
    if again is None:
        return ()
    last = max([again, *(part.leaves for part in parts)])
    return _of_a_day([*parts, _part(left, last, rules, sure=False)])


def _of_a_day(parts: list[Part]) -> tuple[Part, ...]:
    """Parts that leave on one day are one."""
    by_day: dict[date, Part] = {}
    for part in parts:
        known = by_day.get(part.leaves)
        by_day[part.leaves] = (
            part
            if known is None
            else Part(
                quantity=known.quantity + part.quantity,
                leaves=part.leaves,
                arrives=part.arrives,
                sure=known.sure and part.sure,
            )
        )
    return tuple(by_day.values())
