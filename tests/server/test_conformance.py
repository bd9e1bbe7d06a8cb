"""Both sides of the back office's interface keep to its document."""

from collections.abc import Callable
import sqlite3
import time
from typing import Any
import uuid

from django.utils import timezone
import pytest

from apps.handover.flows import hand_over
from apps.handover.models import Handover
from apps.handover.worker import go_round
from apps.orders.flows import write_order
from apps.quotes.models import Revision
from apps.stock.intake import try_what_is_known_now
from apps.stock.models import ChangeFeed, Depot, Level, Reservation, SetAside
from apps.stock.reading import read_change
from demo.factories import ItemFactory
from ops.conformance import CHECKS, Broken, Trial, examine, fits, form
from tests.server.conftest import World
from tests.server.office import KEY, TOKEN, Office

pytestmark = pytest.mark.goods


def trial(office: Office) -> Trial:
    return Trial(f"http://127.0.0.1:{office.port}", TOKEN, KEY)


def test_every_sentence_holds_for_the_stand_in(office: Office) -> None:
    assert [row for row in examine(trial(office)) if row[2]] == []


def test_a_back_office_that_breaks_a_sentence_is_told_so(office: Office) -> None:
    wrong = trial(office)
    wrong.token = "somebody-else"
    found = {what: seen for _, what, seen in examine(wrong)}
    assert found["asks for the token"] == ""
    assert "401" in found["takes an order"]
    with sqlite3.connect(office.folder / "backoffice.sqlite") as db:
        db.execute("UPDATE stock SET on_hand = '1e3' WHERE item = 'NET-730'")
    found = {what: seen for _, what, seen in examine(trial(office))}
    told = found["tells depots and stock whole, once each, in order, in the form"]
    assert told.startswith("changes:")
    office.kill()
    assert all(seen for _, _, seen in examine(trial(office)))
    assert len(found) == len(CHECKS)


def test_what_is_handed_over_is_of_the_form(world: World, issued: Revision) -> None:
    entry = handed_over(world, issued)
    fits("order", entry.payload)
    lines = {line["item"]: line for line in entry.payload["lines"]}
    assert lines["WIRE-2"]["base_quantity"] == "300"  # three rolls of a hundred metres
    with pytest.raises(Broken):
        fits("order", {**entry.payload, "payable": 12})


def handed_over(world: World, issued: Revision) -> Handover:
    order = write_order(
        *(world.ilse, issued.pk, issued.version),
        today=world.today,
        now=timezone.now(),
        close_deal=False,
    )
    return hand_over(world.ilse, order.pk, order.version, now=timezone.now())


@pytest.mark.parametrize(
    "data",
    [
        {"lead_days": None, "minimum": None},
        {"on_hand": "-12.5"},
        {"reservations": [{"reference": "R", "quantity": "1", "by": "2027-01-01"}]},
        {"receipts": [{"number": "P", "on": "2027-01-01", "quantity": "0", "sure": False}]},
    ],
)
def test_what_the_form_allows_is_read(data: dict[str, object]) -> None:
    stock = {
        "item": "POST-25",
        "depot": "NORTH",
        "on_hand": "1",
        "receipts": [],
        "reservations": [],
        **data,
    }
    told = {
        "change": 1,
        "kind": "stock",
        "id": "POST-25@NORTH",
        "at": "2026-11-27T08:00:00+01:00",
        "data": stock,
    }
    assert form("change").is_valid(told)
    read_change(told)


