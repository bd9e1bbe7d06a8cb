"""Snapshots of the deals: by night and by hand, and what moved between any two of them and now."""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from datetime import date, datetime, timedelta
from decimal import Decimal
from typing import Any

from django.db import connection, connections
from django.db.models import F
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
import pytest

from apps.deals.models import Deal, Stage
from apps.forecast.models import STILL, Seen, Snapshot
from apps.forecast.snapshots import take_tonight
from demo.factories import DealFactory
from tests.server.conftest import Caller, World

D = Decimal
EVER = {"first": "2000-01-01", "last": "2199-12-31"}


@pytest.fixture
def as_petra(world: World) -> Caller:
    return world.call(world.petra)


def a_deal(
    world: World, title: str, amount: int, percent: int, days: int = 20, **more: Any
) -> Deal:
    """An open deal with a probability of its own."""
    found: Deal = DealFactory(
        title=title,
        customer=world.customer,
        estimate=D(amount),
        decision_on=world.today + timedelta(days=days),
        own_probability_percent=D(percent),
        probability_reason="as told",
        **more,
    )
    return found


def back(days: int) -> None:
    """Everything that was kept lies so many days further back."""
    by = timedelta(days=days)
    Snapshot.objects.update(at=F("at") - by)
    for row in Snapshot.objects.exclude(night=None).order_by("night"):
        Snapshot.objects.filter(pk=row.pk).update(night=timezone.localdate(row.at))
    Seen.objects.exclude(until=STILL).update(until=F("until") - by)
    Seen.objects.update(since=F("since") - by)


def night(at: datetime | None = None) -> bool:
    return take_tonight(lambda: at or timezone.now())


def moved(caller: Caller, since: date, **more: object) -> Any:
    return caller("get", "forecast/moved", since=since, **{**EVER, **more})


def steps(told: Any) -> dict[str, str]:
    return {row["cause"]: row["amount"] for row in told["steps"]}


def adds_up(told: Any) -> None:
    """The start, every step and every deal of every step come to the end."""
    whole = D(told["start"]) + sum((D(row["amount"]) for row in told["steps"]), D(0))
    assert whole == D(told["end"])
    for row in told["steps"]:
        parts = sum((D(deal["amount"]) for deal in row["deals"]), D(row["others"] or 0))
        assert parts == D(row["amount"])


def test_a_night_is_kept_once_and_a_deal_that_does_not_move_once_in_all(world: World) -> None:
    Deal.objects.all().delete()
    deal = a_deal(world, "Posts", 1000, 50)
    assert night() and not night()
    back(1)
    assert night()
    row = Seen.objects.get(deal=deal)
    assert (row.amount, row.probability, row.outcome, row.until) == (D(1000), D(50), "open", STILL)
    assert Snapshot.objects.exclude(night=None).count() == 2


def test_two_workers_keep_one_night(world: World, transactional_db: None) -> None:
    def at_once(_: int) -> bool:
        try:
            return night()
        finally:
            connections.close_all()

    with ThreadPoolExecutor(4) as pool:
        taken = list(pool.map(at_once, range(4)))
    assert sum(taken) == 1
    assert Seen.objects.count() == Deal.objects.filter(outcome="open").count()


def test_every_cause_is_told_with_its_deals_and_all_add_up(
    world: World, as_ilse: Caller, as_petra: Caller
) -> None:
    Deal.objects.all().delete()
    stays = a_deal(world, "Stays", 1000, 50)
    grows = a_deal(world, "Grows", 1000, 50)
    won = a_deal(world, "Is won", 2000, 50)
    parked = a_deal(world, "Is parked", 300, 10)
    likelier = a_deal(world, "Is likelier", 1000, 20)
    given = a_deal(world, "Is given away", 400, 50)
    assert night()
    back(7)
    stages = {stage.code: stage.pk for stage in Stage.objects.all()}
    as_ilse("patch", f"deals/{grows.pk}", {"version": 1, "estimate": "1500"})
    as_ilse("patch", f"deals/{won.pk}", {"version": 1, "stage": "won"})
    Deal.objects.filter(pk=parked.pk).update(stage=stages["parked"])
    as_ilse(
        "patch", f"deals/{likelier.pk}",
        {"version": 1, "probability": "30", "probability_reason": "the board met"},
    )  # fmt: skip
    as_petra("patch", f"deals/{given.pk}", {"version": 1, "owner_id": world.tomas.pk})
    a_deal(world, "Is new", 600, 50)
    told = moved(as_ilse, world.today - timedelta(days=7))
    assert (told["start"], told["end"]) == ("2430.00", "1850.00")
    assert steps(told) == {
        "new": "300.00",
        "won": "-1000.00",
        "parked": "-30.00",
        "handed": "-200.00",
        "grew": "250.00",
        "chance": "100.00",
    }
    adds_up(told)
    # What is now is what the page weighs, and the deal that is another's has no name any more.
    assert told["end"] == as_ilse("get", "forecast")["total"]["weighted"]
    (handed,) = next(row["deals"] for row in told["steps"] if row["cause"] == "handed")
    assert (handed["id"], handed["title"]) == (None, "")
    # For the lead, in whose team it stays, nothing was handed on.
    assert "handed" not in steps(moved(as_petra, world.today - timedelta(days=7)))
    assert stays.pk not in {deal["id"] for row in told["steps"] for deal in row["deals"]}


