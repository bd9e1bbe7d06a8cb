"""The law of a sum of deals, against counting, closed forms, the Poisson-binomial law, and simulation."""

from decimal import Decimal
from itertools import product
from math import sqrt

from hypothesis import given
from hypothesis import strategies as st
import numpy as np
import pytest

from routecore.errors import InvalidInput
from routecore.forecast import Chance, spread_of
from routecore.forecast.laws import COUNTED
from routecore.forecast.spread import WORST

D = Decimal


def deal(amount: object, percent: object) -> Chance:
    return Chance(amount=D(str(amount)), probability_percent=D(str(percent)))


amounts = st.decimals(-50_000, 500_000, places=2)
percents = st.decimals(0, 100, places=1)
deals = st.lists(st.builds(deal, amounts, percents), max_size=40)


def counted(rows: list[Chance]) -> dict[Decimal, Decimal]:
    """Every outcome, by itself."""
    found: dict[Decimal, Decimal] = {}
    for comes in product((False, True), repeat=len(rows)):
        total, chance = D(0), D(1)
        for row, yes in zip(rows, comes, strict=True):
            p = row.probability_percent / 100
            total += row.amount if yes else 0
            chance *= p if yes else 1 - p
        found[total] = found.get(total, D(0)) + chance
    return found


def test_four_deals_come_to_forty_thousand_with_121_in_400() -> None:
    """Of 10,000/25,000/40,000/15,000 at 1/2, 1/4, 1/10, 9/10; by counting the sixteen outcomes."""
    found = spread_of([deal(10000, 50), deal(25000, 25), deal(40000, 10), deal(15000, 90)])
    assert (found.mean, found.variance) == (28_750, 306_437_500)
    assert found.exact
    assert found.reaches(D(40_000)) == pytest.approx(121 / 400, abs=1e-12)
    assert found.reaches(D("40000.01")) < 121 / 400


def test_two_deals_come_to_four_sums() -> None:
    found = spread_of([deal(100, 50), deal(200, 25)])
    by_sum = dict(zip(found.units, found.law, strict=True))
    assert by_sum == pytest.approx({0: 0.375, 100: 0.375, 200: 0.125, 300: 0.125})
    assert (found.mean, found.variance) == (100, 10_000)
    assert [found.quantile(share) for share in (0.1, 0.5, 0.9)] == [0, 100, 300]


def test_no_deals_come_to_nothing_surely() -> None:
    found = spread_of([])
    assert (found.mean, found.quantile(0.1), found.quantile(0.9)) == (0, 0, 0)
    assert (found.reaches(D(0)), found.reaches(D(1))) == (1, 0)


def test_what_is_sure_is_there_and_what_never_comes_is_not() -> None:
    found = spread_of([deal("7.25", 100), deal(900, 0), deal(-2, 100)])
    assert list(found.units) == [525]
    assert found.quantile(0.5) == D("5.25")
    assert (found.reaches(D("5.25")), found.reaches(D("5.26"))) == (1, 0)


def test_deals_of_one_amount_follow_the_poisson_binomial_law() -> None:
    """Forty deals of 1,000 with probabilities of their own: the recursion of the law itself, in fractions."""
    chances = [D(5) + D(n) * D("2.1") for n in range(40)]
    law = [D(1)]
    for percent in chances:
        p = percent / 100
        law = [
            (law[k] * (1 - p) if k < len(law) else D(0)) + (law[k - 1] * p if k else D(0))
            for k in range(len(law) + 1)
        ]
    found = spread_of([deal(1000, percent) for percent in chances])
    assert found.exact
    for k in range(41):
        over = float(sum(law[k:]))
        assert found.reaches(D(1000 * k)) == pytest.approx(over, abs=1e-12)


@given(st.lists(st.builds(deal, amounts, percents), max_size=8))
def test_few_deals_are_counted_out_exactly(rows: list[Chance]) -> None:
    found, truth = spread_of(rows), counted(rows)
    assert found.exact
    for target in [*truth, D(0), D(1000)]:
        over = float(sum(p for total, p in truth.items() if total >= target))
        assert found.reaches(target) == pytest.approx(over, abs=1e-9)


@given(deals, st.randoms())
def test_order_does_not_matter_and_the_range_is_in_order(
    rows: list[Chance], random: object
) -> None:
    found = spread_of(rows)
    mixed = list(rows)
    random.shuffle(mixed)  # type: ignore[attr-defined]
    assert spread_of(mixed) == found
    low, middle, high = (found.quantile(share) for share in (0.1, 0.5, 0.9))
    assert low <= middle <= high
    assert sum(found.law) == pytest.approx(1)


