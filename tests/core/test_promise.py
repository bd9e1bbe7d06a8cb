"""Promises: worked tables, and that nothing is promised twice."""

from collections.abc import Sequence
from datetime import date, timedelta
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.errors import InvalidInput
from routecore.promise import (
    Commitment,
    Receipt,
    Rules,
    Stock,
    answer_of,
    held_dates,
    periods_of,
    proposals,
    what_moves,
)
from routecore.promise.offer import split_by_day
from routecore.workdays import Workdays

D = Decimal
TODAY = date(2026, 11, 26)
RULES = Rules(lead_days=10)


def day(ahead: int) -> date:
    return TODAY + timedelta(days=ahead)


def stock(
    on_hand: int, receipts: Sequence[tuple[int, int]] = (), owed: Sequence[tuple[int, int]] = ()
) -> Stock:
    """Receipts and commitments as (days ahead, quantity); lines are numbered from 1."""
    return Stock(
        on_hand=D(on_hand),
        receipts=tuple(Receipt(on=day(ahead), quantity=D(n)) for ahead, n in receipts),
        commitments=tuple(
            Commitment(line=str(n), quantity=D(q), by=day(ahead))
            for n, (ahead, q) in enumerate(owed, start=1)
        ),
    )


def table(plan: Stock) -> list[tuple[int, int, int]]:
    """(days ahead, free, by then)"""
    return [
        ((row.start - TODAY).days, int(row.free), int(row.by_then))
        for row in periods_of(plan, TODAY)
    ]


def test_discrete_and_cumulative_as_textbooks_work_it() -> None:
    """Source: from memory, recomputed by hand. On hand 40; 50 come in weeks 3 and 6; orders of 20, 15, 8, 4, 10."""
    plan = stock(40, [(21, 50), (42, 50)], [(0, 20), (7, 15), (21, 8), (28, 4), (42, 10)])
    assert table(plan) == [(0, 5, 5), (21, 38, 43), (42, 40, 83)]


def test_a_shortfall_takes_from_earlier_periods() -> None:
    """50 are owed out of a receipt of 30: the 20 that lack are no longer free before."""
    assert table(stock(40, [(7, 30)], [(8, 50)])) == [(0, 20, 20), (7, 0, 20)]
    assert table(stock(5, [(7, 30), (14, 10)], [(15, 40)])) == [(0, 5, 5), (7, 0, 5), (14, 0, 5)]


def test_what_is_owed_beyond_what_is_there_is_taken_from_what_comes() -> None:
    plan = stock(10, [(7, 30)], [(1, 20)])
    assert table(plan) == [(0, -10, -10), (7, 30, 20)]
    assert answer_of(plan, D(20), TODAY, RULES).kind == "coming"
    assert answer_of(plan, D(21), TODAY, RULES).kind == "short"
    assert plan.free_now == -10


def test_what_was_due_before_today_counts_today() -> None:
    assert table(stock(10, [], [(-30, 4)])) == [(0, 6, 6)]


def test_a_receipt_whose_day_has_gone_by_is_promised_to_nobody() -> None:
    assert table(stock(3, [(-1, 100), (0, 5)])) == [(0, 8, 8)]


def test_stock_below_nothing_is_made_good_first() -> None:
    plan = stock(-5, [(7, 12)])
    assert answer_of(plan, D(7), TODAY, RULES).kind == "coming"
    assert answer_of(plan, D(8), TODAY, RULES).missing == 1


def test_beyond_all_receipts_a_replenishment_takes_its_lead_time_in_working_days() -> None:
    """Ten working days from Thursday, 26 November, with St Nicholas' a holiday: 11 December."""
    rules = Rules(lead_days=10, transit_days=2, calendar=Workdays(frozenset({date(2026, 12, 7)})))
    found = answer_of(stock(0), D(1), TODAY, rules)
    assert found.kind == "short"
    assert found.whole is not None
    assert (found.whole.leaves, found.whole.arrives) == (date(2026, 12, 11), date(2026, 12, 15))
    assert found.in_time(date(2026, 12, 15))
    assert not found.in_time(date(2026, 12, 14))


def test_what_cannot_be_had_again_has_no_day() -> None:
    found = answer_of(stock(4), D(5), TODAY, Rules())
    assert (found.kind, found.whole, found.missing, found.in_time(None)) == (
        "short",
        None,
        1,
        False,
    )
    assert proposals(stock(4), D(5), TODAY, Rules()) == ()


def test_a_shortage_can_be_met_by_parts_elsewhere_or_instead() -> None:
    found = proposals(
        stock(30, [(11, 40)]),
        D(100),
        TODAY,
        RULES,
        elsewhere={"north": (stock(100), Rules(transit_days=3)), "south": (stock(20), RULES)},
        instead={"POS-260": (stock(0, [(4, 60)]), RULES, D(50))},
    )
    told = [
        (each.kind, each.at, [(int(p.quantity), p.arrives) for p in each.parts]) for each in found
    ]
    assert told == [
        ("instead", "POS-260", [(50, day(4))]),
        ("depot", "north", [(100, date(2026, 12, 1))]),
        ("split", "", [(30, TODAY), (40, day(11)), (30, date(2026, 12, 10))]),
        ("whole", "", [(100, date(2026, 12, 10))]),
    ]