def test_between_two_snapshots_what_happened_since_does_not_count(
    world: World, as_ilse: Caller
) -> None:
    Deal.objects.all().delete()
    deal = a_deal(world, "Wire", 1000, 50)
    assert night()
    back(7)
    as_ilse("patch", f"deals/{deal.pk}", {"version": 1, "estimate": "1200"})
    assert night()
    back(7)
    as_ilse("patch", f"deals/{deal.pk}", {"version": 2, "stage": "lost"})
    two_weeks, week = (world.today - timedelta(days=days) for days in (14, 7))
    assert steps(moved(as_ilse, two_weeks, until=week)) == {"grew": "100.00"}
    assert steps(moved(as_ilse, week)) == {"lost": "-600.00"}
    whole = moved(as_ilse, two_weeks)
    assert (whole["start"], whole["end"], steps(whole)) == ("500.00", "0.00", {"lost": "-500.00"})


def test_a_window_tells_what_slipped_out_of_it_and_what_came_in(
    world: World, as_ilse: Caller
) -> None:
    Deal.objects.all().delete()
    out, come = a_deal(world, "Slips", 1000, 50, days=10), a_deal(world, "Comes", 800, 50, days=70)
    assert night()
    back(7)
    as_ilse(
        "patch",
        f"deals/{out.pk}",
        {"version": 1, "decision_on": f"{world.today + timedelta(days=80)}"},
    )
    as_ilse(
        "patch",
        f"deals/{come.pk}",
        {"version": 1, "decision_on": f"{world.today + timedelta(days=12)}"},
    )
    near = {"first": world.today, "last": world.today + timedelta(days=30)}
    told = moved(as_ilse, world.today - timedelta(days=7), **near)
    assert steps(told) == {"later": "-500.00", "sooner": "400.00"}
    adds_up(told)


def test_a_deal_that_moves_while_a_snapshot_runs_stands_in_one_way(
    world: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Between the two halves of a snapshot the amount changes: the row of before ends with the next one."""
    deal = a_deal(world, "Net", 1000, 50)
    assert night()
    back(1)
    Deal.objects.filter(pk=deal.pk).update(estimate=D(1100))
    real = Seen.objects.bulk_create

    def later(*rows: Any, **more: Any) -> Any:
        Deal.objects.filter(pk=deal.pk).update(estimate=D(1200))
        return real(*rows, **more)

    monkeypatch.setattr(
        type(Seen.objects), "bulk_create", lambda _, *rows, **more: later(*rows, **more)
    )
    assert night()
    assert list(deal.seen.order_by("since").values_list("amount", flat=True)) == [1000, 1200]
    assert deal.seen.filter(until=STILL).count() == 1


def test_what_was_not_kept_yet_is_said(world: World, as_ilse: Caller) -> None:
    told = moved(as_ilse, world.today - timedelta(days=400))
    assert (told["start"], told["steps"]) == (None, [])
    assert as_ilse("get", "forecast/snapshots") == {"first": None, "kept": []}


def test_a_snapshot_by_hand_has_a_name(world: World, as_ilse: Caller, as_petra: Caller) -> None:
    assert as_ilse.status("post", "forecast/snapshots", {"note": "  "}) == 422
    kept = as_ilse("post", "forecast/snapshots", {"note": " Before  the fair "})
    assert (kept["note"], kept["who"]) == ("Before the fair", world.ilse.name)
    assert [row["note"] for row in as_petra("get", "forecast/snapshots")["kept"]] == [kept["note"]]
    assert world.call(world.joren).status("get", "forecast/snapshots") == 403


def test_windows_and_days_that_end_before_they_begin_are_refused(
    world: World, as_ilse: Caller
) -> None:
    night()
    on = world.today
    first = {"first": on, "last": on - timedelta(days=1), "since": on}
    assert as_ilse.status("get", "forecast/moved", **first) == 422
    before = {**EVER, "since": on, "until": on - timedelta(days=9)}
    assert as_ilse.status("get", "forecast/moved", **before) == 422


def test_what_moved_takes_the_same_queries_however_many_deals(
    world: World, as_ilse: Caller
) -> None:
    def queries() -> int:
        with CaptureQueriesContext(
            connection,
        ) as caught:
            moved(as_ilse, world.today)
        return len(caught)

    a_deal(world, "Bins", 1000, 50)
    night()
    Deal.objects.update(own_probability_percent=D(60), probability_reason="more")
    a_deal(world, "Came since", 1000, 50)
    few = queries()
    for n in range(20):
        a_deal(world, f"Bins {n}", 1000, 50)
    assert queries() == few


@pytest.mark.parametrize("who", ["stranger", "tomas"])
def test_nobody_sees_what_moved_for_others(
    world: World, who: str, call_of: Callable[[str], Caller]
) -> None:
    a_deal(world, "Hail net", 1000, 50)
    night()
    Deal.objects.update(estimate=D(5))
    told = moved(call_of(who), world.today)
    assert (told["start"], told["end"], told["steps"]) == ("0.00", "0.00", [])


@pytest.fixture
def call_of(world: World) -> Callable[[str], Caller]:
    return lambda name: world.call(getattr(world, name))
