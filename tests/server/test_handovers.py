"""Handovers as they are worked: the page, both sides compared, goods asked for, orders that hand themselves over."""

from collections.abc import Callable
from datetime import timedelta
from decimal import Decimal
import sqlite3
from typing import Any
import uuid

from django.utils import timezone
import pytest

from apps.handover.by_itself import plan_self_handover
from apps.handover.comparing import ask_comparison, is_due
from apps.handover.models import BackOfficeEvent, Comparison, Handover, Replenishment, SelfHandover
from apps.handover.worker import go_round
from apps.orders.models import Delivery, DeliveryLine, Order, OrderLine
from apps.quotes.models import Revision
from tests.server.conftest import Caller, World, as_seen
from tests.server.office import Office
from tests.server.test_changes import hear
from tests.server.test_parts import order, source

D = Decimal


def test_handovers_are_listed_by_where_they_stand_with_cause_and_next_try(
    world: World, as_ilse: Caller, office: Office, made: Any
) -> None:
    office.press("mood-busy")
    as_ilse("post", f"orders/{made['id']}/handover", as_seen(made))
    go_round(office.client, "test", timezone.now)
    joren = world.call(world.joren)
    page = joren("get", "handovers")
    (row,) = page["rows"]
    assert (row["order"], row["state"], row["tries"]) == (made["number"], "waiting", 1)
    assert row["cause"] == "The back office answered 503."
    assert page["states"] == {"waiting": 1, "under_way": 0, "refused": 0, "held": 0}
    office.press("mood-well")
    Handover.objects.update(next_try_at=timezone.now())
    hear(office, as_ilse, made)
    assert joren("get", "handovers")["rows"] == []
    (taken,) = joren("get", "handovers", state="taken")["rows"]
    whole = joren("get", f"handovers/{taken['id']}")
    assert whole["sent"]["order_number"] == made["number"]
    (came,) = whole["came"]
    assert (came["kind"], came["state"]) == ("taken", "applied")
    assert "OrderResponse" in came["raw"]


def test_handovers_are_for_those_who_fulfil_and_of_their_team(
    world: World, with_them: Any, queries_of: Callable[[Callable[[], object]], int]
) -> None:
    entry = Handover.objects.get()
    for path in ("handovers", f"handovers/{entry.pk}", "comparisons"):
        assert world.call(world.ilse).status("get", path) == 403
    stranger = world.call(world.stranger)
    assert stranger("get", "handovers", state="taken")["count"] == 0
    assert stranger.status("get", f"handovers/{entry.pk}") == 404
    joren = world.call(world.joren)
    assert queries_of(lambda: joren("get", "handovers", state="taken")) < 14


def compared(world: World, office: Office) -> Any:
    joren = world.call(world.joren)
    joren("post", "comparisons")
    for _ in range(4):
        go_round(office.client, "test", timezone.now)
    told = joren("get", "comparisons")
    assert told["under_way"] is None
    return told["last"]


def test_two_sides_that_are_the_same_differ_in_nothing(
    world: World, as_ilse: Caller, office: Office, with_them: Any
) -> None:
    office.press("ship-half", number=with_them["backoffice_number"])
    office.press("bill", number=with_them["backoffice_number"])
    hear(office, as_ilse, with_them)
    told = compared(world, office)
    assert (told["orders"], told["differences"], told["problem"]) == (1, [], "")
    (day,) = told["days"]
    assert (day["ours"], day["theirs"], day["differing"]) == ("1033.92", "1033.92", 0)