@given(deals, percents)
def test_the_law_has_the_mean_and_the_variance_of_its_deals(
    rows: list[Chance], season: Decimal
) -> None:
    found = spread_of(rows, season_percent=season)
    values = np.array([float(found.unit) * each for each in found.units])
    law = np.array(found.law)
    whole = float(sum(abs(row.amount) for row in rows)) or 1
    mean = float(law @ values)
    assert mean == pytest.approx(float(found.mean), abs=whole * 1e-9)
    deviation = sqrt(max(0.0, float(law @ (values - mean) ** 2)))
    assert deviation == pytest.approx(found.deviation, abs=whole * WORST)


@given(deals, percents)
def test_a_season_keeps_the_mean_and_never_narrows_the_range(
    rows: list[Chance], season: Decimal
) -> None:
    plain, shared = spread_of(rows), spread_of(rows, season_percent=season)
    assert shared.mean == plain.mean
    below_zero = sum(1 for row in rows if row.amount < 0)
    if not below_zero:
        assert shared.variance >= plain.variance


def test_deals_that_have_a_season_in_common_reach_far_targets_more_often() -> None:
    rows = [deal(10_000, 50)] * 30
    far = D(200_000)
    assert spread_of(rows, season_percent=D(60)).reaches(far) > 2 * spread_of(rows).reaches(far)


def simulated(rows: list[Chance], tries: int) -> np.ndarray:
    """Sums of so many tries, in minor units; the same each time."""
    random = np.random.default_rng(20261)
    amounts_of = np.array([float(row.amount) for row in rows])
    chances = np.array([float(row.probability_percent) / 100 for row in rows])
    return np.array([amounts_of @ (random.random(len(rows)) < chances) for _ in range(tries)])


@pytest.mark.parametrize("many", [25, 300, 4000])
def test_many_deals_agree_with_simulation(many: int) -> None:
    """At the quantiles within half a percent of the sum of all amounts, at a target within 0.01 and its own error."""
    random = np.random.default_rng(many)
    rows = [
        deal(round(float(amount), 2), int(percent))
        for amount, percent in zip(
            random.lognormal(9, 1.2, many), random.choice([10, 25, 40, 55, 75], many), strict=True
        )
    ]
    found = spread_of(rows)
    assert not found.exact
    tries = 4000
    sums = np.sort(simulated(rows, tries))
    whole = float(sum(row.amount for row in rows))
    for share in (0.1, 0.5, 0.9):
        said = float(found.quantile(share))
        # Four deviations of a simulated quantile, by its rank.
        rank = 4 * sqrt(share * (1 - share) * tries)
        low, high = (sums[int(share * tries + sign * rank)] for sign in (-1, 1))
        assert low - 0.005 * whole <= said <= high + 0.005 * whole
        target = D(str(round(said, 2)))
        came = float((sums >= float(target)).mean())
        error = 4 * sqrt(share * (1 - share) / tries)
        assert found.reaches(target) == pytest.approx(came, abs=0.01 + error)


def test_a_grid_that_shares_is_close_to_counting() -> None:
    """Fourteen deals whose sums are too many to be kept, and few enough to be counted here."""
    rows = [deal(D(1000) + D(n) ** 3 * D("17.13"), 20 + 4 * n) for n in range(14)]
    truth = counted(rows)
    assert len(truth) > COUNTED
    found = spread_of(rows)
    assert not found.exact
    whole = sum(row.amount for row in rows)
    ordered = sorted(truth)
    for share in (0.1, 0.5, 0.9):
        below, exact = D(0), ordered[-1]
        for total in ordered:
            below += truth[total]
            if below >= D(str(share)):
                exact = total
                break
        assert abs(found.quantile(share) - exact) <= whole * D(str(WORST))
        over = float(sum(p for total, p in truth.items() if total >= exact))
        assert found.reaches(exact) == pytest.approx(over, abs=0.01)


@pytest.mark.parametrize("percent", ["-0.1", "100.1"])
def test_a_chance_beyond_sure_is_refused(percent: str) -> None:
    with pytest.raises(InvalidInput):
        deal(1, percent)


def test_huge_and_small_amounts_stand_together() -> None:
    found = spread_of([deal("999999999999.99", 50), *[deal("0.01", 50)] * 20])
    assert found.reaches(D("999999999999.99")) == pytest.approx(0.5, abs=1e-9)