def test_parts_go_in_whole_packs() -> None:
    parts = split_by_day(stock(25, [(7, 17)]), D(60), TODAY, Rules(lead_days=30, step=D(10)))
    assert [int(part.quantity) for part in parts] == [20, 20, 20]


def test_what_hangs_on_an_unconfirmed_receipt_says_so() -> None:
    plan = Stock(
        receipts=(
            Receipt(on=day(7), quantity=D(10), sure=False),
            Receipt(on=day(14), quantity=D(10)),
        )
    )
    for quantity in (10, 20):
        found = answer_of(plan, D(quantity), TODAY, RULES)
        assert found.whole is not None
        assert not found.whole.sure


def test_each_line_has_its_day_and_who_comes_first_is_served_first() -> None:
    plan = stock(10, [(7, 10)], [(3, 8), (1, 8), (9, 6)])
    told = [
        (row.line, row.on and (row.on - TODAY).days, row.late) for row in held_dates(plan, TODAY)
    ]
    assert told == [("2", 1, False), ("1", 7, True), ("3", None, True)]


def test_one_line_can_let_another_go_first_and_every_day_that_moves_is_told() -> None:
    plan = stock(10, [(7, 10)], [(1, 8), (3, 8), (8, 2)])
    moved = what_moves(plan, TODAY, giver="1", taker="2")
    assert [(one.line, one.on, other.on) for one, other in moved] == [
        ("1", day(1), day(7)),
        ("2", day(7), day(1)),
    ]
    for giver, taker in (("1", "1"), ("1", "9"), ("9", "1")):
        with pytest.raises(InvalidInput):
            what_moves(plan, TODAY, giver=giver, taker=taker)


@pytest.mark.parametrize("quantity", ["0", "-1"])
def test_nothing_is_no_quantity(quantity: str) -> None:
    with pytest.raises(InvalidInput):
        answer_of(stock(1), D(quantity), TODAY, RULES)
    with pytest.raises(InvalidInput):
        Receipt(on=TODAY, quantity=D("-1"))
    with pytest.raises(InvalidInput):
        Commitment(line="1", quantity=D("-1"), by=TODAY)
    with pytest.raises(InvalidInput):
        Rules(lead_days=-1)


ROWS = st.lists(st.tuples(st.integers(-5, 40), st.integers(0, 60)), max_size=6)
PLANS = st.builds(stock, st.integers(-20, 80), ROWS, ROWS)


def covered(plan: Stock) -> bool:
    """Whether everybody who was promised something gets it by their day, looked at day by day."""
    for ahead in range(45):
        on = day(ahead)
        have = plan.on_hand + sum((r.quantity for r in plan.coming(TODAY) if r.on <= on), D(0))
        if have < sum((c.quantity for c in plan.commitments if c.by <= on), D(0)):
            return False
    return True


@given(plan=PLANS, quantity=st.integers(1, 90))
def test_nothing_is_promised_twice(plan: Stock, quantity: int) -> None:
    """Where all promises can be kept, they still can with the new one on its day."""
    found = answer_of(plan, D(quantity), TODAY, RULES)
    if not covered(plan) or found.kind == "short" or found.whole is None:
        return
    start = next(row.start for row in periods_of(plan, TODAY) if row.by_then >= quantity)
    new = Commitment(line="new", quantity=D(quantity), by=start)
    assert covered(
        Stock(on_hand=plan.on_hand, receipts=plan.receipts, commitments=(*plan.commitments, new))
    )


@given(plan=PLANS, ahead=st.integers(0, 40), more=st.integers(0, 50))
def test_a_receipt_more_promises_no_day_less(plan: Stock, ahead: int, more: int) -> None:
    richer = Stock(
        on_hand=plan.on_hand,
        receipts=(*plan.receipts, Receipt(on=day(ahead), quantity=D(more))),
        commitments=plan.commitments,
    )
    for n in range(45):
        assert by(richer, day(n)) >= by(plan, day(n))


def by(plan: Stock, on: date) -> Decimal:
    return max((row.by_then for row in periods_of(plan, TODAY) if row.start <= on), default=D(0))


@given(plan=PLANS)
def test_what_is_free_is_what_there_will_be_less_what_is_owed(plan: Stock) -> None:
    rows = periods_of(plan, TODAY)
    coming = sum((r.quantity for r in plan.coming(TODAY)), D(0))
    assert rows[-1].by_then == plan.on_hand + coming - plan.committed
    assert all(row.free >= 0 for row in rows[1:])


@given(plan=PLANS, quantity=st.integers(1, 90), step=st.integers(1, 12))
def test_parts_add_up_and_each_leaves_when_it_is_there(
    plan: Stock, quantity: int, step: int
) -> None:
    parts = split_by_day(plan, D(quantity), TODAY, Rules(lead_days=5, step=D(step)))
    assert sum(part.quantity for part in parts) == quantity
    days = [part.leaves for part in parts]
    assert days == sorted(set(days))
    whole = answer_of(plan, D(quantity), TODAY, Rules(lead_days=5))
    assert whole.whole is not None
    assert parts[-1].leaves <= whole.whole.leaves or whole.kind == "short"
