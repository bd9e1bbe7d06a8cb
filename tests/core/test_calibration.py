"""Whether what was foretold came."""

from datetime import date
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.forecast import Foretold, Outcome, brier, calibrate, held, right_since, wilson

D = Decimal


def outcomes(*rows: tuple[object, bool]) -> list[Outcome]:
    return [Outcome(percent=D(str(percent)), won=won) for percent, won in rows]


def test_the_brier_score_of_five_deals() -> None:
    """By hand: (0.1² + 0.3² + 0.4² + 0.2² + 0.5²) ÷ 5."""
    rows = outcomes((90, True), (30, False), (60, True), (80, True), (50, False))
    assert brier(rows) == D("0.110000")


def test_no_deals_have_no_score() -> None:
    assert (brier([]), calibrate([])) == (None, [])


def test_wilsons_interval_of_two_in_three() -> None:
    """Nine times in ten: 0.2535 to 0.9217 (Wilson 1927)."""
    assert [round(each, 4) for each in wilson(2, 3)] == [0.2535, 0.9217]
    assert wilson(0, 0) == (0, 1)


def test_deals_fall_into_tenths_with_what_came_of_them() -> None:
    rows = outcomes((70, True), ("79.9", True), (72, False), (80, False), (100, True), (0, False))
    told = {row.percent: (row.deals, row.won, row.called) for row in calibrate(rows)}
    assert told == {
        0: (1, 0, D("0.0")),
        70: (3, 2, D("74.0")),
        80: (1, 0, D("80.0")),
        90: (1, 1, D("100.0")),
    }


def foretold(day: int, middle: int) -> Foretold:
    return Foretold(
        on=date(2026, 10, day), low=D(middle - 20), middle=D(middle), high=D(middle + 20)
    )


def test_a_month_was_right_from_the_day_after_which_no_snapshot_was_wrong() -> None:
    rows = [foretold(1, 100), foretold(8, 150), foretold(15, 108), foretold(22, 95)]
    assert right_since(rows, D(100)) == date(2026, 10, 15)
    assert right_since(rows, D(150)) is None
    assert right_since([], D(100)) is None


def test_ranges_that_held_are_counted_with_both_ends() -> None:
    row = foretold(1, 100)
    assert held([(row, D(80)), (row, D(120)), (row, D("120.01"))]) == (2, 3)


rows = st.lists(st.builds(Outcome, percent=st.decimals(0, 100, places=1), won=st.booleans()))


@given(rows)
def test_every_deal_is_in_one_class_and_the_share_lies_in_its_interval(
    found: list[Outcome],
) -> None:
    classes = calibrate(found)
    assert sum(row.deals for row in classes) == len(found)
    assert sum(row.won for row in classes) == sum(row.won for row in found)
    for row in classes:
        share = 100 * row.won / row.deals
        assert row.low - 1e-9 <= share <= row.high + 1e-9
        assert row.percent <= row.called <= row.percent + 10


@given(rows)
def test_the_score_is_the_mean_squared_error(found: list[Outcome]) -> None:
    said = brier(found)
    if found:
        truth = sum((float(row.percent) / 100 - row.won) ** 2 for row in found) / len(found)
        assert float(said or 0) == pytest.approx(truth, abs=1e-6)