def test_each_difference_is_named_with_both_sides(
    world: World, as_ilse: Caller, office: Office, issued: Revision, with_them: Any
) -> None:
    line = OrderLine.objects.get(order_id=with_them["id"], position=1)
    ghost = Delivery.objects.create(order_id=with_them["id"], number="DN-X", on=world.today)
    DeliveryLine.objects.create(delivery=ghost, order_line=line, quantity=4)
    with sqlite3.connect(office.folder / "backoffice.sqlite") as db:
        body = db.execute("SELECT body FROM orders").fetchone()[0]
        changed = body.replace('"payable": "1033.92"', '"payable": "1000.00"')
        assert changed != body
        db.execute("UPDATE orders SET body = ?", (changed,))
        other = body.replace(with_them["number"], "O-99-0001")
        db.execute(
            "INSERT INTO orders SELECT 'BO-X', 'x', ?, state, held, received_at, moved_at FROM orders",
            (other,),
        )
    told = compared(world, office)
    found = {
        (row["order"], row["line"], row["what"], row["ours"], row["theirs"])
        for row in told["differences"]
    }
    assert found == {
        (with_them["number"], None, "payable", "1033.92", "1000.00"),
        (with_them["number"], 1, "shipped", "4", "0"),
        ("O-99-0001", None, "missing_here", "", "1033.92"),
    }
    with sqlite3.connect(office.folder / "backoffice.sqlite") as db:
        db.execute("DELETE FROM orders")
    told = compared(world, office)
    assert [(row["order"], row["what"]) for row in told["differences"]] == [
        (with_them["number"], "missing_there")
    ]


def test_what_the_back_office_lost_is_sent_again_under_its_key_and_nothing_else_is(
    world: World, as_ilse: Caller, office: Office, with_them: Any
) -> None:
    clerk = world.call(world.joren)

    def again() -> Any:
        entry = Handover.objects.get()
        return clerk.ask("post", f"handovers/{entry.pk}/again", {"version": entry.version})

    assert again().json()["code"] == "not_waiting"
    compared(world, office)
    assert again().json()["code"] == "not_waiting"
    key = Handover.objects.get().key
    with sqlite3.connect(office.folder / "backoffice.sqlite") as db:
        db.execute("DELETE FROM orders")
    compared(world, office)
    assert again().status_code == 200
    while go_round(office.client, "test", timezone.now):
        pass
    entry = Handover.objects.get()
    assert (entry.state, entry.key) == ("taken", key)
    with sqlite3.connect(office.folder / "backoffice.sqlite") as db:
        assert db.execute("SELECT key FROM orders").fetchall() == [(str(key),)]
    assert again().json()["code"] == "not_waiting"  # it was taken after that comparison
    assert compared(world, office)["differences"] == []


def test_while_news_waits_for_other_news_nothing_is_compared(
    world: World, as_ilse: Caller, office: Office, with_them: Any
) -> None:
    key = Handover.objects.get().key
    paid = {"number": "P-1", "invoice": "INV-1", "on": "2026-01-01", "amount": "1.00"}
    waits = BackOfficeEvent.objects.create(event_id=uuid.uuid4(), key=key, kind="paid", data=paid)
    ask_comparison(world.joren, timezone.now())
    go_round(office.client, "test", timezone.now)
    assert Comparison.objects.get().finished_at is None
    waits.delete()
    Comparison.objects.update(leased_until=None)
    go_round(office.client, "test", timezone.now)
    told = world.call(world.joren)("get", "comparisons")["last"]
    assert (told["orders"], told["differences"]) == (1, [])


def test_a_back_office_that_is_away_is_told_as_that(world: World, office: Office) -> None:
    office.kill()
    told = compared(world, office)
    assert (told["problem"], told["differences"]) == ("away", [])


def test_the_night_compares_once(world: World) -> None:
    now = timezone.now()
    assert is_due(now)
    first = ask_comparison(None, now)
    assert ask_comparison(world.joren, now).pk == first.pk
    assert not is_due(now + timedelta(hours=19))
    assert is_due(now + timedelta(hours=21))


@pytest.fixture
def short(as_ilse: Caller, office: Office, with_them: Any) -> OrderLine:
    """A line of the order that is short by 15 posts; the back office buys them in ten days."""
    line = OrderLine.objects.get(order_id=with_them["id"], position=1)
    Handover.objects.update(
        state="refused"
    )  # the guard lets an order that was turned down be mended
    OrderLine.objects.filter(pk=line.pk).update(missing=15, promised_on=None)
    Handover.objects.update(state="taken")
    with sqlite3.connect(office.folder / "backoffice.sqlite") as db:
        db.execute("INSERT OR REPLACE INTO stock VALUES ('POST-25', 'NORTHGATE', '5', 10, '50')")
    line.refresh_from_db()
    return line


