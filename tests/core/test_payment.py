"""Payment terms: due dates, instalments, paying early. Worked values have their source beside them."""

from datetime import date, timedelta
from decimal import Decimal
import itertools

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.dates import Terms
from routecore.errors import InvalidInput
from routecore.payment import (
    Due,
    EarlyPayment,
    Part,
    PaymentTerms,
    Settled,
    early_offer,
    open_dues,
    settle,
)
from tests.core.build import D

JAN = date(2026, 1, 15)


@pytest.mark.parametrize(
    ("day", "invoiced", "due"),
    [
        (10, date(2026, 1, 1), date(2026, 2, 10)),
        (10, date(2026, 1, 31), date(2026, 2, 10)),
        (31, date(2026, 1, 15), date(2026, 2, 28)),
        (31, date(2028, 1, 15), date(2028, 2, 29)),
        (1, date(2026, 12, 31), date(2027, 1, 1)),
    ],
)
def test_a_fixed_day_of_the_next_month(day: int, invoiced: date, due: date) -> None:
    assert Terms(fixed_day=day).due(invoiced) == due


@pytest.mark.parametrize(
    "given", [{"fixed_day": 0}, {"fixed_day": 32}, {"fixed_day": 10, "days": 5}, {"fixed_day": 10, "end_of_month": "after"}]
)  # fmt: skip
def test_fixed_days_that_cannot_be_are_refused(given: dict[str, int]) -> None:
    with pytest.raises(InvalidInput):
        Terms(**given)  # type: ignore[arg-type]


def parts(*percents: str) -> tuple[Part, ...]:
    return tuple(
        Part(percent=D(percent), terms=Terms(days=30 * n))
        for n, percent in enumerate(percents, start=1)
    )


@given(
    cents=st.integers(0, 10**9),
    shares=st.lists(st.integers(1, 9999), min_size=1, max_size=6, unique=True),
    currency=st.sampled_from(["EUR", "JPY", "KWD"]),
)
def test_instalments_add_up_exactly(cents: int, shares: list[int], currency: str) -> None:
    cuts = [0, *sorted(shares), 10_000]
    percents = [D(b - a) / 100 for a, b in itertools.pairwise(cuts)]
    terms = PaymentTerms(
        instalments=tuple(Part(percent=p, terms=Terms(days=n)) for n, p in enumerate(percents))
    )
    digits = {"EUR": 2, "JPY": 0, "KWD": 3}[currency]
    amount = D(cents).scaleb(-digits)
    rows = terms.schedule(amount, currency, JAN)
    assert sum(row.amount for row in rows) == amount
    for row, percent in zip(rows, percents, strict=True):
        assert abs(row.amount - amount * percent / 100) < D(1).scaleb(-digits)


def test_instalments_are_a_hundred_percent() -> None:
    with pytest.raises(InvalidInput, match="not_hundred"):
        PaymentTerms(instalments=parts("50", "49.99"))


def test_thirds_of_a_hundred_fall_due_in_order_of_their_days() -> None:
    rows = PaymentTerms(instalments=parts("33.34", "33.33", "33.33")).schedule(D(100), "EUR", JAN)
    assert [(row.on, row.amount) for row in rows] == [
        (date(2026, 2, 14), D("33.34")),
        (date(2026, 3, 16), D("33.33")),
        (date(2026, 4, 15), D("33.33")),
    ]


@pytest.mark.parametrize(
    ("percent", "days", "net", "year", "rate"),
    [
        # Textbooks of trade credit, from memory; the arithmetic is p/(100-p) × year/(net-days).
        ("2", 10, 30, 360, "36.73"),
        ("2", 10, 30, 365, "37.24"),
        ("3", 15, 45, 365, "37.63"),
    ],
)
def test_what_it_costs_a_year_to_let_a_discount_go(
    percent: str, days: int, net: int, year: int, rate: str
) -> None:
    assert EarlyPayment(percent=D(percent), days=days).yearly_rate(net, year) == D(rate)


def test_the_rate_is_against_the_first_due_date() -> None:
    early = EarlyPayment(percent=D(2), days=10)
    net_30 = PaymentTerms(terms=Terms(days=30), early=early)
    assert net_30.early_yearly_rate(JAN) == D("37.24")
    at_once = PaymentTerms(terms=Terms(days=10), early=early)
    assert at_once.early_yearly_rate(JAN) is None
    assert PaymentTerms().early_yearly_rate(JAN) is None


EARLY = EarlyPayment(percent=D(2), days=10)


@pytest.mark.parametrize(
    ("payments", "left"),
    [
        ([(date(2026, 1, 25), D(980))], Settled(open_amount=D(0), discount=D(20), early="taken")),
        ([(date(2026, 1, 26), D(980))], Settled(open_amount=D(20), discount=D(0), early="too_late")),
        ([(date(2026, 1, 20), D(500)), (date(2026, 1, 25), D(480))], Settled(open_amount=D(0), discount=D(20), early="taken")),
        ([(date(2026, 1, 20), D(500)), (date(2026, 1, 30), D(480))], Settled(open_amount=D(20), discount=D(0), early="too_late")),
        ([(date(2026, 1, 20), D("979.99"))], Settled(open_amount=D("20.01"), discount=D(0))),
        ([(date(2026, 1, 20), D(990))], Settled(open_amount=D(0), discount=D(10), early="taken")),
        ([(date(2026, 3, 20), D(1000))], Settled(open_amount=D(0), discount=D(0))),
        ([], Settled(open_amount=D(1000), discount=D(0))),
    ],
)  # fmt: skip
def test_paid_in_time_a_discount_settles_the_invoice_and_too_late_it_stays_open(
    payments: list[tuple[date, Decimal]], left: Settled
) -> None:
    assert settle(D(1000), "EUR", payments, invoiced=JAN, early=EARLY) == left


@given(
    st.lists(st.tuples(st.integers(0, 400), st.integers(1, 10_000_00)), min_size=1, max_size=12),
    st.integers(0, 130_000_00),
)
def test_what_is_open_of_the_parts_and_what_was_settled_come_to_the_whole(
    rows: list[tuple[int, int]], cents: int
) -> None:
    dues = [Due(date(2026, 1, 1) + timedelta(days=n), D(c) / 100) for n, c in rows]
    whole = sum((row.amount for row in dues), D(0))
    settled = min(D(cents) / 100, whole)
    left = open_dues(dues, settled)
    assert sum((row.amount for row in left), D(0)) == whole - settled
    assert all(row.amount > 0 for row in left)
    assert [row.on for row in left] == sorted(row.on for row in left)


@pytest.mark.parametrize(
    ("paid", "on", "offer"),
    [
        ([], date(2026, 3, 11), "20.00"),
        ([], date(2026, 3, 12), None),
        ([(date(2026, 3, 5), "500")], date(2026, 3, 10), "20.00"),
        ([(date(2026, 3, 5), "980")], date(2026, 3, 10), None),
    ],
)
def test_a_discount_is_to_be_had_until_its_last_day_and_while_something_is_open(
    paid: list[tuple[date, str]], on: date, offer: str | None
) -> None:
    found = early_offer(
        D(1000),
        "EUR",
        [(day, D(amount)) for day, amount in paid],
        invoiced=date(2026, 3, 1),
        early=EarlyPayment(percent=D(2), days=10),
        on=on,
    )
    assert found == (D(offer) if offer else None)
