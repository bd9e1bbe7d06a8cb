"""A receipt slips or comes sooner: whose order rides on it reads of it, and promises the new day."""

from datetime import date, timedelta
from decimal import Decimal
import sqlite3
from typing import Any

from django.utils import timezone
import pytest

from apps.handover.models import Handover
from apps.handover.worker import go_round
from apps.journal.models import Change
from apps.orders import outlook
from apps.orders.models import Order, OrderLine, Outlook, OutlookDue
from apps.stock.models import Depot
from tests.server.conftest import Caller, World
from tests.server.office import Office

D = Decimal


def rounds(office: Office) -> None:
    while go_round(office.client, "test", timezone.now):
        pass


@pytest.fixture
def riding(as_ilse: Caller, office: Office, with_them: Any) -> OrderLine:
    """Twenty posts of an order that ride on a receipt in about two weeks."""
    line = OrderLine.objects.get(order_id=with_them["id"], position=1)
    due = timezone.localdate() + timedelta(days=14)
    due += timedelta(days=max(0, 7 - due.weekday()) if due.weekday() > 4 else 0)
    with sqlite3.connect(office.folder / "backoffice.sqlite") as db:
        db.execute("INSERT OR REPLACE INTO stock VALUES ('POST-25', 'NORTHGATE', '0', 10, '50')")
        db.execute(
            "INSERT INTO receipts VALUES ('PO-9001', 'POST-25', 'NORTHGATE', ?, '50', 1)",
            (due.isoformat(),),
        )
        db.execute(
            "INSERT OR REPLACE INTO kept VALUES (?, 1, ?, 'POST-25', 'NORTHGATE', '20', ?)",
            (with_them["backoffice_number"], with_them["number"], due.isoformat()),
        )
        db.execute(
            "INSERT OR REPLACE INTO changes (kind, id, at) VALUES ('stock', 'POST-25@NORTHGATE', ?)",
            (timezone.now().isoformat(),),
        )
    rounds(office)
    told = as_ilse("get", f"orders/{line.order_id}/promises")["lines"]
    leaves = next(row["leaves"] for row in told if row["key"] == str(line.pk))
    # The guard lets an order that was turned down be mended.
    Handover.objects.update(state="refused")
    OrderLine.objects.filter(pk=line.pk).update(promised_on=leaves, missing=0)
    OrderLine.objects.exclude(pk=line.pk).update(promised_on=None)
    Handover.objects.update(state="taken")
    line.refresh_from_db()
    return line


def stops(caller: Caller) -> list[tuple[str, str]]:
    found = caller("get", "today")["answers"]
    return [(row["kind"], row["on"]) for row in found if row["kind"] in ("slipped", "sooner")]


def test_a_receipt_that_slips_is_a_stop_until_the_new_day_is_promised(
    world: World, as_ilse: Caller, office: Office, riding: OrderLine
) -> None:
    assert (stops(as_ilse), Outlook.objects.count()) == ([], 0)
    before = riding.promised_on
    assert before is not None
    office.press("postpone", number="PO-9001")
    rounds(office)
    ((kind, on),) = stops(as_ilse)
    assert kind == "slipped"
    assert date.fromisoformat(on) >= before + timedelta(days=7)
    assert stops(world.call(world.tomas)) == []
    path = f"order-lines/{riding.pk}/new-day"
    assert world.call(world.stranger).status("post", path) == 404
    shown = as_ilse("get", f"orders/{riding.order_id}")["lines"][0]["outlook"]
    assert shown["leaves_on"] == on
    told = as_ilse("post", path)["lines"][0]
    assert (told["promised_on"], told["outlook"]) == (on, None)
    assert stops(as_ilse) == []
    note = Change.objects.get(field="line 1 POST-25: promised")
    assert (note.before, note.after) == (str(before), on)
    assert as_ilse.ask("post", path).json()["code"] == "no_new_day"


def test_goods_that_come_sooner_are_told_as_well(
    as_ilse: Caller, office: Office, riding: OrderLine
) -> None:
    office.press("receive", number="PO-9001")
    rounds(office)
    ((kind, _),) = stops(as_ilse)
    assert kind == "sooner"


def test_a_receipt_that_is_back_in_time_leaves_no_stop(
    as_ilse: Caller, office: Office, riding: OrderLine
) -> None:
    office.press("postpone", number="PO-9001")
    rounds(office)
    first = Outlook.objects.get().since
    office.press("confirm", number="PO-9001")
    rounds(office)
    assert Outlook.objects.get().since == first  # the same day: not told anew
    with sqlite3.connect(office.folder / "backoffice.sqlite") as db:
        due = riding.promised_on.isoformat() if riding.promised_on else ""
        db.execute("UPDATE receipts SET due = ? WHERE number = 'PO-9001'", (due,))
    office.press("reorder", number="POST-25@NORTHGATE")
    rounds(office)
    assert stops(as_ilse) == []


@pytest.fixture
def elsewhere(office: Office, riding: OrderLine) -> Depot:
    """Twenty posts lie free in the other depot, and the receipt of the first has slipped."""
    with sqlite3.connect(office.folder / "backoffice.sqlite") as db:
        db.execute("INSERT OR REPLACE INTO stock VALUES ('POST-25', 'SALTMARSH', '20', 10, '50')")
        db.execute(
            "INSERT OR REPLACE INTO changes (kind, id, at) VALUES ('stock', 'POST-25@SALTMARSH', ?)",
            (timezone.now().isoformat(),),
        )
    office.press("postpone", number="PO-9001")
    rounds(office)
    return Depot.objects.get(code="SALTMARSH")