def test_a_whole_house_is_read_by_pages_and_goes_on_where_it_stopped(
    office: Office, world: World, queries_of: Callable[[Callable[[], object]], int]
) -> None:
    net = ItemFactory(code="NET-730")
    while go_round(office.client, "test", timezone.now):
        pass
    feed = ChangeFeed.objects.get()
    assert (feed.position, Depot.objects.count()) == (feed.last, 2)
    assert set(Level.objects.values_list("item__code", flat=True)) == {net.code}
    # Items that the house does not have are set aside, and taken in once it has them.
    aside = SetAside.objects.filter(facts__what="unknown_item")
    assert aside.count() > 150
    ItemFactory(code="NET-740")
    try_what_is_known_now()
    assert Level.objects.filter(item__code="NET-740").count() == 2
    position = feed.position
    office.press("reorder", number="NET-730@SALTMARSH")
    go_round(office.client, "test", timezone.now)
    assert ChangeFeed.objects.get().position == position + 1
    level = Level.objects.get(depot__code="SALTMARSH", item=net)
    assert level.receipts.count() == 1
    # An answer without news is written down once a minute.
    assert queries_of(lambda: go_round(office.client, "test", timezone.now)) < 20


def test_an_order_is_reserved_by_the_back_office_and_then_counted_there(
    office: Office, world: World, issued: Revision
) -> None:
    with sqlite3.connect(office.folder / "backoffice.sqlite") as db:
        db.execute("INSERT INTO stock VALUES ('POST-25', 'NORTHGATE', '500', 10, '50')")
        db.execute(
            "INSERT INTO changes (kind, id, at) VALUES ('stock', 'POST-25@NORTHGATE', ?)",
            (timezone.now().isoformat(),),
        )
    while go_round(office.client, "test", timezone.now):
        pass
    entry = handed_over(world, issued)
    while go_round(office.client, "test", timezone.now):
        pass
    kept = Reservation.objects.get()
    assert (kept.order_number, kept.quantity) == (entry.order.number, 20)
    office.press("step", number="BO-48201")
    while go_round(office.client, "test", timezone.now):
        pass
    assert not Reservation.objects.exists()
    assert Level.objects.get().on_hand == 480


def test_a_back_office_that_lost_its_count_is_read_anew(office: Office, world: World) -> None:
    ItemFactory(code="NET-730")
    while go_round(office.client, "test", timezone.now):
        pass
    before = Level.objects.get(depot__code="NORTHGATE")
    office.kill()
    with sqlite3.connect(office.folder / "backoffice.sqlite") as db:
        db.execute("UPDATE switches SET value = ? WHERE name = 'epoch'", (str(uuid.uuid4()),))
        db.execute("UPDATE changes SET number = -number")
        db.execute("UPDATE changes SET number = number + 1000 - (SELECT MIN(number) FROM changes)")
        db.execute("UPDATE stock SET on_hand = '77' WHERE item = 'NET-730'")
    office.start()
    while go_round(office.client, "test", timezone.now):
        pass
    again = Level.objects.get(pk=before.pk)
    assert (again.on_hand, ChangeFeed.objects.get().position) == (77, ChangeFeed.objects.get().last)


def test_the_newest_figures_are_asked_for_and_a_slow_back_office_is_not_waited_for(
    office: Office, world: World, settings: Any
) -> None:
    settings.BACKOFFICE_URL = f"http://127.0.0.1:{office.port}"
    settings.BACKOFFICE_TOKEN = TOKEN
    settings.BACKOFFICE_KEY = KEY
    ItemFactory(code="NET-730")
    assert world.call(world.ilse)("post", "promises/ask") == {"answered": False}  # far behind yet
    while go_round(office.client, "test", timezone.now):
        pass
    level = Level.objects.get(depot__code="NORTHGATE")
    coming = level.receipts.count()
    office.press("reorder", number="NET-730@NORTHGATE")
    assert world.call(world.ilse)("post", "promises/ask") == {"answered": True}
    assert level.receipts.count() == coming + 1
    with sqlite3.connect(office.folder / "backoffice.sqlite") as db:
        db.execute("BEGIN EXCLUSIVE")  # it hangs on its own storage
        start = time.monotonic()
        assert world.call(world.ilse)("post", "promises/ask") == {"answered": False}
        assert time.monotonic() - start < 5
        db.rollback()
    level.refresh_from_db()
    assert level.on_hand == 6
    assert world.call(world.joren).status("post", "promises/ask") == 403
