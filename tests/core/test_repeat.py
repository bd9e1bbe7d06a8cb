"""Days that repeat, against the examples of RFC 5545 (section 3.8.5.3, "Recurrence Rule")."""

from datetime import date, timedelta

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.errors import InvalidInput
from routecore.repeat import TURNS, Repetition, read_rule

#: Rule, the day it begins, and the days that the RFC writes out; months are of 1997 and, after a slash, of 1998.
EXAMPLES = [
    (
        "FREQ=MONTHLY;BYDAY=1FR",
        date(1997, 9, 5),
        "1997-09-05 1997-10-03 1997-11-07 1997-12-05 1998-01-02 1998-02-06 1998-03-06 1998-04-03 "
        "1998-05-01 1998-06-05",
    ),
    (
        "FREQ=WEEKLY;INTERVAL=2;BYDAY=MO,WE,FR",
        date(1997, 9, 1),
        "1997-09-01 1997-09-03 1997-09-05 1997-09-15 1997-09-17 1997-09-19 1997-09-29 1997-10-01 "
        "1997-10-03 1997-10-13 1997-10-15 1997-10-17 1997-10-27 1997-10-29 1997-10-31 1997-11-10 "
        "1997-11-12 1997-11-14 1997-11-24 1997-11-26 1997-11-28 1997-12-08 1997-12-10 1997-12-12 "
        "1997-12-22",
    ),
    (
        "FREQ=WEEKLY;BYDAY=TU,TH",
        date(1997, 9, 2),
        "1997-09-02 1997-09-04 1997-09-09 1997-09-11 1997-09-16 1997-09-18 1997-09-23 1997-09-25 "
        "1997-09-30 1997-10-02",
    ),
]


@pytest.mark.parametrize(("rule", "begins", "days"), EXAMPLES)
def test_the_days_are_those_of_the_standard(rule: str, begins: date, days: str) -> None:
    told = [date.fromisoformat(day) for day in days.split()]
    assert list(read_rule(rule).days(begins, told[-1])) == told


def test_the_first_monday_of_march_to_may_and_the_last_day_of_a_month() -> None:
    spring = Repetition(every="month", turn=1, weekdays=(0,), months=(3, 4, 5))
    found = spring.days(date(2026, 1, 1), date(2027, 12, 31))
    assert [str(day) for day in found[:4]] == [
        "2026-03-02",
        "2026-04-06",
        "2026-05-04",
        "2027-03-01",
    ]
    last = Repetition(every="month", month_day=-1)
    told = [str(day) for day in last.days(date(2028, 1, 1), date(2028, 4, 30))]
    assert told == ["2028-01-31", "2028-02-29", "2028-03-31", "2028-04-30"]


@pytest.mark.parametrize(
    ("facts", "path"),
    [
        ({"every": "week"}, "weekdays"),
        ({"every": "week", "weekdays": (0,), "months": (3,)}, "every"),
        ({"every": "month"}, "turn"),
        ({"every": "month", "turn": 1}, "weekdays"),
        ({"every": "month", "turn": 1, "month_day": 3, "weekdays": (0,)}, "turn"),
        ({"every": "month", "month_day": 31}, "month_day"),
        ({"every": "month", "turn": 5, "weekdays": (0,)}, "turn"),
        ({"every": "month", "month_day": 1, "months": (13,)}, "months"),
        ({"every": "week", "weekdays": (1, 0)}, "weekdays"),
        ({"every": "week", "weekdays": (1,), "interval": 27}, "interval"),
    ],
)
def test_what_names_no_day_is_refused_where_it_stands(facts: dict[str, object], path: str) -> None:
    with pytest.raises(InvalidInput) as refused:
        Repetition(**facts)  # type: ignore[arg-type]
    assert refused.value.path == path


@pytest.mark.parametrize(
    "text",
    ["", "FREQ=DAILY", "FREQ=WEEKLY;BYDAY=XX", "FREQ=MONTHLY;BYDAY=1MO,2TU", "FREQ=MONTHLY;COUNT=3",
     "FREQ=MONTHLY;BYMONTHDAY=x"],
)  # fmt: skip
def test_what_is_not_of_this_part_of_the_standard_is_refused(text: str) -> None:
    with pytest.raises(InvalidInput):
        read_rule(text)


def sets(least: int, most: int, size: int) -> st.SearchStrategy[tuple[int, ...]]:
    return st.sets(st.integers(least, most), min_size=size).map(lambda s: tuple(sorted(s)))


RULES = st.one_of(
    st.builds(
        Repetition, every=st.just("week"), interval=st.integers(1, 26), weekdays=sets(0, 6, 1)
    ),
    st.builds(
        Repetition,
        every=st.just("month"),
        interval=st.integers(1, 26),
        turn=st.sampled_from(TURNS),
        weekdays=st.integers(0, 6).map(lambda day: (day,)),
        months=sets(1, 12, 0),
    ),
    st.builds(
        Repetition,
        every=st.just("month"),
        month_day=st.integers(1, 28) | st.just(-1),
        months=sets(1, 12, 0),
    ),
)


@given(RULES, st.dates(date(2020, 1, 1), date(2030, 1, 1)), st.integers(0, 900), st.data())
def test_every_rule_is_written_and_read_and_its_days_are_as_it_says(
    rule: Repetition, begins: date, days: int, data: st.DataObject
) -> None:
    assert read_rule(rule.rule) == rule
    until = begins + timedelta(days=days)
    found = rule.days(begins, until)
    assert list(found) == sorted(set(found))
    assert all(begins <= day <= until for day in found)
    for day in found:
        assert not rule.weekdays or day.weekday() in rule.weekdays
        assert not rule.months or day.month in rule.months
        if rule.turn == 1:
            assert day.day <= 7
        if -1 in (rule.turn, rule.month_day):
            assert (day + timedelta(days=7)).month != day.month
    after = data.draw(st.dates(begins, until))
    assert rule.next_after(begins, until, after) == next((d for d in found if d > after), None)
