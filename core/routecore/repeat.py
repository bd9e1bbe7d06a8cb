"""Days that repeat by a rule, as RFC 5545 (iCalendar) writes it: every second Tuesday, the first Monday of March to May.

A part of its ``RRULE`` (section 3.3.10): ``FREQ`` weekly or monthly, ``INTERVAL``, ``BYDAY``,
``BYMONTHDAY``, ``BYMONTH``. The days themselves are counted by ``python-dateutil``. A day of a month is
one that every month has: 1 to 28, or -1 for its last.
"""

from dataclasses import dataclass
from datetime import date, datetime, time
from itertools import islice
from typing import Literal

from dateutil.rrule import MONTHLY, WEEKLY, rrule, weekday

from routecore.errors import InvalidInput

Every = Literal["week", "month"]
WEEK: Every = "week"
MONTH: Every = "month"
FREQUENCIES: dict[str, Every] = {"WEEKLY": WEEK, "MONTHLY": MONTH}
WEEKDAYS = ("MO", "TU", "WE", "TH", "FR", "SA", "SU")
#: The first to the fourth of a month, and its last.
TURNS = (1, 2, 3, 4, -1)
MONTHS = range(1, 13)
DAYS = (*range(1, 29), -1)
#: No more weeks or months lie between two days.
LONGEST = 26
#: So many days at most in one answer.
MOST = 400


@dataclass(frozen=True, slots=True, kw_only=True)
class Repetition:
    """A rule for days.

    ``every`` ``interval`` weeks on ``weekdays`` (Monday = 0); or every so many months on the ``turn``-th
    ``weekdays`` (one of them; -1 for the last), or on the ``month_day``; of ``months`` alone, where
    some are named. Raises ``InvalidInput`` for what names no day.

    >>> Repetition(every="month", turn=1, weekdays=(0,), months=(3, 4, 5)).rule
    'FREQ=MONTHLY;BYMONTH=3,4,5;BYDAY=1MO'
    """

    every: Every
    interval: int = 1
    weekdays: tuple[int, ...] = ()
    turn: int | None = None
    month_day: int | None = None
    months: tuple[int, ...] = ()

    def __post_init__(self) -> None:
        _within(self.interval, range(1, LONGEST + 1), "interval")
        for name, values, known in (
            ("weekdays", self.weekdays, range(7)),
            ("months", self.months, MONTHS),
        ):
            if list(values) != sorted(set(values)):
                raise InvalidInput("out_of_order", path=name)
            for value in values:
                _within(value, known, name)
        if self.every == WEEK:
            self._require(bool(self.weekdays), "weekdays")
            self._require(not (self.turn or self.month_day or self.months), "every")
            return
        by_day = self.month_day is not None
        self._require(by_day != (self.turn is not None), "turn")
        self._require(len(self.weekdays) == (0 if by_day else 1), "weekdays")
        if self.month_day is not None:
            _within(self.month_day, DAYS, "month_day")
        if self.turn is not None:
            _within(self.turn, TURNS, "turn")

    @staticmethod
    def _require(holds: bool, path: str) -> None:
        if not holds:
            raise InvalidInput("names_no_day", path=path)

    @property
    def rule(self) -> str:
        """The rule in RFC 5545's notation."""
        parts = [f"FREQ={'WEEKLY' if self.every == WEEK else 'MONTHLY'}"]
        if self.interval > 1:
            parts.append(f"INTERVAL={self.interval}")
        if self.months:
            parts.append("BYMONTH=" + ",".join(str(month) for month in self.months))
        if self.month_day is not None:
            parts.append(f"BYMONTHDAY={self.month_day}")
        if self.weekdays:
            turn = "" if self.turn is None else str(self.turn)
            parts.append("BYDAY=" + ",".join(turn + WEEKDAYS[day] for day in self.weekdays))
        return ";".join(parts)

    def days(
        self, begins: date, until: date, *, after: date | None = None, most: int = MOST
    ) -> tuple[date, ...]:
        """The days from ``begins`` to ``until``, both inclusive; those later than ``after`` alone.

        An interval is counted from the week or month of ``begins``.

        >>> first_mondays = Repetition(every="month", turn=1, weekdays=(0,), months=(3, 4, 5))
        >>> [str(day) for day in first_mondays.days(date(2026, 1, 1), date(2026, 12, 31))]
        ['2026-03-02', '2026-04-06', '2026-05-04']
        """
        turns = [weekday(day, self.turn) for day in self.weekdays]
        found = rrule(
            WEEKLY if self.every == WEEK else MONTHLY,
            dtstart=datetime.combine(begins, time()),
            until=datetime.combine(until, time()),
            interval=self.interval,
            byweekday=turns or None,
            bymonthday=self.month_day,
            bymonth=self.months or None,
        )
        later = (at.date() for at in found if after is None or at.date() > after)
        return tuple(islice(later, most))

    def next_after(self, begins: date, until: date, after: date) -> date | None:
        """The first day later than ``after``; None where there is none until ``until``."""
        return next(iter(self.days(begins, until, after=after, most=1)), None)


def _within(value: int, known: range | tuple[int, ...], path: str) -> None:
    if value not in known:
        raise InvalidInput("out_of_range", path=path, facts={"value": value})


def read_rule(text: str) -> Repetition:
    """The rule that a text of RFC 5545 writes; raises ``InvalidInput`` for what is not of this part of it.

    >>> read_rule("FREQ=WEEKLY;INTERVAL=2;BYDAY=TU,TH").weekdays
    (1, 3)
    """
    parts = dict(_pair(part) for part in text.removeprefix("RRULE:").split(";"))
    every = FREQUENCIES.get(parts.pop("FREQ", ""))
    named = {name: parts.pop(name, "") for name in ("INTERVAL", "BYMONTH", "BYMONTHDAY", "BYDAY")}
    if every is None or parts:
        raise InvalidInput("unreadable", path="rule", facts={"what": "repetition"})
    turns, weekdays = set(), []
    for word in filter(None, named["BYDAY"].split(",")):
        if word[-2:] not in WEEKDAYS:
            raise InvalidInput("unreadable", path="rule", facts={"what": "repetition"})
        weekdays.append(WEEKDAYS.index(word[-2:]))
        turns.add(_number(word[:-2]))
    if len(turns) > 1:
        raise InvalidInput("unreadable", path="rule", facts={"what": "repetition"})
    months = [_number(month) or 0 for month in filter(None, named["BYMONTH"].split(","))]
    return Repetition(
        every=every,
        interval=_number(named["INTERVAL"]) or 1,
        weekdays=tuple(sorted(weekdays)),
        turn=turns.pop() if turns else None,
        month_day=_number(named["BYMONTHDAY"]),
        months=tuple(sorted(months)),
    )


def _pair(part: str) -> tuple[str, str]:
    name, _, value = part.partition("=")
    return name, value


def _number(text: str) -> int | None:
    """A whole number, signed; None for nothing."""
    try:
        return int(text) if text else None
    except ValueError as error:
        raise InvalidInput("unreadable", path="rule", facts={"what": "repetition"}) from error
