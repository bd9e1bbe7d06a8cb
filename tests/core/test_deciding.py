"""The deals that decide a period."""

from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.forecast import Chance, deciding, spread_of

D = Decimal


def deal(amount: object, percent: object) -> Chance:
    return Chance(amount=D(str(amount)), probability_percent=D(str(percent)))


def test_the_one_without_which_it_cannot_be_reached_decides_most() -> None:
    """100,000 at one half, two of 20,000 at one half, for 110,000: only with the first and one of the others."""
    found = deciding([deal(20_000, 50), deal(100_000, 50), deal(20_000, 50)], D(110_000))
    assert [(each.at, each.swing) for each in found] == [(1, 0.75), (0, 0.25), (2, 0.25)]


def test_what_is_sure_swings_nothing_and_is_left_out() -> None:
    found = deciding([deal(500, 100), deal(900, 0), deal(70, 50)], D(560))
    assert [(each.at, each.swing) for each in found] == [(2, 1.0)]


def test_a_target_that_is_reached_anyway_is_decided_by_nobody() -> None:
    assert [each.swing for each in deciding([deal(100, 50), deal(200, 50)], D(0))] == [0, 0]


deals = st.lists(
    st.builds(deal, st.decimals(0, 5000, places=2), st.decimals(0, 100, places=1)), max_size=9
)


@given(deals, st.decimals(0, 20_000, places=2))
def test_the_chance_lies_between_with_and_without_each(rows: list[Chance], target: Decimal) -> None:
    """P = p × P(with) + (1 − p) × P(without): what a deal swings is how far these two are apart."""
    whole = spread_of(rows).reaches(target)
    for each in deciding(rows, target):
        rest = spread_of([row for n, row in enumerate(rows) if n != each.at])
        without = rest.reaches(target)
        p = float(rows[each.at].probability_percent) / 100
        assert -1e-9 <= each.swing <= 1
        assert whole == pytest.approx(without + p * each.swing, abs=1e-9)
