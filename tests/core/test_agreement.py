"""The pace of a framework agreement against its time."""

from datetime import date, timedelta

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.agreement import pace_of
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
