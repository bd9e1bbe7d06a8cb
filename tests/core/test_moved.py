"""What moved between two snapshots, cause by cause."""

from datetime import date, timedelta
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.forecast import CAUSES, Seen, Snapshot, Window, moved

D = Decimal
NOW, THEN = date(2026, 11, 16), date(2026, 11, 23)
DECEMBER = Window(first=date(2026, 12, 1), last=date(2026, 12, 31))
MID = date(2026, 12, 15)


def seen(amount: object = 1000, percent: object = 50, on: date = MID, state: str = "open") -> Seen:
    return Seen(
        amount=D(str(amount)), probability_percent=D(str(percent)), decision=on, state=state
    )


def steps(was: Seen | None, now: Seen | None, window: Window = DECEMBER) -> dict[str, Decimal]:
    """The causes of one deal."""
    found = moved(
        Snapshot(on=NOW, deals={7: was} if was else {}),
        Snapshot(on=THEN, deals={7: now} if now else {}),
        window,
        "EUR",
    )
    assert found.start + sum(step.amount for step in found.steps.values()) == found.end
    return {cause: step.amount for cause, step in found.steps.items() if step.amount}


JANUARY = date(2027, 1, 8)


@pytest.mark.parametrize(
    ("was", "now", "told"),
    [
        (None, seen(), {"new": 500}),
        (seen(), seen(state="won"), {"won": -500}),
        (seen(), seen(state="lost"), {"lost": -500}),
        (seen(), seen(state="parked"), {"parked": -500}),
        (seen(state="lost"), seen(), {"new": 500}),
        (seen(), None, {"handed": -500}),
        (seen(), seen(on=JANUARY), {"later": -500}),
        (seen(on=JANUARY), seen(), {"sooner": 500}),
        (seen(), seen(on=date(2026, 11, 28)), {"sooner": -500}),
        (seen(on=date(2026, 11, 28)), seen(), {"later": 500}),
        (seen(), seen(1200), {"grew": 100}),
        (seen(), seen(600), {"shrank": -200}),
        (seen(), seen(percent=75), {"chance": 250}),
        (seen(), seen(1200, 75), {"grew": 100, "chance": 300}),
        (seen(800, 25, JANUARY), seen(1000, 50), {"sooner": 200, "grew": 50, "chance": 250}),
        (seen(), seen(), {}),
        (seen(on=JANUARY), seen(on=JANUARY), {}),
    ],
)
def test_each_cause_is_told_by_its_name(
    was: Seen | None, now: Seen | None, told: dict[str, int]
) -> None:
    assert steps(was, now) == told


def test_a_day_that_goes_by_takes_the_deal_out_of_the_month() -> None:
    november = Window(first=date(2026, 11, 1), last=date(2026, 11, 30))
    gone = seen(on=date(2026, 11, 20))
    assert steps(gone, gone, november) == {"overdue": -500}
    assert steps(gone, seen(on=date(2026, 11, 27)), november) == {}
    overdue = seen(on=date(2026, 11, 10))
    assert steps(overdue, seen(on=date(2026, 11, 27)), november) == {"later": 500}


def test_a_step_opens_its_deals() -> None:
    found = moved(
        Snapshot(on=NOW, deals={3: seen(), 1: seen(2000), 2: seen()}),
        Snapshot(on=THEN, deals={3: seen(state="lost"), 1: seen(2000, state="lost"), 2: seen()}),
        DECEMBER,
        "EUR",
    )
    assert found.steps["lost"].deals == [(1, D(-1000)), (3, D(-500))]


states = st.sampled_from(["open", "open", "open", "won", "lost", "parked"])
rows = st.builds(
    Seen,
    amount=st.decimals(-1000, 100_000, places=2),
    probability_percent=st.decimals(0, 100, places=1),
    decision=st.integers(-60, 120).map(lambda days: NOW + timedelta(days=days)),
    state=states,
    counts=st.booleans(),
)
snapshots = st.dictionaries(st.integers(1, 12), rows)


@given(snapshots, snapshots, st.integers(-60, 120), st.integers(0, 90))
def test_what_moved_adds_up_for_any_two_snapshots(
    before: dict[int, Seen], after: dict[int, Seen], first: int, days: int
) -> None:
    begins = NOW + timedelta(days=first)
    found = moved(
        Snapshot(on=NOW, deals=before),
        Snapshot(on=THEN, deals=after),
        Window(first=begins, last=begins + timedelta(days=days)),
        "EUR",
    )
    assert found.start + sum(step.amount for step in found.steps.values()) == found.end
    for step in found.steps.values():
        assert step.amount == sum(amount for _, amount in step.deals)
    assert tuple(found.steps) == CAUSES


@given(snapshots)
def test_nothing_moves_between_a_snapshot_and_itself(deals: dict[int, Seen]) -> None:
    same = Snapshot(on=NOW, deals=deals)
    found = moved(same, same, DECEMBER, "EUR")
    assert found.start == found.end
    assert all(not step.deals for step in found.steps.values())