def test_goods_that_are_short_are_asked_for_and_the_line_rides_on_their_receipt(
    world: World, as_ilse: Caller, office: Office, short: OrderLine
) -> None:
    path = f"order-lines/{short.pk}/goods"
    refused = as_ilse.ask("post", path, {})
    assert (refused.status_code, refused.json()["facts"]) == (403, {"what": "replenish"})
    world.ilse.may_replenish = True
    world.ilse.save()
    asked = as_ilse("post", path, {})
    assert [(row["quantity"], row["state"]) for row in asked["goods"]] == [("15", "waiting")]
    assert as_ilse.ask("post", path, {}).json()["code"] == "asked_already"
    now = hear(office, as_ilse, {"id": short.order_id})
    (answer,) = now["goods"]
    assert (answer["state"], answer["due_on"]) == (
        "answered",
        str(Replenishment.objects.get().due_on),
    )
    short.refresh_from_db()
    assert (short.missing, short.promised_on) == (0, Replenishment.objects.get().due_on)
    assert not BackOfficeEvent.objects.exclude(state="applied").exists()


def test_goods_that_nobody_sells_are_turned_down_with_a_word(
    world: World, office: Office, short: OrderLine
) -> None:
    with sqlite3.connect(office.folder / "backoffice.sqlite") as db:
        db.execute("UPDATE stock SET lead_days = NULL WHERE item = 'POST-25'")
    petra = world.call(world.petra)
    petra("post", f"order-lines/{short.pk}/goods", {"quantity": "20"})
    now = hear(office, petra, {"id": short.order_id})
    (answer,) = now["goods"]
    assert (answer["state"], answer["said"]) == (
        *("turned_down",),
        "It is not bought from a supplier.",
    )
    short.refresh_from_db()
    assert short.missing == 15


def test_an_order_hands_itself_over_where_the_house_lets_it(
    world: World, as_ilse: Caller, office: Office, issued: Revision, settings: Any
) -> None:
    settings.SELF_HANDOVER = {"most": D(2000), "minutes": D(10)}
    written = order(as_ilse, source(issued, a="5")).json()
    # The house knows no stock of the posts, so not every line is promised.
    assert written["by_itself"] is None
    OrderLine.objects.update(promised_on=world.today, missing=0)
    planned = plan_self_handover(Order.objects.get(), timezone.now())
    assert planned is not None
    assert planned.due_at - timezone.now() > timedelta(minutes=9)
    assert hear(office, as_ilse, written)["state"] == "ready"
    SelfHandover.objects.update(due_at=timezone.now())
    now = hear(office, as_ilse, written)
    row = SelfHandover.objects.get()
    assert (row.done, row.held_by, now["state"]) == (True, "", "taken")


def test_one_click_stops_an_order_before_it_leaves(
    world: World, as_ilse: Caller, office: Office, made: Any, settings: Any
) -> None:
    settings.SELF_HANDOVER = {"most": D(2000), "minutes": D(10)}
    SelfHandover.objects.create(order_id=made["id"], due_at=timezone.now())
    stopped = as_ilse("post", f"orders/{made['id']}/stop")
    assert stopped["by_itself"]["stopped_by"] == world.ilse.name
    assert hear(office, as_ilse, made)["state"] == "ready"
    assert as_ilse.ask("post", f"orders/{made['id']}/stop").json()["code"] == "not_by_itself"


@pytest.mark.parametrize(("most", "held"), [("0", "off"), ("1000", "amount"), ("2000", "promise")])
def test_an_order_of_which_the_rule_does_not_hold_any_more_waits(
    as_ilse: Caller, office: Office, made: Any, settings: Any, most: str, held: str
) -> None:
    settings.SELF_HANDOVER = {"most": D(most), "minutes": D(10)}
    OrderLine.objects.update(missing=3)
    SelfHandover.objects.create(order_id=made["id"], due_at=timezone.now())
    assert hear(office, as_ilse, made)["state"] == "ready"
    assert SelfHandover.objects.get().held_by == held
