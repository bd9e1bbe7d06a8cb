from datetime import date
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.errors import InvalidInput
from routecore.forecast import ForecastDeal, forecast_deals, weigh

D = Decimal
TODAY = date(2026, 11, 24)
deals = st.lists(
    st.builds(
        ForecastDeal,
        amount=st.decimals(0, 10**6, places=2),
        probability_percent=st.integers(0, 100).map(Decimal),
        decision=st.dates(date(2026, 6, 1), date(2027, 6, 1)),
        stage=st.sampled_from(["spotted", "talking"]),
        rep=st.sampled_from(["1", "2"]),
        confidence=st.sampled_from(["sure", "likely"]),
    ),
    max_size=20,
)


def deal(amount: str, percent: int, decision: date) -> ForecastDeal:
    return ForecastDeal(
        amount=D(amount), probability_percent=D(percent), decision=decision, stage="s", rep="r"
    )


def test_amount_times_probability_by_month_of_decision() -> None:
    found = forecast_deals(
        [deal("1000", 55, date(2026, 11, 30)), deal("333.33", 10, date(2026, 12, 1))],
        today=TODAY,
        currency="EUR",
    )
    assert {month: cell.weighted for month, cell in found.by_month.items()} == {
        "2026-11": D("550.00"),
        "2026-12": D("33.33"),
    }


def test_overdue_decisions_are_set_apart_and_come_first() -> None:
    found = forecast_deals(
        [deal("10", 50, date(2026, 12, 1)), deal("20", 50, date(2026, 11, 23))],
        today=TODAY,
        currency="EUR",
    )
    assert list(found.by_month) == ["overdue", "2026-12"]


@given(deals)
def test_every_view_adds_up_to_the_total(rows: list[ForecastDeal]) -> None:
    found = forecast_deals(rows, today=TODAY, currency="EUR")
    views = (found.by_month, found.by_stage, found.by_rep, found.by_confidence)
    for view in (*views, found.by_month_and_stage):
        assert sum(cell.weighted for cell in view.values()) == found.total.weighted
        assert sum(cell.amount for cell in view.values()) == found.total.amount
        assert sum(cell.count for cell in view.values()) == len(rows)


@pytest.mark.parametrize("percent", ["-1", "100.01"])
def test_a_probability_lies_between_0_and_100(percent: str) -> None:
    with pytest.raises(InvalidInput, match="out_of_range"):
        weigh(D(1), D(percent), "EUR")
