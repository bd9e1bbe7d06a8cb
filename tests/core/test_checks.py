"""The verdicts over a quote."""

from decimal import Decimal

import pytest

from routecore.checks import Phase, judge_dates, judge_limits, judge_margin, judge_prices

D = Decimal


def test_prices_halt_on_a_line_to_mend_before_anything_else() -> None:
    assert judge_prices(lines=4, faulty=1, days_old=5, phase="draft") == "halt"
    assert judge_prices(lines=0, faulty=0, days_old=5, phase="draft") == "none"


@pytest.mark.parametrize(
    ("phase", "days_old", "verdict"),
    [("draft", 0, "clear"), ("draft", 1, "caution"), ("offered", 90, "clear")],
)
def test_only_a_draft_has_prices_that_are_too_old(
    phase: Phase, days_old: int, verdict: str
) -> None:
    assert judge_prices(lines=1, faulty=0, days_old=days_old, phase=phase) == verdict


@pytest.mark.parametrize(
    ("margin", "verdict"),
    [(D("20"), "clear"), (D("19.9"), "caution"), (D("-3"), "caution"), (None, "none")],
)
def test_a_margin_at_its_floor_is_clear_and_an_unknown_one_is_not_judged(
    margin: Decimal | None, verdict: str
) -> None:
    assert judge_margin(margin, D(20)) == verdict


@pytest.mark.parametrize(
    ("answer", "verdict"),
    [(None, "caution"), ("", "caution"), ("granted", "clear"), ("refused", "halt")],
)
def test_limits_wait_for_the_sign_off(answer: str | None, verdict: str) -> None:
    assert judge_limits(excesses=1, answer=answer) == verdict
    assert judge_limits(excesses=0, answer=answer) == "none"


@pytest.mark.parametrize(
    ("days_left", "verdict"), [(8, "clear"), (7, "caution"), (0, "caution"), (-1, "halt")]
)
def test_the_last_day_of_validity_still_holds(days_left: int, verdict: str) -> None:
    for phase in ("draft", "offered"):
        assert judge_dates(days_left=days_left, lapsing_days=7, phase=phase) == verdict


def test_an_answered_quote_does_not_lapse() -> None:
    assert judge_dates(days_left=-30, lapsing_days=7, phase="ordered") == "clear"
    assert judge_dates(days_left=-30, lapsing_days=7, phase="declined") == "none"
