"""The pace of a framework agreement against its time."""

from datetime import date, timedelta
from itertools import pairwise

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.agreement import (
    Planned,
    against_plan,
    curve_of,
    pace_of,
    quantity_for,
    spread,
)
from routecore.errors import InvalidInput
from tests.core.build import D

BEGINS, ENDS = date(2028, 1, 1), date(2028, 12, 31)


@pytest.mark.parametrize(
    ("called", "on", "state", "percent", "time", "by_end"),
    [
        ("0", date(2027, 12, 31), "coming", "0", "0", None),
        ("50", date(2028, 7, 1), "even", "50", "50", "100"),
        ("39.9", date(2028, 7, 1), "behind", "39.9", "50", "80"),
        ("61", date(2028, 7, 1), "ahead", "61", "50", "122"),
        ("100", date(2028, 7, 1), "used", "100", "50", "200"),
        ("120", date(2028, 7, 1), "used", "120", "50", "240"),
        ("99", date(2029, 1, 1), "over", "99", "100", "99"),
        ("99", ENDS, "even", "99", "100", "99"),
    ],
)
def test_a_leap_year_of_a_hundred(
    called: str, on: date, state: str, percent: str, time: str, by_end: str | None
) -> None:
    found = pace_of(D(100), D(called), BEGINS, ENDS, on)
    assert (found.state, found.percent, found.time_percent) == (state, D(percent), D(time))
    assert found.by_end == (D(by_end) if by_end else None)
    assert found.left == max(D(100) - D(called), D(0))


def test_what_cannot_be_is_refused() -> None:
    with pytest.raises(InvalidInput):
        pace_of(D(0), D(0), BEGINS, ENDS, BEGINS)
    with pytest.raises(InvalidInput):
        pace_of(D(1), D(0), ENDS, BEGINS, BEGINS)


@given(
    st.decimals(min_value="0.001", max_value="1000000", places=3),
    st.decimals(min_value="0", max_value="1000000", places=3),
    st.integers(min_value=0, max_value=2000),
    st.integers(min_value=-50, max_value=2500),
)
def test_shares_stay_within_the_time_and_left_within_the_quantity(
    quantity: object, called: object, days: int, later: int
) -> None:
    ends, on = BEGINS + timedelta(days=days), BEGINS + timedelta(days=later)
    found = pace_of(D(str(quantity)), D(str(called)), BEGINS, ends, on)
    assert D(0) <= found.time_percent <= D(100)
    assert D(0) <= found.left <= D(str(quantity))
    assert (found.by_end is None) == (later < 0)


def plan(*rows: tuple[int, str]) -> list[Planned]:
    """What is planned by months of the year, on their first."""
    return [Planned(on=date(2028, month, 1), quantity=D(many)) for month, many in rows]


SEASON = plan((3, "40"), (4, "40"), (10, "20"))


@pytest.mark.parametrize(
    ("called", "on", "state", "due", "by_end"),
    [
        ("0", date(2028, 2, 20), "even", "0", "100"),
        ("0", date(2028, 3, 1), "even", "0", "100"),
        ("0", date(2028, 3, 2), "behind", "40", "60"),
        ("40", date(2028, 3, 20), "even", "40", "100"),
        ("80", date(2028, 9, 30), "even", "80", "100"),
        ("60", date(2028, 9, 30), "behind", "80", "80"),
        ("95", date(2028, 9, 30), "ahead", "80", "100"),
    ],
)
def test_a_planned_season_is_not_behind_because_time_goes_by(
    called: str, on: date, state: str, due: str, by_end: str
) -> None:
    found = pace_of(D(100), D(called), BEGINS, ENDS, on, plan=SEASON)
    assert (found.state, found.due_percent, found.by_end) == (state, D(due), D(by_end))
    assert found.misses == (state == "behind")


def test_a_plan_that_comes_to_less_than_was_committed_misses_it_though_nothing_is_late() -> None:
    found = pace_of(D(100), D(40), BEGINS, ENDS, date(2028, 3, 20), plan=plan((3, "40"), (4, "50")))
    assert (found.state, found.by_end, found.misses) == ("even", D(90), True)
    found = pace_of(D(100), D(40), BEGINS, ENDS, date(2028, 3, 20), plan=plan((3, "40"), (4, "60")))
    assert not found.misses


def test_what_is_called_off_fills_the_earliest_first_and_is_told_before_it_is_due() -> None:
    told = against_plan(SEASON, D(50), date(2028, 4, 2), notice_days=200)
    assert [(row.state, row.open) for row in told] == [("done", 0), ("late", 30), ("due", 20)]
    told = against_plan(SEASON, D(0), date(2028, 2, 25), notice_days=5)
    assert [row.state for row in told] == ["due", "coming", "coming"]


quantities = st.decimals(min_value="0", max_value="1000000", places=3).map(
    lambda each: D(str(each))
)
days_of_year = st.dates(BEGINS, ENDS)


@given(
    st.lists(st.tuples(days_of_year, quantities.filter(bool)), max_size=12),
    quantities,
    days_of_year,
)
def test_of_a_plan_nothing_is_filled_twice(rows: list[tuple[date, D]], called: D, on: date) -> None:
    planned = [Planned(on=day, quantity=many) for day, many in rows]
    found = against_plan(planned, called, on)
    filled = sum((row.quantity - row.open for row in found), D(0))
    assert filled == min(called, sum((row.quantity for row in planned), D(0)))
    for before, after in pairwise(found):
        assert not before.open or after.open == after.quantity
    assert all((row.state == "done") == (row.open == 0) for row in found)


@given(
    quantities,
    st.lists(days_of_year, min_size=1, max_size=20, unique=True),
    st.sampled_from(["0.01", "1", "7", "50"]),
)
def test_what_is_spread_is_what_was_committed_in_steps_of_a_pack(
    committed: D, days: list[date], step: str
) -> None:
    found = spread(committed, days, D(step))
    assert sum((row.quantity for row in found), D(0)) == committed
    assert all(row.quantity % D(step) == 0 for row in found[:-1])
    assert len({row.on for row in found}) == len(found)


@given(st.lists(st.tuples(st.dates(date(2027, 1, 1), date(2029, 12, 31)), quantities), max_size=12))
def test_a_curve_never_falls_and_stays_within_its_days(rows: list[tuple[date, D]]) -> None:
    steps = [Planned(on=day, quantity=many) for day, many in rows]
    found = curve_of(steps, D(500), BEGINS, ENDS)
    for before, after in pairwise(found):
        assert before.percent <= after.percent
        assert before.time_percent <= after.time_percent <= 100


@given(
    quantities.filter(bool),
    quantities.filter(bool),
    st.sampled_from(["1", "100"]),
    st.sampled_from(["0.001", "1", "25"]),
)
def test_an_amount_buys_the_least_that_leaves_nothing_of_it(
    amount: D, price: D, per: str, step: str
) -> None:
    found = quantity_for(amount, price, D(per), step=D(step))
    assert found % D(step) == 0
    assert found * price / D(per) >= amount
    assert (found - D(step)) * price < amount * D(per)
