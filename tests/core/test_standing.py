from datetime import date, timedelta
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.errors import InvalidInput
from routecore.payment import EarlyPayment
from routecore.standing import (
    Invoiced,
    OpenItem,
    Paid,
    Standing,
    age_open_items,
    group_of,
    judge_standing,
    settle_account,
)

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


def in_group(
    limit: str | None, others: str, own_limit: str | None = None, **given: object
) -> Standing:
    """A customer who owes 100, in a group that owes that and ``others``."""
    parent = given.pop("parent", ())
    group = group_of(None if limit is None else D(limit), [D(100), D(others)], parent)  # type: ignore[arg-type]
    return standing(-1, limit=None if own_limit is None else D(own_limit), group=group, **given)


def told(found: Standing) -> list[tuple[str, str]]:
    return [(reason.code, reason.of) for reason in found.reasons]


@pytest.mark.parametrize(
    ("others", "document", "expected"),
    [
        ("700", "0", []),
        ("700", "0.01", [("near_limit", "group")]),
        ("800", "100", [("near_limit", "group")]),
        ("800", "100.01", [("over_limit", "group"), ("near_limit", "group")]),
    ],
)
def test_a_parents_limit_is_the_groups(
    others: str, document: str, expected: list[tuple[str, str]]
) -> None:
    found = in_group("1000", others, this_document=D(document))
    assert told(found) == expected
    assert found.group is not None
    assert found.group.available == D(900) - D(others)
    assert found.group_after == D(900) - D(others) - D(document)
    assert found.available is None


def test_a_members_own_limit_counts_beside_the_groups() -> None:
    found = in_group("1000", "950", own_limit="100", this_document=D(1))
    assert told(found) == [
        ("over_limit", ""),
        ("near_limit", ""),
        ("over_limit", "group"),
        ("near_limit", "group"),
    ]
    assert [str(reason.amount) for reason in found.reasons] == ["1", "0", "51", "0"]


def test_a_group_without_a_limit_leaves_each_to_their_own() -> None:
    assert told(in_group(None, "5000")) == [("no_limit", "")]
    assert told(in_group(None, "5000", own_limit="1000")) == []
    assert in_group(None, "5000").group_after is None


def test_what_halts_the_parent_halts_every_member_and_says_so() -> None:
    parent = standing(45, held=True)
    found = in_group("1000", "100", parent=parent.reasons)
    assert found.verdict == "halt"
    assert told(found) == [("held", "parent"), ("overdue_beyond_tolerance", "parent")]
    again = in_group("1000", "100", parent=found.reasons)
    assert told(again) == [], "a halt that is not the parent's own goes no further"


def bill(number: str, amount: str, early: EarlyPayment | None = None) -> Invoiced:
    return Invoiced(number=number, amount=D(amount), on=TODAY - timedelta(days=20), early=early)


def paid(amount: str, days_ago: int = 0, **shares: str) -> Paid:
    parts = {number: D(share) for number, share in shares.items()}
    return Paid(number="P", amount=D(amount), on=TODAY - timedelta(days=days_ago), shares=parts)


def test_a_payment_settles_several_invoices_in_part_or_whole() -> None:
    found = settle_account(
        [bill("A", "100"), bill("B", "60"), bill("C", "40")],
        [paid("120", A="100", B="20"), paid("30", B="10")],
        "EUR",
    )
    assert {n: str(row.open_amount) for n, row in found.invoices.items()} == {
        "A": "0",
        "B": "30",
        "C": "40",
    }
    assert (found.unallocated, found.balance) == (20, 50)


@pytest.mark.parametrize(
    ("days_ago", "left", "early"), [(10, "0", "taken"), (9, "2.00", "too_late")]
)
def test_early_payment_settles_in_time_and_too_late_leaves_the_rest(
    days_ago: int, left: str, early: str
) -> None:
    terms = EarlyPayment(percent=D(2), days=10)
    found = settle_account(
        [bill("A", "100.00", terms)], [paid("98.00", days_ago, A="98.00")], "EUR"
    )
    assert (str(found.invoices["A"].open_amount), found.invoices["A"].early) == (left, early)


@pytest.mark.parametrize(
    ("payments", "code"),
    [
        ([("10", {"X": "10"})], "unknown_invoice"),
        ([("200", {"A": "101"})], "more_than_open"),
        ([("60", {"A": "60"}), ("60", {"A": "60"})], "more_than_open"),
        ([("10", {"A": "11"})], "more_than_paid"),
        ([("10", {"A": "0"})], "out_of_range"),
    ],
)
def test_a_share_that_cannot_be_is_refused(
    payments: list[tuple[str, dict[str, str]]], code: str
) -> None:
    with pytest.raises(InvalidInput) as refused:
        settle_account(
            [bill("A", "100")], [paid(amount, **shares) for amount, shares in payments], "EUR"
        )
    assert refused.value.code == code


@given(
    amounts=st.lists(st.integers(1, 10_000), min_size=1, max_size=6),
    shares=st.lists(st.tuples(st.integers(0, 5), st.integers(1, 3000)), max_size=8),
    more=st.integers(0, 500),
)
def test_open_items_less_what_is_unallocated_are_the_balance(
    amounts: list[int], shares: list[tuple[int, int]], more: int
) -> None:
    left = dict(enumerate(amounts))
    payments = []
    for at, share in shares:
        part = min(share, left.get(at, 0))
        if part:
            left[at] -= part
            payments.append(
                Paid(number="P", amount=D(part + more), on=TODAY, shares={str(at): D(part)})
            )
    found = settle_account(
        [bill(str(n), str(amount)) for n, amount in enumerate(amounts)], payments, "EUR"
    )
    assert found.balance == sum(amounts) - sum(payment.amount for payment in payments)
    items = [OpenItem(due=TODAY, open_amount=row.open_amount) for row in found.invoices.values()]
    items.append(OpenItem(due=TODAY, open_amount=-found.unallocated))
    ageing = age_open_items(items, TODAY)
    assert ageing.balance == found.balance
    assert ageing.credits == -found.unallocated
