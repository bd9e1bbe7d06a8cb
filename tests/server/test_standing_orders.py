"""Orders that repeat: asked before each day, ordered by a person, each day answered once."""

from collections.abc import Callable
from datetime import date, timedelta
from functools import partial
from threading import Barrier, Thread
from typing import Any

from django.db import connections
import pytest

from apps.customers.models import Address
from apps.quotes.models import Quote
from apps.standing_orders.models import StandingOrder, StandingTurn
from apps.stock.calendars import workdays
from demo.factories import AddressFactory, CustomerFactory
from tests.server.conftest import Caller, World, as_seen

MONDAYS = {"every": "week", "weekdays": [0]}


def next_monday(world: World) -> date:
    """The first Monday that is not gone by."""
    return world.today + timedelta(days=(7 - world.today.weekday()) % 7)


def wish(world: World, **more: Any) -> dict[str, Any]:
    """Every Monday ten posts and a roll of wire."""
    lines = [
        {"item_id": world.post.pk, "quantity": "10", "unit": "H87"},
        {"item_id": world.wire.pk, "quantity": "1", "unit": "RL"},
    ]
    plain = {"title": "Posts of the week", "repetition": MONDAYS, "begins": str(world.today)}
    return {**plain, "lines": lines, **more}


@pytest.fixture
def kept(world: World, as_ilse: Caller) -> Any:
    return as_ilse("post", f"customers/{world.customer.pk}/standing-orders", wish(world))


def asks(caller: Caller) -> list[tuple[str, str]]:
    found = caller("get", "today")["ahead"]
    return [(row["kind"], row["on"]) for row in found if row["kind"].startswith("standing")]


def test_it_asks_before_its_day_and_becomes_an_order_in_two_steps(
    world: World, as_ilse: Caller, kept: Any
) -> None:
    monday = next_monday(world)
    assert kept["repetition"]["rule"] == "FREQ=WEEKLY;BYDAY=MO"
    assert kept["coming"][:2] == [str(monday), str(monday + timedelta(days=7))]
    assert asks(as_ilse) == [("standing_asks", str(monday))]
    assert asks(world.call(world.stranger)) == []

    begun = as_ilse(
        "post",
        f"standing-orders/{kept['id']}/turns",
        {"version": kept["version"], "on": str(monday)},
    )
    quote = as_ilse("get", f"revisions/{begun['revision_id']}")
    assert [(line["item"]["id"], line["quantity"]) for line in quote["lines"]] == [
        (world.post.pk, "10"),
        (world.wire.pk, "1"),
    ]
    there = Address.objects.get(customer=world.customer).country
    wanted = workdays(there, "", world.today).first_from(monday)
    assert quote["requested_on"] == str(wanted)
    assert asks(as_ilse) == [("standing_begun", str(monday))]

    order = as_ilse("post", f"revisions/{quote['id']}/order-now", as_seen(quote, close_deal=False))
    assert asks(as_ilse) == []
    after = as_ilse("get", f"standing-orders/{kept['id']}")
    assert after["next_on"] == str(monday + timedelta(days=7))
    (turn,) = after["turns"]
    assert (turn["state"], turn["order"]) == ("ordered", order["number"])


def test_notice_decides_when_it_asks(world: World, as_ilse: Caller) -> None:
    far = world.today + timedelta(days=40)
    path = f"customers/{world.customer.pk}/standing-orders"
    as_ilse("post", path, wish(world, begins=str(far), notice_days=10))
    assert asks(as_ilse) == []
    as_ilse("post", path, wish(world, begins=str(far), notice_days=50))
    assert len(asks(as_ilse)) == 1


def test_a_day_is_left_out_with_a_reason_and_the_next_one_asks(
    world: World, as_ilse: Caller, kept: Any
) -> None:
    monday = next_monday(world)
    body = {"version": kept["version"], "on": str(monday), "reason": "Snow"}
    left = as_ilse("post", f"standing-orders/{kept['id']}/leave-out", body)
    assert (left["turns"][0]["state"], left["turns"][0]["reason"]) == ("left_out", "Snow")
    assert left["next_on"] == str(monday + timedelta(days=7))
    again = {**body, "version": left["version"]}
    refused = as_ilse.ask("post", f"standing-orders/{kept['id']}/leave-out", again)
    assert (refused.status_code, refused.json()["code"]) == (409, "turn_answered")


