"""What is usually bought: cadence, due, late, stopped, season; each by how many purchases."""

from datetime import date, timedelta
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.errors import InvalidInput
from routecore.regulars import STATES, Habit, Purchase, changed_percent, habit_of, season_of

D = Decimal
TODAY = date(2026, 11, 26)


def bought(*days: date, quantity: str = "10", net: str = "25") -> list[Purchase]:
    return [Purchase(on=day, quantity=D(quantity), net=D(net)) for day in days]


def every(days: int, times: int, last: date) -> list[date]:
    return [last - timedelta(days=days * n) for n in reversed(range(times))]


def known(found: Habit | None) -> Habit:
    assert found is not None
    return found


@pytest.mark.parametrize(
    ("since", "state"),
    [
        (0, "not_yet"),
        (29, "not_yet"),
        (30, "due"),
        (45, "due"),
        (46, "late"),
        (90, "late"),
        (91, "stopped"),
    ],
)
def test_due_late_and_stopped_follow_from_the_cadence(since: int, state: str) -> None:
    days = every(30, 5, TODAY - timedelta(days=since))
    found = known(habit_of(bought(*days), TODAY))
    assert (found.state, found.cadence_days, found.purchases) == (state, 30, 5)
    assert found.due_on == days[-1] + timedelta(days=30)
    assert found.days_over == max(0, since - 30)


def test_three_intervals_are_needed_to_speak_of_a_cadence() -> None:
    found = known(habit_of(bought(*every(30, 3, TODAY)), TODAY))
    assert (found.state, found.cadence_days, found.due_on) == ("unknown", None, None)
    assert known(habit_of(bought(*every(30, 4, TODAY)), TODAY)).cadence_days == 30


def test_one_long_pause_does_not_move_the_cadence() -> None:
    days = [*every(14, 4, date(2026, 6, 1)), *every(14, 4, date(2026, 11, 20))]
    assert known(habit_of(bought(*days), TODAY)).cadence_days == 14


def test_several_lines_of_a_day_are_one_purchase() -> None:
    day = date(2026, 11, 2)
    rows = [*bought(*every(30, 4, date(2026, 10, 3))), *bought(day, day, quantity="4", net="9")]
    found = known(habit_of(rows, TODAY))
    assert (found.purchases, found.last_on, found.last_quantity) == (5, day, 8)
    assert found.last_price == D("2.25")


def test_the_usual_quantity_is_the_median_of_the_last_five_in_whole_packs() -> None:
    days = every(30, 7, TODAY)
    rows = [
        Purchase(on=day, quantity=D(q), net=D(1))
        for day, q in zip(days, ("900", "900", "48", "52", "500", "60", "49"), strict=True)
    ]
    assert known(habit_of(rows, TODAY)).usual == 52
    assert known(habit_of(rows, TODAY, pack=D(20))).usual == 60
    assert known(habit_of(rows, TODAY, pack=D(500))).usual == 500


SPRINGS = [date(year, month, 5) for year in (2024, 2025, 2026) for month in (2, 3)]


@pytest.mark.parametrize(
    ("today", "state", "due"),
    [
        (date(2026, 5, 1), "out_of_season", date(2027, 1, 1)),
        (date(2026, 12, 31), "out_of_season", date(2027, 1, 1)),
        (date(2027, 1, 1), "due", date(2027, 1, 1)),
        (date(2027, 2, 14), "due", date(2027, 1, 1)),
        (date(2027, 2, 15), "late", date(2027, 1, 1)),
        (date(2027, 4, 1), "out_of_season", date(2028, 1, 1)),
    ],
)
def test_what_is_bought_in_one_season_is_never_late_outside_it(
    today: date, state: str, due: date
) -> None:
    found = known(habit_of(bought(*SPRINGS), today))
    assert (found.state, found.due_on, found.season) == (state, due, 1)


def test_what_was_bought_in_its_season_is_not_due_again_before_the_next() -> None:
    found = known(habit_of(bought(*SPRINGS), date(2026, 3, 20)))
    assert (found.state, found.due_on) == ("not_yet", date(2027, 1, 1))


def test_one_year_or_less_than_two_thirds_are_no_season() -> None:
    assert season_of([date(2026, 2, n) for n in (1, 2, 3, 4)]) is None
    assert season_of([*SPRINGS[:4], date(2025, 6, 1), date(2025, 8, 1)]) == 1
    assert season_of([*SPRINGS[:4], date(2025, 6, 1), date(2025, 8, 1), date(2025, 9, 1)]) is None


def test_what_lies_ahead_and_what_was_never_bought() -> None:
    assert habit_of([], TODAY) is None
    assert habit_of(bought(TODAY + timedelta(days=1)), TODAY) is None
    for bad in ("0", "-1"):
        with pytest.raises(InvalidInput):
            Purchase(on=TODAY, quantity=D(bad))
        with pytest.raises(InvalidInput):
            habit_of(bought(TODAY), TODAY, pack=D(bad))


@pytest.mark.parametrize(
    ("before", "after", "percent"),
    [("10", "10", "0.0"), ("10", "9.5", "-5.0"), ("3", "4", "33.3"), ("0", "4", None)],
)
def test_a_price_has_changed_by_so_many_percent(
    before: str, after: str, percent: str | None
) -> None:
    assert changed_percent(D(before), D(after)) == (None if percent is None else D(percent))


PURCHASES = st.lists(
    st.builds(
        Purchase,
        on=st.dates(date(2022, 1, 1), TODAY),
        quantity=st.decimals("0.001", 10_000, places=3),
        net=st.decimals(0, 100_000, places=2),
    ),
    max_size=12,
)


@given(rows=PURCHASES, pack=st.integers(1, 60), ahead=st.integers(0, 900))
def test_the_order_of_purchases_and_those_ahead_do_not_matter(
    rows: list[Purchase], pack: int, ahead: int
) -> None:
    today = TODAY - timedelta(days=ahead)
    found = habit_of(rows, today, pack=D(pack))
    assert found == habit_of(reversed(rows), today, pack=D(pack))
    assert found == habit_of([row for row in rows if row.on <= today], today, pack=D(pack))
    if found is None:
        return
    assert found.state in STATES
    assert found.usual > 0
    assert found.usual % pack == 0
    if found.state in ("late", "stopped") and found.season is None:
        assert found.due_on is not None
        assert found.due_on < today
    if found.due_on is not None and found.state in ("not_yet", "out_of_season"):
        assert found.due_on > today
