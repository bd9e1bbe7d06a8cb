"""Revenue by month: invoiced, backlog by promised delivery, weighted deals later by the usual lead time."""

from datetime import date, timedelta
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.dates import month_end
from routecore.errors import InvalidInput
from routecore.forecast import Revenue, revenue_by_month, usual_lead

D = Decimal
TODAY = date(2026, 11, 24)
MONTHS = [date(2026, 10, 1), date(2026, 11, 1), date(2026, 12, 1)]


def revenue(
    *,
    invoiced: list[tuple[date, D]] | None = None,
    backlog: list[tuple[date | None, D]] | None = None,
    deals: list[tuple[date, D]] | None = None,
    lead_days: int = 0,
) -> Revenue:
    return revenue_by_month(
        MONTHS,
        invoiced=invoiced or [],
        backlog=backlog or [],
        deals=deals or [],
        today=TODAY,
        lead_days=lead_days,
    )


def test_a_credit_note_takes_back_what_was_invoiced_in_its_own_month() -> None:
    found = revenue(
        invoiced=[
            (date(2026, 10, 31), D("100.10")),
            (date(2026, 11, 2), D("50.00")),
            (date(2026, 11, 3), D("-20.05")),
        ]
    )
    assert [row.invoiced for row in found.months] == [D("100.10"), D("29.95"), D(0)]


def test_backlog_stands_where_it_leaves_and_what_should_have_left_in_the_month_of_today() -> None:
    found = revenue(
        backlog=[
            (date(2026, 9, 1), D(1)),
            (date(2026, 11, 30), D(2)),
            (date(2026, 12, 31), D(4)),
            (date(2027, 1, 1), D(8)),
            (None, D(16)),
        ]
    )
    assert [row.backlog for row in found.months] == [D(0), D(3), D(4)]
    assert (found.later_backlog, found.undated) == (D(8), D(16))


def test_deals_are_billed_as_long_after_their_decision_as_is_usual() -> None:
    found = revenue(
        deals=[
            (date(2026, 11, 23), D(1)),  # its day has gone by
            (date(2026, 11, 24), D(2)),  # + 14 days: 8 December
            (date(2026, 12, 17), D(4)),  # 31 December
            (date(2026, 12, 18), D(8)),  # 1 January
        ],
        lead_days=14,
    )
    assert [row.weighted for row in found.months] == [D(0), D(0), D(6)]
    assert found.later_weighted == D(8)
    # Nothing that is decided from today on is billed before 8 December.
    assert [row.decided for row in found.months] == [
        None,
        None,
        (date(2026, 11, 24), date(2026, 12, 17)),
    ]


def test_the_usual_lead_is_in_the_middle_and_nothing_below_ten_invoices() -> None:
    assert usual_lead(range(9)) is None
    assert usual_lead([*range(9), 100]) == 4
    # One that was billed before it was ordered counts as none, not as less than nothing.
    assert usual_lead([-30] * 10) == 0


def test_a_lead_below_nothing_is_refused() -> None:
    with pytest.raises(InvalidInput):
        revenue(lead_days=-1)


amounts = st.decimals(min_value=-(10**9), max_value=10**9, places=2)
days = st.dates(min_value=date(2026, 8, 1), max_value=date(2027, 4, 30))


@given(
    backlog=st.lists(st.tuples(st.none() | days, amounts)),
    deals=st.lists(st.tuples(days, amounts)),
    lead_days=st.integers(min_value=0, max_value=200),
)
def test_nothing_is_lost_and_nothing_counts_twice(
    backlog: list[tuple[date | None, D]], deals: list[tuple[date, D]], lead_days: int
) -> None:
    found = revenue(backlog=backlog, deals=deals, lead_days=lead_days)
    assert sum(row.backlog for row in found.months) + found.later_backlog + found.undated == sum(
        amount for _, amount in backlog
    )
    ahead = [(on, amount) for on, amount in deals if on >= TODAY]
    assert sum(row.weighted for row in found.months) + found.later_weighted == sum(
        amount for _, amount in ahead
    )
    # The days that a month names are exactly those of the deals in it.
    for row in found.months:
        its = [
            amount for on, amount in ahead if row.decided and row.decided[0] <= on <= row.decided[1]
        ]
        assert sum(its) == row.weighted
        assert row.total == row.invoiced + row.backlog + row.weighted
    assert [row.last for row in found.months] == [month_end(row.first) for row in found.months]
    assert found.months[0].last + timedelta(days=1) == found.months[1].first
