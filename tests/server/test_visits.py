"""A day's visits: planned, in order, with where to go; one's own alone."""

from collections.abc import Callable
from datetime import timedelta
from typing import Any

from apps.customers.models import Address
from apps.diary.models import Activity
from demo.factories import AddressFactory, ContactFactory, CustomerFactory
from tests.server.conftest import Caller, World


def plan(caller: Caller, world: World, text: str, customer: int | None = None) -> Any:
    body = {"day": str(world.today), "text": text, "customer_id": customer or world.customer.pk}
    return caller.ask("post", "visits", body)


def ids(caller: Caller) -> list[int]:
    return [row["id"] for row in caller("get", "visits")["rows"]]


def test_visits_stand_in_their_order_with_where_to_go_and_whom_to_ask(
    world: World, as_ilse: Caller
) -> None:
    Address.objects.all().delete()
    AddressFactory(customer=world.customer, kind="invoice", street="1 Ledger Row")
    AddressFactory(customer=world.customer, kind="delivery", street="2 Barn Lane")
    bare = CustomerFactory(owner=world.ilse, name="Bare Hill")
    plan(as_ilse, world, "Look at the posts")
    told = plan(as_ilse, world, "Say hello", bare.pk).json()
    assert [(row["customer"], row["street"]) for row in told["rows"]] == [
        ("Hazelmoor Orchards", "2 Barn Lane"),
        ("Bare Hill", ""),
    ]
    assert told["rows"][0]["person"] == world.customer.contacts.get().name
    first, second = ids(as_ilse)
    day = {"day": str(world.today)}
    turned = as_ilse("put", "visits", {**day, "ids": [second, first]})
    assert [row["id"] for row in turned["rows"]] == ids(as_ilse) == [second, first]
    # One that was planned in the diary comes after them, with its hour and place.
    body = {"kind": "follow_up", "visit": True, "text": "At nine", "due_on": day["day"]}
    place = {"customer_id": world.customer.pk, "starts": "09:00", "where": "North gate"}
    nine = as_ilse("post", "activities", {**body, **place})
    last = as_ilse("get", "visits")["rows"][-1]
    assert (last["id"], last["starts"], last["where"]) == (nine["id"], "09:00", "North gate")
    Activity.objects.filter(pk=nine["id"]).delete()
    # A third one comes after them, on Today as well; done, it stays in the day's line.
    third = plan(as_ilse, world, "Bring the sample").json()["rows"][-1]
    assert third["text"] == "Bring the sample"
    assert len(as_ilse("get", "today")["follow_ups"]) == 3
    as_ilse("patch", f"activities/{third['id']}", {"version": third["version"], "done": True})
    assert [row["done"] for row in as_ilse("get", "visits")["rows"]] == [False, False, True]


def test_an_order_that_was_made_from_an_older_day_is_refused(world: World, as_ilse: Caller) -> None:
    plan(as_ilse, world, "One")
    seen = ids(as_ilse)
    plan(as_ilse, world, "Two")
    day = {"day": str(world.today)}
    assert as_ilse.status("put", "visits", {**day, "ids": seen}) == 409
    assert as_ilse.status("put", "visits", {**day, "ids": [*seen, 999_999]}) == 409
    assert as_ilse.status("put", "visits", {**day, "ids": seen * 2}) == 409
    assert ids(as_ilse)[0] == seen[0]


def test_a_visit_moves_to_another_day_and_to_a_colleague_and_leaves_the_plan(
    world: World, as_ilse: Caller
) -> None:
    made = plan(as_ilse, world, "Look at the posts").json()["rows"][0]
    tomorrow = str(world.today + timedelta(days=1))
    moved = as_ilse("patch", f"activities/{made['id']}", {"version": 1, "due_on": tomorrow})
    assert ids(as_ilse) == []
    assert len(as_ilse("get", "visits", day=tomorrow)["rows"]) == 1
    body = {"version": moved["version"], "owner_id": world.tomas.pk}
    as_ilse("patch", f"activities/{made['id']}", body)
    assert as_ilse("get", "visits", day=tomorrow)["rows"] == []
    (given,) = world.call(world.tomas)("get", "visits", day=tomorrow)["rows"]
    # He sees where to go, and no way to a customer that is not his.
    assert (given["customer"], given["customer_id"]) == ("Hazelmoor Orchards", None)


def test_other_follow_ups_and_other_people_s_visits_are_not_in_the_plan(
    world: World, as_ilse: Caller
) -> None:
    Activity.objects.create(
        kind="follow_up",
        customer=world.customer,
        owner=world.ilse,
        text="Ring",
        due_on=world.today,
    )
    assert ids(as_ilse) == []
    assert plan(world.call(world.tomas), world, "Not his customer").status_code == 404
    assert plan(world.call(world.joren), world, "No").status_code == 403
    assert plan(as_ilse, world, " ").status_code == 422
    assert as_ilse.status("get", "visits", day="tomorrow") == 422


def test_a_calendar_says_where_a_visit_is(world: World, as_ilse: Caller) -> None:
    made = plan(as_ilse, world, "Look at the posts").json()["rows"][0]
    card = as_ilse.ask("get", f"activities/{made['id']}/card").content.decode()
    assert "LOCATION:Hazelmoor Orchards" in card


def test_a_day_takes_as_many_queries_for_many_visits(
    world: World, as_ilse: Caller, queries_of: Callable[[Callable[[], object]], int]
) -> None:
    plan(as_ilse, world, "One")
    few = queries_of(lambda: as_ilse("get", "visits"))
    for n in range(6):
        customer = CustomerFactory(owner=world.ilse, name=f"Farm {n}")
        AddressFactory(customer=customer)
        ContactFactory(customer=customer)
        plan(as_ilse, world, f"Visit {n}", customer.pk)
    assert queries_of(lambda: as_ilse("get", "visits")) <= few