def test_a_line_that_is_to_come_later_anyway_slips_no_more(
    as_ilse: Caller, office: Office, riding: OrderLine
) -> None:
    """The buyer wants it on a day after the receipt's new one: what was told of the old promise is gone."""
    office.press("postpone", number="PO-9001")
    rounds(office)
    assert len(stops(as_ilse)) == 1
    late = (timezone.localdate() + timedelta(days=60)).isoformat()
    body = {
        "version": as_ilse("get", f"orders/{riding.order_id}")["version"],
        "lines": [{"line_id": riding.pk, "wanted_on": late}],
        "reason": "There is time",
    }
    assert as_ilse.ask("post", f"orders/{riding.order_id}/changes", body).status_code == 200
    rounds(office)
    told = as_ilse("get", f"orders/{riding.order_id}")
    assert [line["outcome"] for line in told["changes"][0]["lines"]] == ["taken"]
    assert told["lines"][0]["promised_on"] == late
    assert [kind for kind, _ in stops(as_ilse)] in ([], ["sooner"])


def of_line(caller: Caller, line: OrderLine) -> Any:
    """What is promised now of a line."""
    told = caller("get", f"orders/{line.order_id}/promises")["lines"]
    return next(row for row in told if row["key"] == str(line.pk))


def test_a_line_that_slips_is_told_what_else_could_be_done(
    as_ilse: Caller, elsewhere: Depot, riding: OrderLine
) -> None:
    """What is free elsewhere and comes sooner; what the line itself holds stands in no way."""
    (stop,) = [row for row in as_ilse("get", "today")["answers"] if row["kind"] == "slipped"]
    place = {"order": riding.order_id, "line": riding.pk, "item": riding.item_id}
    assert stop["line"] == place
    line = of_line(as_ilse, riding)
    assert line["kind"] == "coming"
    by_kind = {row["kind"]: row for row in line["proposals"]}
    assert (by_kind["depot"]["name"], by_kind["depot"]["depot_id"]) == ("Saltmarsh", elsewhere.pk)
    assert by_kind["depot"]["last"] < line["arrives"]
    # Of the fifty that come twenty are this line's own, and are had again.
    assert by_kind["whole"]["parts"][0]["quantity"] == "20"


def ask_for(caller: Caller, line: OrderLine, depot: int) -> Any:
    """Ask the back office for a line from another depot."""
    body = {
        "version": caller("get", f"orders/{line.order_id}")["version"],
        "lines": [{"line_id": line.pk, "depot_id": depot}],
        "reason": "The receipt slips",
    }
    return caller.ask("post", f"orders/{line.order_id}/changes", body)


def test_a_line_leaves_from_another_depot_once_the_back_office_has_said_so(
    as_ilse: Caller, office: Office, elsewhere: Depot, riding: OrderLine
) -> None:
    assert ask_for(as_ilse, riding, elsewhere.pk).status_code == 200
    for _ in range(3):
        rounds(office)
        told = as_ilse("get", f"orders/{riding.order_id}")
        (change,) = told["changes"]
        assert [line["outcome"] for line in change["lines"]] == ["taken"]
        assert change["lines"][0]["depot"] == "Saltmarsh"
        line = told["lines"][0]
        assert (line["depot"], line["outlook"]) == ("Saltmarsh", None)
        # Promised out of what lies there, before and after the back office told that depot's stock anew.
        assert line["promised_on"] < str(riding.promised_on)
        assert of_line(as_ilse, riding)["kind"] == "in_stock"
    assert stops(as_ilse) == []
    with sqlite3.connect(office.folder / "backoffice.sqlite") as db:
        kept = db.execute("SELECT depot, quantity FROM kept WHERE line = 1").fetchall()
    assert kept == [("SALTMARSH", "20")]
    assert D(told["payable"]) == Order.objects.get(pk=riding.order_id).payable == D("1033.92")


def test_a_depot_that_does_not_keep_the_item_is_turned_down_line_by_line(
    as_ilse: Caller, office: Office, riding: OrderLine
) -> None:
    other = Depot.objects.create(code="FARSIDE", name="Farside", country="QF")
    assert ask_for(as_ilse, riding, other.pk + 1).status_code == 404
    assert ask_for(as_ilse, riding, other.pk).status_code == 200
    rounds(office)
    told = as_ilse("get", f"orders/{riding.order_id}")
    (line,) = told["changes"][0]["lines"]
    assert (line["outcome"], line["message"]) == ("refused", "It is not kept in that depot.")
    assert told["lines"][0]["depot"] == ""


def test_an_item_of_many_orders_is_looked_at_a_few_orders_at_a_time(
    as_ilse: Caller, office: Office, riding: OrderLine, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Its news does not hold up the orders that are to be handed over; told anew meanwhile, it begins again."""
    monkeypatch.setattr(outlook, "AT_ONCE", 0)
    looked: list[int] = []
    real = outlook._renew

    def renew(lines: Any, **when: Any) -> int:
        looked.append(len({line.order_id for line in lines}))
        return real(lines, **when)

    monkeypatch.setattr(outlook, "_renew", renew)
    outlook._after({riding.item_id})
    assert (looked, OutlookDue.objects.count()) == ([], 1)
    today, now = timezone.localdate(), timezone.now()
    outlook._after({riding.item_id})  # told once more before anything was looked at
    assert outlook.renew_some(today, now) == 1
    assert OutlookDue.objects.filter(after_line=0, again=False).exists()
    assert outlook.renew_some(today, now) == 1
    assert not OutlookDue.objects.exists()
    assert max(looked) <= 1

    # The round of a worker comes to the same stop as when it is looked at at once.
    office.press("postpone", number="PO-9001")
    rounds(office)
    assert [kind for kind, _ in stops(as_ilse)] == ["slipped"]
    assert not OutlookDue.objects.exists()
