"""One order gives its promise to another: what it would move is told first, and it is moved as it was seen."""

from collections.abc import Callable
from datetime import timedelta
import sqlite3
from typing import Any

from django.utils import timezone
import pytest

from apps.handover.flows import hand_over
from apps.handover.gateway import BackOffice
from apps.handover.models import Handover
from apps.handover.worker import go_round
from apps.journal.models import Change
from apps.orders.models import Order
from apps.stock.intake import take_in_changes
from apps.stock.models import Depot, Reservation
from tests.server.conftest import Caller, World
from tests.server.office import KEY, TOKEN, Office
from tests.server.test_stock import NORTH, change, order, quote, stock, weekday


@pytest.fixture
def depot(world: World) -> Depot:
    """Ten posts lie there, and forty come in a week."""
    coming = {"number": "PO-1", "on": weekday(6).isoformat(), "quantity": "40", "sure": True}
    take_in_changes([change(1, "depot", NORTH), stock(2, "10", receipts=[coming])])
    return Depot.objects.get()


def ours(made: Order) -> str:
    """What an order's only line is called among the promises."""
    return f"ours:{made.lines.get().pk}"


def question(depot: Depot, giver: str, taker: str) -> dict[str, Any]:
    return {"depot_id": depot.pk, "giver": giver, "taker": taker}


def kinds(caller: Caller, *orders: Order) -> list[str]:
    """How each order is promised now."""
    return [caller("get", f"orders/{each.pk}/promises")["lines"][0]["kind"] for each in orders]


def test_every_day_that_moves_is_told_and_nothing_changes_until_it_is_confirmed(
    world: World, depot: Depot, as_ilse: Caller, snapshot: Callable[[], dict[str, object]]
) -> None:
    first, second = order(world, quote(world, "8")), order(world, quote(world, "8"))
    path, asked = f"items/{world.post.pk}/move", question(depot, ours(first), ours(second))
    before = snapshot()
    seen = as_ilse("get", path, **asked)
    assert snapshot() == before
    assert seen["refused"] == ""
    moves = {row["order"]: (row["before"], row["after"]) for row in seen["rows"]}
    then = str(weekday(6))
    assert moves[first.number] == (str(weekday(0)), then)
    assert moves[second.number][0] == then
    assert moves[second.number][1] < then
    assert kinds(as_ilse, first, second) == ["in_stock", "coming"]
    done = as_ilse("post", path, {**asked, "mark": seen["mark"]})
    assert done == {"by_back_office": False}
    assert kinds(as_ilse, first, second) == ["coming", "in_stock"]
    told = Change.objects.filter(what="order", field="promise POST-25").values_list(
        "record", "who__username", "reason"
    )
    assert set(told) == {
        (first.pk, "ilse", f"to {second.number}"),
        (second.pk, "ilse", f"from {first.number}"),
    }
    entry = hand_over(world.ilse, second.pk, second.version, now=timezone.now())
    first.refresh_from_db()
    (line,) = entry.payload["lines"]
    assert line["reserve_by"] == second.lines.get().reserve_by.isoformat()


def test_a_move_is_made_as_it_was_seen_or_not_at_all(
    world: World, depot: Depot, as_ilse: Caller, snapshot: Callable[[], dict[str, object]]
) -> None:
    first, second = order(world, quote(world, "8")), order(world, quote(world, "8"))
    path, asked = f"items/{world.post.pk}/move", question(depot, ours(first), ours(second))
    seen = as_ilse("get", path, **asked)
    take_in_changes([stock(3, "9")])
    before = snapshot()
    late = as_ilse.ask("post", path, {**asked, "mark": seen["mark"]})
    assert (late.status_code, late.json()["code"]) == (409, "stale")
    assert snapshot() == before


def test_a_promise_to_a_customer_of_priority_is_made_later_by_the_lead_alone(
    world: World, depot: Depot, as_ilse: Caller
) -> None:
    first, second = order(world, quote(world, "8")), order(world, quote(world, "8"))
    path, asked = f"items/{world.post.pk}/move", question(depot, ours(first), ours(second))
    fields = as_ilse("get", f"customers/{world.customer.pk}/fields")
    body = {"version": fields["version"], "priority": True}
    assert as_ilse.status("patch", f"customers/{world.customer.pk}/terms", body) == 403
    lead = world.call(world.petra)
    assert lead("patch", f"customers/{world.customer.pk}/terms", body)["priority"] is True
    assert "of priority" in as_ilse("get", path, **asked)["refused"]
    seen = lead("get", path, **asked)
    assert seen["refused"] == ""
    refused = as_ilse.ask("post", path, {**asked, "mark": seen["mark"]})
    assert (refused.status_code, refused.json()["code"]) == (409, "move_of_priority")
    assert lead.status("post", path, {**asked, "mark": seen["mark"]}) == 200