def test_a_draft_that_is_thrown_away_is_asked_for_again(
    world: World, as_ilse: Caller, kept: Any
) -> None:
    monday, path = next_monday(world), f"standing-orders/{kept['id']}"
    begun = as_ilse("post", f"{path}/turns", {"version": kept["version"], "on": str(monday)})
    draft = as_ilse("get", f"revisions/{begun['revision_id']}")
    assert (
        as_ilse.status("delete", f"revisions/{draft['id']}", None, version=draft["version"]) < 300
    )
    assert ("standing_asks", str(monday)) in asks(as_ilse)
    now = as_ilse("get", path)
    assert now["turns"][0]["state"] == "open"
    again = as_ilse.ask("post", f"{path}/turns", {"version": now["version"], "on": str(monday)})
    assert again.status_code == 201
    assert StandingTurn.objects.count() == 1


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"title": " "}, "title"),
        ({"lines": []}, "lines"),
        ({"repetition": {"every": "week"}}, "repetition.weekdays"),
        ({"begins": "2020-01-01", "ends": "2020-02-01"}, "rule"),
        ({"begins": "2030-01-01", "ends": "2029-01-01"}, "ends"),
        ({"lines": [{"item_id": 10**9, "quantity": "1", "unit": "H87"}]}, "lines[0].item_id"),
        ({"lines": [{"quantity": "1", "unit": "RL"}]}, "lines[0].unit"),
    ],
)
def test_what_cannot_be_is_refused_at_its_place_and_nothing_is_kept(
    world: World, as_ilse: Caller, change: dict[str, Any], path: str
) -> None:
    for line in change.get("lines", []):
        line.setdefault("item_id", world.post.pk)
    body = wish(world, **change)
    refused = as_ilse.ask("post", f"customers/{world.customer.pk}/standing-orders", body)
    assert refused.status_code == 422
    assert path in str(refused.json())
    assert not StandingOrder.objects.exists()


def test_it_is_for_those_who_may_sell_to_the_customer(world: World, kept: Any) -> None:
    path = f"standing-orders/{kept['id']}"
    seen = {"version": kept["version"], "on": str(next_monday(world))}
    for person, status in ((world.stranger, 404), (world.tomas, 404), (world.joren, 403)):
        caller = world.call(person)
        assert caller.status("get", path) == status
        assert caller.status("post", f"{path}/turns", seen) == status
        assert caller.status("post", f"{path}/end", seen) == status
        assert caller.status("put", path, wish(world, version=kept["version"])) == status
    assert world.call(world.petra).status("get", path) == 200
    elsewhere = AddressFactory(customer=CustomerFactory())
    body = wish(world, version=kept["version"], delivery_address_id=elsewhere.pk)
    assert world.call(world.ilse).status("put", path, body) == 404


def test_it_is_changed_over_what_was_seen_and_asks_no_more_once_it_ended(
    world: World, as_ilse: Caller, kept: Any
) -> None:
    path = f"standing-orders/{kept['id']}"
    body = wish(world, version=kept["version"], repetition={"every": "month", "month_day": -1})
    changed = as_ilse("put", path, body)
    assert changed["repetition"]["rule"] == "FREQ=MONTHLY;BYMONTHDAY=-1"
    assert as_ilse.status("put", path, body) == 409
    ended = as_ilse("post", f"{path}/end", {"version": changed["version"]})
    assert (ended["ended"], ended["next_on"], asks(as_ilse)) == (True, None, [])
    late = {"version": ended["version"], "on": changed["next_on"]}
    assert as_ilse("post", f"{path}/turns", late)["code"] == "standing_order_ended"


@pytest.mark.django_db(transaction=True)
def test_a_day_that_two_people_answer_at_a_time_is_answered_once(
    world: World, as_ilse: Caller, kept: Any
) -> None:
    body = {"version": kept["version"], "on": str(next_monday(world))}
    barrier, found = Barrier(2), []

    def answer() -> None:
        caller = world.call(world.petra)
        barrier.wait()
        found.append(caller.status("post", f"standing-orders/{kept['id']}/turns", body))
        connections.close_all()

    threads = [Thread(target=answer) for _ in range(2)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(found) == [201, 409]
    assert (Quote.objects.count(), StandingTurn.objects.count()) == (1, 1)


def test_the_list_and_today_take_a_constant_number_of_queries(
    world: World, as_ilse: Caller, kept: Any, queries_of: Callable[[Any], int]
) -> None:
    path = f"customers/{world.customer.pk}/standing-orders"

    def more() -> None:
        made = as_ilse("post", path, wish(world))
        turn = {"version": made["version"], "on": made["next_on"]}
        as_ilse("post", f"standing-orders/{made['id']}/turns", turn)

    more()
    few = [queries_of(partial(as_ilse, "get", each)) for each in (path, "today")]
    for _ in range(4):
        more()
    assert [queries_of(partial(as_ilse, "get", each)) for each in (path, "today")] == few
    assert len(as_ilse("get", path)) == 6


def test_days_are_looked_at_without_keeping_anything(world: World, as_ilse: Caller) -> None:
    rule = {"every": "month", "turn": 1, "weekdays": [0], "months": [3, 4, 5]}
    body = {"repetition": rule, "begins": "2031-01-01", "ends": "2031-12-31"}
    assert as_ilse("post", "repetitions/days", body) == [
        "2031-03-03",
        "2031-04-07",
        "2031-05-05",
    ]
