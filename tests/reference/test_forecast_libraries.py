"""The forecast against other people's libraries, in tests alone: SciPy, NumPy, scikit-learn, pandas.

scipy.stats.poisson_binom (Hong 2013, by the discrete Fourier transform), numpy's quantiles of a simulation,
sklearn.metrics.brier_score_loss and sklearn.calibration.calibration_curve, statsmodels' Wilson by its formula in
scipy.stats.binomtest, pandas' groupby.
"""

from datetime import date, timedelta
from decimal import Decimal
from random import Random

import numpy as np
import pandas as pd
import pytest
from scipy import stats
from sklearn.calibration import calibration_curve
from sklearn.metrics import brier_score_loss

from routecore.forecast import (
    Chance,
    ForecastDeal,
    Outcome,
    brier,
    calibrate,
    forecast_deals,
    revenue_by_month,
    spread_of,
    weigh,
    wilson,
)

D = Decimal


def percents(random: Random, many: int) -> list[int]:
    return [random.randrange(0, 101) for _ in range(many)]


@pytest.mark.parametrize("many", [1, 7, 60, 400])
def test_equal_deals_follow_the_poisson_binomial_law(many: int) -> None:
    shares = percents(Random(many), many)
    spread = spread_of(Chance(amount=D(1000), probability_percent=D(p)) for p in shares)
    law = stats.poisson_binom([p / 100 for p in shares])
    assert float(spread.mean) == pytest.approx(law.mean() * 1000, rel=1e-9)
    assert float(spread.variance) == pytest.approx(law.var() * 1_000_000, rel=1e-9)
    for won in range(0, many + 1, max(1, many // 9)):
        assert spread.reaches(D(1000 * won)) == pytest.approx(law.sf(won - 1), abs=1e-9)
    up_to = law.cdf(np.arange(many + 1))
    for share in (0.1, 0.5, 0.9):
        assert spread.quantile(share) == D(1000 * int(np.searchsorted(up_to, share)))


@pytest.mark.parametrize("many", [30, 300, 5000])
def test_unequal_deals_follow_a_simulation(many: int) -> None:
    """Within half a percent of all amounts at P10, P50 and P90, a hundredth at the target's chance."""
    random = Random(many)
    rows = [
        (round(random.lognormvariate(9, 1.1), 2), random.choice((10, 25, 40, 55, 75)))
        for _ in range(many)
    ]
    spread = spread_of(Chance(amount=D(str(a)), probability_percent=D(p)) for a, p in rows)
    amounts = np.array([a for a, _ in rows])
    chances = np.array([p / 100 for _, p in rows])
    dice = np.random.default_rng(20261)
    sums = np.concatenate(
        [(dice.random((500, many)) < chances) @ amounts for _ in range(60)]
    )  # 30,000 in all
    assert float(spread.mean) == pytest.approx(float(amounts @ chances), rel=1e-9)
    for share in (0.1, 0.5, 0.9):
        off = abs(float(spread.quantile(share)) - np.quantile(sums, share))
        assert off <= 0.005 * amounts.sum()
    target = D(str(round(float(amounts @ chances) * 1.1)))
    assert spread.reaches(target) == pytest.approx((sums >= float(target)).mean(), abs=0.01)


def outcomes(random: Random, many: int) -> list[Outcome]:
    shares = percents(random, many)
    return [Outcome(percent=D(p), won=random.randrange(100) < p) for p in shares]


@pytest.mark.parametrize("many", [1, 12, 900])
def test_the_brier_score_is_that_of_scikit_learn(many: int) -> None:
    rows = outcomes(Random(many), many)
    theirs = brier_score_loss(
        [row.won for row in rows], [float(row.percent) / 100 for row in rows], pos_label=True
    )
    assert float(brier(rows) or 0) == pytest.approx(theirs, abs=5e-7)


def test_the_calibration_is_that_of_scikit_learn() -> None:
    """Its bins hold their upper end, ours their lower one: probabilities on a bound are left out."""
    rows = [row for row in outcomes(Random(3), 2000) if row.percent % 10]
    share, called = calibration_curve(
        [row.won for row in rows], [float(row.percent) / 100 for row in rows], n_bins=10
    )
    ours = calibrate(rows)
    assert [row.won / row.deals for row in ours] == pytest.approx(list(share))
    assert [float(row.called) for row in ours] == pytest.approx([100 * c for c in called], abs=0.05)


@pytest.mark.parametrize(("won", "of"), [(0, 4), (2, 3), (7, 7), (64, 100), (410, 900)])
def test_wilsons_interval_is_that_of_scipy(won: int, of: int) -> None:
    theirs = stats.binomtest(won, of).proportion_ci(confidence_level=0.9, method="wilson")
    assert wilson(won, of) == pytest.approx((theirs.low, theirs.high), abs=1e-9)


def test_sums_by_month_stage_and_rep_are_those_of_pandas() -> None:
    random = Random(5)
    first = date(2026, 11, 28)
    deals = [
        ForecastDeal(
            amount=D(random.randrange(1, 5_000_000)) / 100,
            probability_percent=D(random.choice((10, 25, 40, 55, 75))),
            decision=first + timedelta(days=random.randrange(0, 200)),
            stage=random.choice(("spotted", "talking", "quoted")),
            rep=random.choice(("1", "2", "3")),
        )
        for _ in range(700)
    ]
    frame = pd.DataFrame(
        {
            "month": [f"{deal.decision:%Y-%m}" for deal in deals],
            "stage": [deal.stage for deal in deals],
            "rep": [deal.rep for deal in deals],
            "amount": [deal.amount for deal in deals],
            "weighted": [weigh(deal.amount, deal.probability_percent, "EUR") for deal in deals],
        }
    )
    told = forecast_deals(deals, today=first, currency="EUR")
    for column, cells in (
        ("month", told.by_month), ("stage", told.by_stage), ("rep", told.by_rep),
    ):  # fmt: skip
        theirs = frame.groupby(column)[["amount", "weighted"]].sum()
        assert {key: (cell.amount, cell.weighted) for key, cell in cells.items()} == {
            key: (row.amount, row.weighted) for key, row in theirs.iterrows()
        }
    both = frame.groupby(["month", "stage"])["weighted"].sum()
    assert {key: cell.weighted for key, cell in told.by_month_and_stage.items()} == dict(both)


def test_revenue_by_month_is_that_of_pandas() -> None:
    """Invoices, backlog and deals in cents, by the month of their day; deals a lead time later."""
    random, today, lead = Random(36), date(2026, 11, 24), 17

    def rows(many: int, first: date, days: int) -> list[tuple[date, D]]:
        return [
            (
                first + timedelta(days=random.randrange(days)),
                D(random.randrange(-500, 90_000)) / 100,
            )
            for _ in range(many)
        ]

    invoiced = rows(300, date(2026, 6, 1), 177)
    backlog = rows(200, date(2026, 10, 1), 240)
    deals = rows(400, date(2026, 11, 1), 240)
    months = [date(2026, n, 1) for n in range(6, 13)] + [date(2027, n, 1) for n in range(1, 6)]
    found = revenue_by_month(
        months, invoiced=invoiced, backlog=backlog, deals=deals, today=today, lead_days=lead
    )

    def sums(known: list[tuple[date, D]]) -> dict[str, int]:
        frame = pd.DataFrame(
            {"on": [on for on, _ in known], "cents": [int(a * 100) for _, a in known]}
        )
        by = pd.to_datetime(frame["on"]).dt.to_period("M")
        return {str(key): int(value) for key, value in frame.groupby(by)["cents"].sum().items()}

    ahead = [(on + timedelta(days=lead), amount) for on, amount in deals if on >= today]
    left = [(max(on, today), amount) for on, amount in backlog]
    for name, known in (("invoiced", invoiced), ("backlog", left), ("weighted", ahead)):
        told = sums(known)
        for row in found.months:
            assert getattr(row, name) * 100 == told.pop(f"{row.first:%Y-%m}", 0)
        later = {"invoiced": D(0), "backlog": found.later_backlog, "weighted": found.later_weighted}
        assert sum(told.values()) == later[name] * 100