def test_nobody_moves_what_is_not_theirs_or_makes_a_colleagues_promise_later(
    world: World, depot: Depot, as_ilse: Caller
) -> None:
    small, big = order(world, quote(world, "2")), None
    theirs = order(world, quote(world, "8"))
    Order.objects.filter(pk=theirs.pk).update(owner=world.tomas)
    big = order(world, quote(world, "9"))
    path = f"items/{world.post.pk}/move"
    assert as_ilse.status("get", path, **question(depot, ours(theirs), ours(big))) == 404
    asked = question(depot, ours(small), ours(big))
    seen = as_ilse("get", path, **asked)
    assert "colleague" in seen["refused"]
    hidden = next(row for row in seen["rows"] if row["order_id"] is None)
    assert (hidden["name"], hidden["order"]) == ("", "")
    refused = as_ilse.ask("post", path, {**asked, "mark": seen["mark"]})
    assert (refused.status_code, refused.json()["code"]) == (409, "move_of_others")
    lead = world.call(world.petra)
    seen = lead("get", path, **asked)
    assert (seen["refused"], {row["order"] for row in seen["rows"]}) == (
        "",
        {small.number, theirs.number, big.number},
    )
    assert world.call(world.stranger).status("get", path, **asked) == 404


@pytest.mark.parametrize("spoil", ["itself", "unknown", "other_depot", "nothing_moves"])
def test_what_cannot_be_moved_is_told(
    world: World, depot: Depot, as_ilse: Caller, spoil: str
) -> None:
    first, second = order(world, quote(world, "2")), order(world, quote(world, "2"))
    path, asked = f"items/{world.post.pk}/move", question(depot, ours(first), ours(second))
    if spoil == "nothing_moves":
        assert "Nobody would" in as_ilse("get", path, **asked)["refused"]
        return
    wrong: dict[str, tuple[int, dict[str, object]]] = {
        "itself": (422, {"taker": ours(first)}),
        "unknown": (404, {"taker": "BO-1/1"}),
        "other_depot": (404, {"depot_id": depot.pk + 1}),
    }
    status, change_ = wrong[spoil]
    assert as_ilse.status("get", path, **{**asked, **change_}) == status


def test_an_order_on_its_way_to_the_back_office_waits_and_a_stranger_to_it_is_handed_over_first(
    world: World, depot: Depot, as_ilse: Caller
) -> None:
    first, second = order(world, quote(world, "8")), order(world, quote(world, "8"))
    path, asked = f"items/{world.post.pk}/move", question(depot, ours(first), ours(second))
    hand_over(world.ilse, first.pk, first.version, now=timezone.now())
    assert "on its way" in as_ilse("get", path, **asked)["refused"]
    kept = {"reference": "BO-9/1", "order_number": first.number, "quantity": "8"}
    take_in_changes([stock(4, "10", reservations=[{**kept, "by": str(world.today)}])])
    asked = question(depot, "BO-9/1", ours(second))
    assert "hand that order over first" in as_ilse("get", path, **asked)["refused"]


def test_promises_are_named_after_our_orders_where_the_back_office_keeps_them(
    world: World, depot: Depot, as_ilse: Caller, queries_of: Callable[[Callable[[], object]], int]
) -> None:
    first = order(world, quote(world, "4"))
    path = f"items/{world.post.pk}/promise"
    one = queries_of(lambda: as_ilse("get", path))
    kept = {"reference": "BO-9/1", "order_number": first.number, "quantity": "4"}
    more = [
        {"reference": f"BO-{n}/1", "order_number": "", "quantity": "1", "by": str(world.today)}
        for n in range(20, 25)
    ]
    mine = {**kept, "by": str(world.today)}
    take_in_changes([stock(4, "10", reservations=[mine, *more])])
    (plan,) = as_ilse("get", path)["plans"]
    riders = [rider for row in plan["departures"] for rider in row["riders"]]
    assert [(r["name"], r["order"], r["line"]) for r in riders if r["order_id"]] == [
        ("Hazelmoor Orchards", first.number, "BO-9/1")
    ]
    assert {r["line"] for r in riders if not r["order_id"]} == {""}
    assert queries_of(lambda: as_ilse("get", path)) == one
    (plan,) = world.call(world.stranger)("get", path)["plans"]
    names = {rider["name"] for row in plan["departures"] for rider in row["riders"]}
    assert "Hazelmoor Orchards" not in names


