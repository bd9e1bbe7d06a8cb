"""The Timetable: what its deals come to, which nobody looks after, and what a move makes of the months."""

from datetime import timedelta
from decimal import Decimal
from typing import Any

from django.utils import timezone

from apps.deals.models import Deal
from apps.diary.models import Activity
from demo.factories import CustomerFactory, DealFactory
from tests.server.conftest import Caller, World

D = Decimal


def deal(world: World, amount: int, days: int, **more: Any) -> Deal:
    found: Deal = DealFactory(
        **{"customer": world.customer, **more},
        estimate=D(amount),
        decision_on=world.today + timedelta(days=days),
    )
    return found


def call(deal: Deal, days_ago: int) -> None:
    made = Activity.objects.create(
        kind="call", customer=deal.customer, deal=deal, owner=deal.owner, text="Rang"
    )
    Activity.objects.filter(pk=made.pk).update(created_at=timezone.now() - timedelta(days=days_ago))


def old(deal: Deal) -> Deal:
    Deal.objects.filter(pk=deal.pk).update(created_at=timezone.now() - timedelta(days=90))
    return deal


def test_the_sums_by_column_stage_and_month_are_those_of_the_same_deals(
    world: World, as_ilse: Caller
) -> None:
    Deal.objects.all().delete()
    for amount, days in ((100, -3), (1000, 0), (2000, 6), (4000, 7), (8000, 200)):
        deal(world, amount, days)
    starts = [str(world.today), str(world.today + timedelta(days=7))]
    query = "&".join(f"starts={each}" for each in starts)
    told = as_ilse("get", f"timetable/sums?{query}")
    assert [(row["count"], row["amount"]) for row in told["columns"]] == [
        (1, "100.00"),
        (2, "3000.00"),
        (2, "12000.00"),
    ]
    for parts in (told["columns"], told["stages"].values(), told["months"]):
        for field in ("amount", "weighted"):
            assert sum(D(row[field]) for row in parts) == D(told["total"][field])
    assert told["months"][0]["month"] == "overdue"
    for row in told["months"]:
        listed = as_ilse("get", "deals", month=row["month"])
        assert listed["sums"]["weighted"] == row["weighted"]
    rows = as_ilse("get", "timetable")
    assert sum(D(row["weighted"]) for row in rows) == D(told["total"]["weighted"])


def test_a_chip_tells_what_its_row_in_the_list_tells(world: World, as_ilse: Caller) -> None:
    old(deal(world, 100, -3))
    deal(world, 2500, 40, title="Düngerstreuer “Süd” </script>")
    answer = as_ilse.ask("get", "timetable")
    assert answer.headers["Content-Type"] == "application/json; charset=utf-8"
    assert answer.json() == as_ilse("get", "deals")["rows"]


def test_filters_hold_for_the_chips_and_for_the_sums_alike(world: World, as_ilse: Caller) -> None:
    other = CustomerFactory(owner=world.ilse, parent=world.customer)
    deal(world, 700, 3, customer=other)
    late = deal(world, 900, 50)
    for filters, count in (
        ({"customer": other.pk}, 1),
        ({"customer": other.pk, "family": "true"}, 3),
        ({"since": str(late.decision_on), "until": str(late.decision_on)}, 1),
        ({"least": "900", "stage": late.stage.code}, 2),
    ):
        assert len(as_ilse("get", "timetable", **filters)) == count
        assert as_ilse("get", "timetable/sums", **filters)["total"]["count"] == count


