"""Working days."""

from datetime import date, timedelta

from hypothesis import given
from hypothesis import strategies as st
import numpy as np
import pytest

from routecore.errors import InvalidInput
from routecore.workdays import Workdays, joined

DAYS = st.dates(date(2024, 1, 1), date(2027, 12, 31))
HOLIDAYS = st.frozensets(DAYS, max_size=60)


def as_numpy(days: frozenset[date]) -> "np.ndarray[tuple[int], np.dtype[np.datetime64]]":
    return np.array(sorted(days), dtype="datetime64[D]")


@given(day=DAYS, days=st.integers(0, 300), holidays=HOLIDAYS)
def test_as_numpy_counts_them(day: date, days: int, holidays: frozenset[date]) -> None:
    """Source: ``numpy.busday_offset`` and ``busday_count``, NumPy reference."""
    ours = Workdays(holidays)
    far = as_numpy(holidays)
    assert ours.after(day, days) == np.busday_offset(day, days, roll="forward", holidays=far).item()
    assert (
        ours.before(day, days) == np.busday_offset(day, -days, roll="backward", holidays=far).item()
    )
    other = day + timedelta(days=days)
    assert ours.between(day, other) == int(np.busday_count(day, other, holidays=far))


def test_a_calendar_without_a_working_day_is_none() -> None:
    with pytest.raises(InvalidInput):
        Workdays(weekend=frozenset(range(7))).after(date(2026, 11, 26), 1)
    with pytest.raises(InvalidInput):
        Workdays(weekend=frozenset(range(7))).before(date(2026, 11, 26), 1)
    for act in (Workdays().after, Workdays().before):
        with pytest.raises(InvalidInput):
            act(date(2026, 11, 26), -1)


def test_two_houses_work_where_both_do() -> None:
    both = joined([Workdays(frozenset({date(2026, 11, 26)})), Workdays(weekend=frozenset({4}))])
    assert both.first_from(date(2026, 11, 26)) == date(2026, 11, 30)
    assert Workdays().between(date(2026, 12, 1), date(2026, 11, 26)) == -3