# ---- with the real stand-in -------------------------------------------------------------------


@pytest.fixture
def kept(office: Office, world: World, settings: Any) -> tuple[Order, Order]:
    """Two orders of posts that the stand-in keeps: there are enough for the first alone."""
    settings.BACKOFFICE_URL = f"http://127.0.0.1:{office.port}"
    settings.BACKOFFICE_TOKEN = TOKEN
    settings.BACKOFFICE_KEY = KEY
    with sqlite3.connect(office.folder / "backoffice.sqlite") as db:
        db.execute("INSERT INTO stock VALUES ('POST-25', 'NORTHGATE', '10', 10, '50')")
        db.execute(
            "INSERT INTO receipts VALUES ('PO-9', 'POST-25', 'NORTHGATE', ?, '40', 1)",
            (weekday(6).isoformat(),),
        )
        db.execute(
            "INSERT INTO changes (kind, id, at) VALUES ('stock', 'POST-25@NORTHGATE', ?)",
            (timezone.now().isoformat(),),
        )
    rounds(office)
    first = order(world, quote(world, "8"))
    second = order(world, quote(world, "8"))
    for made in (first, second):
        hand_over(world.ilse, made.pk, made.version, now=timezone.now())
    rounds(office)
    assert Handover.objects.filter(state="taken").count() == 2
    return first, second


def rounds(office: Office) -> None:
    while go_round(office.client, "test", timezone.now):
        pass


def kept_question(made: tuple[Order, Order]) -> dict[str, Any]:
    """The first gives to the second, as the back office calls them."""
    names = dict(Reservation.objects.values_list("order_number", "reference"))
    first, second = made
    depot = Depot.objects.get(code="NORTHGATE")
    return question(depot, names[first.number], names[second.number])


def test_the_back_office_moves_what_it_keeps_and_its_figures_are_there_at_once(
    world: World, office: Office, kept: tuple[Order, Order], as_ilse: Caller
) -> None:
    path, asked = f"items/{world.post.pk}/move", kept_question(kept)
    assert kinds(as_ilse, *kept) == ["in_stock", "coming"]
    seen = as_ilse("get", path, **asked)
    assert as_ilse("post", path, {**asked, "mark": seen["mark"]}) == {"by_back_office": True}
    assert kinds(as_ilse, *kept) == ["coming", "in_stock"]
    again = as_ilse.ask("post", path, {**asked, "mark": seen["mark"]})
    assert (again.status_code, again.json()["code"]) == (409, "stale")


def test_what_the_back_office_does_not_move_is_told_in_its_words_and_noted_nowhere(
    world: World,
    office: Office,
    kept: tuple[Order, Order],
    as_ilse: Caller,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    path, asked = f"items/{world.post.pk}/move", kept_question(kept)
    body = {**asked, "mark": as_ilse("get", path, **asked)["mark"]}
    with sqlite3.connect(office.folder / "backoffice.sqlite") as db:
        db.execute("UPDATE kept SET due = ?", (str(world.today + timedelta(days=90)),))
    told = as_ilse.ask("post", path, body)
    assert (told.status_code, told.json()["code"]) == (409, "move_turned_down")
    assert "another day meanwhile" in told.json()["message"]
    office.kill()
    away = as_ilse.ask("post", path, body)
    assert (away.status_code, away.json()["code"]) == (503, "back_office_away")
    monkeypatch.setattr(BackOffice, "_call", lambda *args, **more: (404, None))
    unknown = as_ilse.ask("post", path, body)
    assert (unknown.status_code, unknown.json()["code"]) == (409, "move_not_known")
    assert not Change.objects.filter(field="promise POST-25").exists()
    assert kinds(as_ilse, *kept) == ["in_stock", "coming"]


def test_an_order_that_is_held_for_credit_gives_and_takes_nothing(
    world: World, office: Office, kept: tuple[Order, Order], as_ilse: Caller
) -> None:
    path, asked = f"items/{world.post.pk}/move", kept_question(kept)
    body = {**asked, "mark": as_ilse("get", path, **asked)["mark"]}
    taken = Handover.objects.get(order=kept[0])
    office.press("hold", number=taken.order.backoffice_number or asked["giver"].split("/")[0])
    told = as_ilse.ask("post", path, body)
    assert "held for credit" in told.json()["message"]
