from datetime import date, timedelta
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.standing import OpenItem, Standing, age_open_items, judge_standing

D = Decimal
TODAY = date(2026, 11, 24)


def standing(late_days: int, amount: str = "100", **given: object) -> Standing:
    items = [OpenItem(due=TODAY - timedelta(days=late_days), open_amount=D(amount))]
    return judge_standing(age_open_items(items, TODAY), **{"limit": D(1000), **given})  # type: ignore[arg-type]


def codes(found: Standing) -> list[str]:
    return [reason.code for reason in found.reasons]


@pytest.mark.parametrize(
    ("late", "verdict"),
    [(-5, "clear"), (0, "clear"), (1, "caution"), (30, "caution"), (31, "halt")],
)
def test_overdue_is_caution_and_beyond_the_tolerance_halt(late: int, verdict: str) -> None:
    assert standing(late).verdict == verdict


@pytest.mark.parametrize(
    ("extra", "verdict", "reasons"),
    [
        ("700", "clear", []),
        ("700.01", "caution", ["near_limit"]),
        ("900", "caution", ["near_limit"]),
        ("900.01", "halt", ["over_limit", "near_limit"]),
    ],
)
def test_the_limit_counts_with_this_document(extra: str, verdict: str, reasons: list[str]) -> None:
    found = standing(-1, this_document=D(extra))
    assert (found.verdict, codes(found)) == (verdict, reasons)
    assert found.available == D(900)


def test_all_reasons_that_apply_are_listed() -> None:
    found = standing(40, "1200", held=True, age_hours=30)
    assert codes(found) == [
        "held",
        "overdue_beyond_tolerance",
        "overdue",
        "over_limit",
        "near_limit",
        "stale",
    ]


def test_no_limit_is_a_caution() -> None:
    found = standing(-1, limit=None)
    assert (found.verdict, codes(found), found.available) == ("caution", ["no_limit"], None)


def test_exposure_adds_what_is_delivered_and_ordered_and_takes_off_credits() -> None:
    items = [
        OpenItem(due=TODAY, open_amount=D(500)),
        OpenItem(due=TODAY, open_amount=D(-80)),
    ]
    found = judge_standing(
        age_open_items(items, TODAY), limit=D(2000), not_invoiced=D(70), not_delivered=D(200)
    )
    assert (found.exposure, found.available) == (D(690), D(1310))


@pytest.mark.parametrize(
    ("late", "bucket"),
    [
        (0, "not_due"),
        (1, "1_30"),
        (30, "1_30"),
        (31, "31_60"),
        (60, "31_60"),
        (90, "61_90"),
        (91, "over_90"),
    ],
)
def test_ages(late: int, bucket: str) -> None:
    assert standing(late).ageing.buckets[bucket] == D(100)


@given(st.lists(st.tuples(st.integers(-200, 400), st.decimals(-9999, 9999, places=2)), max_size=30))
def test_buckets_and_credits_add_up_to_the_balance(rows: list[tuple[int, Decimal]]) -> None:
    ageing = age_open_items(
        (OpenItem(due=TODAY - timedelta(days=late), open_amount=a) for late, a in rows), TODAY
    )
    assert ageing.balance == sum(amount for _, amount in rows)
    assert ageing.overdue <= ageing.invoices