def test_a_deal_is_stale_without_a_next_step_or_where_nothing_was_done_for_long(
    world: World, as_ilse: Caller
) -> None:
    Deal.objects.all().delete()
    fresh, quiet, planned = (old(deal(world, n, 9)) for n in (1, 2, 3))
    new, gone, won = deal(world, 4, 9), deal(world, 5, -1), deal(world, 6, -40)
    call(fresh, 20)
    call(quiet, 22)
    for each in (planned, quiet, gone, new):
        Activity.objects.create(
            kind="follow_up",
            customer=each.customer,
            deal=each,
            owner=each.owner,
            text="Ring",
            due_on=world.today,
        )
    Activity.objects.filter(deal=gone).update(done_at=None)
    as_ilse("patch", f"deals/{won.pk}", {"version": won.version, "stage": "won"})
    told = {row["id"]: row["stale"] for row in as_ilse("get", "deals", state="")["rows"]}
    assert told == {
        fresh.pk: ["no_step"],
        quiet.pk: [],  # what was planned today is something done
        planned.pk: [],
        new.pk: [],
        gone.pk: [],
        won.pk: [],
    }
    Activity.objects.filter(kind="follow_up").update(created_at=timezone.now() - timedelta(days=22))
    found = as_ilse("get", "timetable", stale="true")
    # One whose day has gone by is among them, though nothing else is said of it.
    assert {row["id"]: row["stale"] for row in found} == {
        fresh.pk: ["no_step"],
        quiet.pk: ["quiet"],
        planned.pk: ["quiet"],
        gone.pk: [],
    }
    assert as_ilse("get", f"deals/{quiet.pk}")["stale"] == ["quiet"]
    csv = as_ilse.ask("get", "deals.csv", columns="title,stale").content.decode("utf-8-sig")
    assert "nothing done for long" in csv
    # A follow-up that is done is no next step any more.
    Activity.objects.filter(deal=planned).update(done_at=timezone.now())
    assert as_ilse("get", f"deals/{planned.pk}")["stale"] == ["no_step", "quiet"]


def test_a_move_that_is_tried_tells_the_months_and_one_that_is_kept_the_new_sums(
    world: World, as_ilse: Caller
) -> None:
    Deal.objects.all().delete()
    moved, stays = deal(world, 1000, 1), deal(world, 500, 1)
    later = world.today + timedelta(days=75)
    row = {"id": moved.pk, "version": moved.version, "decision_on": str(later)}
    sums = {"starts": [str(later)]}
    tried = as_ilse("post", "deal-changes", {"rows": [row], "sums": sums})
    assert tried["sums"] is None
    month = {each["month"]: each for each in tried["months"]}
    soon = month[f"{stays.decision_on:%Y-%m}"]
    both = D(soon["all_before"])
    assert both - D(soon["all_after"]) == D(soon["before"]) == both * 2 / 3
    kept = as_ilse("post", "deal-changes", {"rows": [row], "keep": True, "sums": sums})
    assert [each["amount"] for each in kept["sums"]["columns"]] == ["500.00", "1000.00"]
    assert kept["sums"] == as_ilse("get", f"timetable/sums?starts={later}")


def test_a_follow_up_is_given_to_a_colleague_and_taken_back(world: World, as_ilse: Caller) -> None:
    body = {"kind": "follow_up", "text": "Ring", "deal_id": world.deal.pk}
    made = as_ilse("post", "activities", {**body, "due_on": str(world.today)})
    path, tomas = f"activities/{made['id']}", world.call(world.tomas)
    given = as_ilse("patch", path, {"version": 1, "owner_id": world.tomas.pk})
    assert (given["who"], given["who_id"]) == (world.tomas.name, world.tomas.pk)
    # It is on his Today, without a way to a deal that he may not see, and off hers.
    (stop,) = tomas("get", "today")["follow_ups"]
    assert (stop["title"], stop["to"]) == ("Ring", f"/diary?day={stop['on']}")
    assert as_ilse("get", "today")["follow_ups"] == []
    # The deal is hers: she takes it back. He does not give away what is hers alone.
    back = as_ilse("patch", path, {"version": 2, "owner_id": world.ilse.pk})
    assert back["who_id"] == world.ilse.pk
    assert tomas.status("patch", path, {"version": 3, "owner_id": world.tomas.pk}) == 404
    # Nobody of another team, nobody who does not sell, is given anything.
    for person in (world.stranger, world.joren, world.admin):
        assert as_ilse.status("patch", path, {"version": 3, "owner_id": person.pk}) == 404
    assert as_ilse.status("patch", path, {"version": 1, "owner_id": world.petra.pk}) == 409
    names = [row["id"] for row in as_ilse("get", "session")["colleagues"]]
    assert sorted(names) == sorted([world.ilse.pk, world.tomas.pk, world.petra.pk])
    assert world.call(world.joren)("get", "session")["colleagues"] == []
