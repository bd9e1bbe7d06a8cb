"""Stock as the back office tells it, and what can be promised of it: to quotes, and once ordered for good."""

from collections.abc import Callable
from datetime import date, timedelta
from decimal import Decimal
from threading import Barrier, Thread
from typing import Any

from django.db import connections, transaction
from django.db.utils import OperationalError
from django.utils import timezone
from hypothesis import given, settings
from hypothesis import strategies as st
import pytest

from apps.catalogue.models import Item
from apps.handover.gateway import BackOffice, Page
from apps.handover.worker import read_kinds_anew
from apps.orders.flows import write_order
from apps.orders.models import Order
from apps.quotes.drafts import Draft
from apps.quotes.flows.issuing import issue_revision
from apps.quotes.flows.saving import save_draft
from apps.quotes.flows.starting import start_quote
from apps.quotes.models import Revision
from apps.quotes.pricing.question import DraftLine
from apps.stock.calendars import workdays
from apps.stock.intake import take_in_changes
from apps.stock.models import APART, TAKEN_IN, ChangeFeed, Depot, Level, SetAside, Substitute
from apps.stock.progress import move_on, resync
from apps.stock.reading import read_change
from apps.told import Unfit
from demo.factories import CustomerFactory, ItemFactory
from tests.server.conftest import Caller, World

D = Decimal
NORTH = {
    "code": "NORTH",
    "name": "Northgate",
    "country": "QF",
    "region": "",
    "transit_days": 1,
    "transit_days_abroad": 4,
}


def change(number: int, kind: str, data: dict[str, Any], name: str = "") -> dict[str, Any]:
    """A change as the back office tells it."""
    at = (timezone.now() - timedelta(minutes=5)).isoformat()
    ref = name or (data["code"] if kind == "depot" else f"{data['item']}@{data['depot']}")
    return {"change": number, "kind": kind, "id": ref, "at": at, "data": data}


def stock(number: int, on_hand: str, item: str = "POST-25", **more: Any) -> dict[str, Any]:
    """A change of an item's stock in the northern depot."""
    data = {
        "item": item,
        "depot": "NORTH",
        "on_hand": on_hand,
        "lead_days": 10,
        "minimum": "50",
        "receipts": [],
        "reservations": [],
        **more,
    }
    return change(number, "stock", data)


@pytest.fixture
def depot(world: World) -> Depot:
    """The northern depot, as it was told."""
    take_in_changes([change(1, "depot", NORTH)])
    return Depot.objects.get()


def weekday(days: int) -> date:
    """A working day of Northgate so many days from now, or the first after it."""
    today = timezone.localdate()
    return workdays("QF", "", today).first_from(today + timedelta(days=days))


def ask(caller: Caller, revision: Revision, *lines: dict[str, Any], **more: Any) -> Any:
    """What can be promised of these lines."""
    return caller("post", f"revisions/{revision.pk}/promises", {"lines": list(lines), **more})


def line(item: Item, quantity: str, key: str = "a", **more: Any) -> dict[str, Any]:
    return {"key": key, "item_id": item.pk, "quantity": quantity, "unit": "H87", **more}


# ---- what is told ---------------------------------------------------------------------------


def test_a_change_tells_its_thing_whole_and_the_newest_wins_however_it_comes(
    world: World, depot: Depot
) -> None:
    receipt = {"number": "PO-1", "on": "2027-01-11", "quantity": "40", "sure": True}
    kept = {"reference": "BO-7/1", "order_number": "", "quantity": "3", "by": "2027-01-08"}
    late, early = stock(9, "12", receipts=[receipt], reservations=[kept]), stock(8, "99")
    assert take_in_changes([late, early, late]) == 1
    row = Level.objects.get()
    assert (row.on_hand, row.change, row.lead_days) == (D(12), 9, 10)
    assert [r.number for r in row.receipts.all()] == ["PO-1"]
    assert [r.reference for r in row.reservations.all()] == ["BO-7/1"]
    take_in_changes([stock(10, "-4")])
    row.refresh_from_db()
    assert (row.on_hand, row.receipts.count(), row.reservations.count()) == (D(-4), 0, 0)


@pytest.mark.parametrize(
    ("spoil", "what"),
    [
        ({"on_hand": 12}, "unreadable"),
        ({"on_hand": "1e5"}, "unreadable"),
        ({"on_hand": "NaN"}, "unreadable"),
        ({"lead_days": -1}, "unreadable"),
        ({"receipts": [{"number": "P", "on": "2027-02-30", "quantity": "1", "sure": True}]}, "unreadable"),
        ({"receipts": [{"number": "P", "on": "2027-02-03", "quantity": "-1", "sure": True}]}, "unreadable"),
        ({"receipts": [{"number": "P", "on": "2027-02-03", "quantity": "1", "sure": "yes"}]}, "unreadable"),
        ({"receipts": [{"number": "P", "on": "2027-02-03", "quantity": "1", "sure": True}] * 2}, "unreadable"),
        ({"reservations": "none"}, "unreadable"),
        ({"item": "NOT-OURS"}, "unknown_item"),
        ({"depot": "NOWHERE"}, "unknown_depot"),
    ],
)  # fmt: skip
def test_what_cannot_be_taken_in_is_set_aside_and_the_rest_goes_on(
    world: World, depot: Depot, spoil: dict[str, Any], what: str
) -> None:
    bad, good = stock(2, "5"), stock(3, "7", item="WIRE-2")
    bad["data"] |= spoil
    take_in_changes([bad, good, bad])
    assert Level.objects.get().on_hand == D(7)
    aside = SetAside.objects.get()
    assert (aside.state, aside.facts["what"]) == (APART, what)
    # The next change of the same thing settles it.
    if what == "unreadable":
        take_in_changes([stock(4, "6")])
        aside.refresh_from_db()
        assert aside.state == TAKEN_IN


def test_stock_that_comes_before_its_depot_is_taken_in_with_it(world: World) -> None:
    take_in_changes([stock(1, "5")])
    assert not Level.objects.exists()
    take_in_changes([change(2, "depot", NORTH)])
    assert Level.objects.get().on_hand == D(5)
    assert SetAside.objects.get().state == TAKEN_IN


JSON = st.recursive(
    st.none() | st.booleans() | st.integers() | st.text(max_size=8),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=4),
    max_leaves=8,
)  # fmt: skip


@settings(max_examples=150, deadline=None)
@given(raw=JSON, field=st.sampled_from(sorted(stock(1, "1")["data"])), value=JSON)
def test_nothing_that_is_told_breaks_the_reading(raw: object, field: str, value: object) -> None:
    spoiled = stock(1, "1")
    spoiled["data"][field] = value
    for each in (raw, spoiled, {**spoiled, "change": raw}):
        try:
            read_change(each)
        except Unfit as reason:
            assert reason.facts["what"]


def test_a_feed_that_counts_anew_is_read_again_and_a_resync_asks_for_everything(
    world: World, depot: Depot
) -> None:
    take_in_changes([stock(40, "5")])
    move_on(40, epoch="one", last=40, now=timezone.now())
    move_on(0, epoch="two", last=2, now=timezone.now(), anew=True)
    assert (ChangeFeed.objects.get().position, Level.objects.get().change) == (0, -40)
    assert take_in_changes([stock(2, "8")]) == 1  # a lower number than before counts again
    assert Level.objects.get().on_hand == D(8)
    move_on(2, epoch="two", last=2, now=timezone.now())
    resync(world.joren, now=timezone.now())
    feed = ChangeFeed.objects.get()
    assert feed.position == 0 and feed.resync_from is not None
    move_on(2, epoch="two", last=2, now=timezone.now())
    assert ChangeFeed.objects.get().resync_from is None


class House(BackOffice):
    """A back office that tells two things a page, of one kind where it is asked for one and knows how."""

    def __init__(self, told: list[dict[str, Any]], *, knows_kinds: bool = True):
        self.told, self.knows_kinds = told, knows_kinds
        self.asked: list[tuple[int, str]] = []

    def changes(self, after: int, kind: str = "") -> Page:
        self.asked.append((after, kind))
        wanted = kind if self.knows_kinds else ""
        found = [r for r in self.told if r["change"] > after and wanted in ("", r["kind"])][:2]
        last = self.told[-1]["change"]
        return Page(
            events=list(found), epoch="e", last=last, next=found[-1]["change"] if found else last
        )


@pytest.mark.parametrize("knows_kinds", [True, False])
def test_one_kind_is_asked_for_anew_while_the_feed_goes_on(
    world: World, depot: Depot, *, knows_kinds: bool
) -> None:
    for code in ("A-1", "A-2", "A-3"):
        ItemFactory(code=code)
    told = [change(1, "depot", NORTH)]
    told += [stock(n, "5", code) for n, code in ((2, "A-1"), (3, "A-2"), (4, "A-3"))]
    take_in_changes(told)
    move_on(4, epoch="e", last=4, now=timezone.now())
    Level.objects.update(on_hand=7)  # ours has gone astray
    Depot.objects.update(name="Astray")
    rep, clerk = Caller(world.ilse), Caller(world.joren)
    assert rep.ask("post", "sync/resync", {"kind": "stock"}).status_code == 403
    assert clerk.ask("post", "sync/resync", {"kind": "stones"}).status_code == 422
    assert clerk.ask("post", "sync/resync", {"kind": "stock"}).status_code == 204
    kinds = {row["kind"]: row for row in clerk("get", "sync")["kinds"]}
    assert (kinds["stock"]["anew"], kinds["stock"]["count"]) == (0, 3)  # known until it has come
    assert kinds["depot"]["anew"] is None
    house = House(told, knows_kinds=knows_kinds)
    read_kinds_anew(house, pages=1)
    row = ChangeFeed.objects.exclude(name="changes").get()
    assert (row.name, row.position) == ("changes.stock", 3 if knows_kinds else 2)
    read_kinds_anew(house)
    assert not ChangeFeed.objects.exclude(name="changes").exists()
    assert {level.on_hand for level in Level.objects.all()} == {D(5)}
    assert Depot.objects.get().name == "Astray"  # nobody asked for it
    assert ChangeFeed.objects.get().position == 4
    assert {kind for _, kind in house.asked} == {"stock"}
    asked = len(house.asked)
    assert read_kinds_anew(house) == 0
    assert len(house.asked) == asked


def test_a_feed_that_counts_anew_ends_what_was_asked_for_by_kind(
    world: World, depot: Depot
) -> None:
    resync(world.joren, "stock", now=timezone.now())
    move_on(0, epoch="two", last=2, now=timezone.now(), anew=True)
    assert [row.name for row in ChangeFeed.objects.all()] == ["changes"]


# ---- what is promised -----------------------------------------------------------------------


def test_in_stock_coming_and_short_with_what_else_could_be_done(
    world: World, depot: Depot, drafted: Revision, as_ilse: Caller
) -> None:
    comes = weekday(5)
    receipt = {"number": "PO-1", "on": comes.isoformat(), "quantity": "40", "sure": False}
    steel = ItemFactory(code="STEEL-1", name="Steel post")
    Substitute.objects.create(item=world.post, instead=steel, factor=D(2))
    south = {**NORTH, "code": "SOUTH", "name": "Saltmarsh", "transit_days": 2}
    take_in_changes(
        [
            stock(2, "10", receipts=[receipt]),
            stock(3, "500", item="STEEL-1"),
            change(4, "depot", south),
            stock(5, "45", depot="SOUTH"),
        ]
    )
    here, coming, short = (
        ask(as_ilse, drafted, line(world.post, quantity))["lines"][0]
        for quantity in ("10", "50", "51")
    )
    assert (here["kind"], here["free"], here["proposals"]) == ("in_stock", "10", [])
    assert (coming["kind"], coming["leaves"], coming["sure"]) == ("coming", str(comes), False)
    kinds = {each["kind"]: each for each in coming["proposals"]}
    assert set(kinds) == {"whole", "split", "instead"}  # the other depot has too little
    assert [part["quantity"] for part in kinds["split"]["parts"]] == ["10", "40"]
    assert (kinds["instead"]["name"], kinds["instead"]["parts"][0]["quantity"]) == (
        "Steel post",
        "100",
    )
    assert (short["kind"], short["missing"]) == ("short", "1")
    (other,) = [e for e in ask(as_ilse, drafted, line(world.post, "45"))["lines"][0]["proposals"] if e["kind"] == "depot"]  # fmt: skip
    assert other["name"] == "Saltmarsh"


def test_lines_of_one_quote_stand_behind_each_other_and_options_take_nothing(
    world: World, depot: Depot, drafted: Revision, as_ilse: Caller
) -> None:
    take_in_changes([stock(2, "10")])
    found = ask(
        as_ilse,
        drafted,
        line(world.post, "6", "a"),
        line(world.post, "4", "o", kind="optional"),
        line(world.post, "4", "b"),
        line(world.post, "1", "c"),
    )
    kinds = {each["key"]: each["kind"] for each in found["lines"]}
    assert kinds == {"a": "in_stock", "o": "in_stock", "b": "in_stock", "c": "short"}
    assert (found["verdict"], found["short"]) == ("halt", 1)


def test_a_wanted_day_that_is_missed_is_late_and_old_figures_say_so(
    world: World, depot: Depot, drafted: Revision, as_ilse: Caller
) -> None:
    take_in_changes([stock(2, "10")])
    tomorrow = world.today + timedelta(days=1)
    found = ask(as_ilse, drafted, line(world.post, "1"), requested_on=str(world.today))
    assert (found["lines"][0]["late"], found["verdict"]) == (True, "caution")
    found = ask(
        as_ilse, drafted, line(world.post, "1", wanted_on=str(tomorrow + timedelta(days=9)))
    )
    assert (found["lines"][0]["late"], found["verdict"]) == (False, "clear")
    Level.objects.update(told_at=timezone.now() - timedelta(hours=25))
    found = ask(as_ilse, drafted, line(world.post, "1"))
    assert (found["stale"], found["verdict"], found["lines"][0]["kind"]) == (
        True,
        "caution",
        "in_stock",
    )


def test_units_are_counted_in_the_base_unit_and_told_in_the_lines_own(
    world: World, depot: Depot, drafted: Revision, as_ilse: Caller
) -> None:
    take_in_changes([stock(2, "250", item="WIRE-2")])
    roll = {"key": "a", "item_id": world.wire.pk, "quantity": "3", "unit": "RL"}
    (found,) = ask(as_ilse, drafted, roll)["lines"]
    assert (found["kind"], found["free"], found["missing"]) == ("short", "2.5", "0.5")
    refused = as_ilse.ask(
        "post", f"revisions/{drafted.pk}/promises", {"lines": [{**roll, "unit": "KGM"}]}
    )
    assert (refused.status_code, refused.json()["code"]) == (422, "unknown_unit")


def test_what_is_made_to_order_comes_after_its_lead_time_and_has_no_receipt(
    world: World, depot: Depot, drafted: Revision, as_ilse: Caller
) -> None:
    bench = ItemFactory(code="BENCH", kind="made")
    take_in_changes([stock(2, "1", item="BENCH", lead_days=10)])
    (there,) = ask(as_ilse, drafted, line(bench, "1"))["lines"]
    assert (there["kind"], there["made"]) == ("in_stock", False)
    found = ask(as_ilse, drafted, line(bench, "4"))
    (made,) = found["lines"]
    assert (made["kind"], made["made"], made["missing"]) == ("coming", True, None)
    assert date.fromisoformat(made["leaves"]) >= weekday(13)
    assert found["short"] == 0
    take_in_changes([stock(3, "1", item="BENCH", lead_days=None)])
    (never,) = ask(as_ilse, drafted, line(bench, "4"))["lines"]
    assert (never["kind"], never["made"], never["missing"]) == ("short", False, "3")


def quote(world: World, posts: str) -> Revision:
    """An issued quote of Ilse's over so many posts."""
    made = start_quote(world.ilse, today=world.today, customer_id=world.customer.pk)
    only = DraftLine(key="a", item_id=world.post.pk, quantity=D(posts), unit="H87")
    draft = Draft(lines=[only], valid_until=world.today + timedelta(days=30))
    made = save_draft(world.ilse, made.pk, made.version, draft, today=world.today)
    now = timezone.now()
    return issue_revision(world.ilse, made.pk, made.version, today=world.today, now=now)


def order(world: World, revision: Revision) -> Order:
    return write_order(
        *(world.ilse, revision.pk, revision.version),
        today=world.today,
        now=timezone.now(),
        close_deal=False,
    )


def test_what_was_ordered_is_promised_and_not_there_for_the_next(
    world: World, depot: Depot, as_ilse: Caller
) -> None:
    take_in_changes([stock(2, "10")])
    first, second = order(world, quote(world, "8")), order(world, quote(world, "8"))
    promised, short = first.lines.get(), second.lines.get()
    assert (promised.promised_on is not None, promised.missing) == (True, 0)
    assert promised.depot_id == depot.pk
    assert short.missing == D(6)
    # One's own order does not stand in its own way.
    found = as_ilse("get", f"orders/{first.pk}/promises")
    assert found["lines"][0]["kind"] == "in_stock"


def test_an_order_that_the_back_office_reports_is_counted_once(
    world: World, depot: Depot, drafted: Revision, as_ilse: Caller
) -> None:
    take_in_changes([stock(2, "10")])
    made = order(world, quote(world, "8"))
    free = lambda: ask(as_ilse, drafted, line(world.post, "1"))["lines"][0]["free"]  # noqa: E731
    assert free() == "2"
    kept = {
        "reference": "BO-1/1",
        "order_number": made.number,
        "quantity": "8",
        "by": str(world.today),
    }
    take_in_changes([stock(3, "10", reservations=[kept])])
    assert free() == "2"
    take_in_changes([stock(4, "2")])  # it left the house, and our order has not heard of it yet
    assert free() == "2"


def test_the_item_by_date_names_only_whom_the_person_may_see(world: World, depot: Depot) -> None:
    take_in_changes([stock(2, "10", receipts=[
        {"number": "PO-1", "on": weekday(6).isoformat(), "quantity": "40", "sure": True},
        {"number": "PO-0", "on": "2026-01-02", "quantity": "5", "sure": True},
    ])])  # fmt: skip
    order(world, quote(world, "4"))
    path = f"items/{world.post.pk}/promise"
    (plan,) = world.call(world.ilse)("get", path)["plans"]
    assert [row["quantity"] for row in plan["departures"]] == ["10", "40"]
    riders = [rider["name"] for row in plan["departures"] for rider in row["riders"]]
    assert riders == ["Hazelmoor Orchards"]
    assert plan["departures"][-1]["by_then"] == "46"
    assert [late["number"] for late in plan["overdue"]] == ["PO-0"]
    (plan,) = world.call(world.stranger)("get", path)["plans"]
    riders = [rider["name"] for row in plan["departures"] for rider in row["riders"]]
    assert riders == [""]


def test_promises_cost_the_same_queries_for_one_line_and_for_many(
    world: World,
    depot: Depot,
    drafted: Revision,
    as_ilse: Caller,
    queries_of: Callable[[Callable[[], object]], int],
) -> None:
    take_in_changes([stock(2, "10")])
    one = queries_of(lambda: ask(as_ilse, drafted, line(world.post, "1")))
    items = [ItemFactory(code=f"MORE-{n}") for n in range(12)]
    take_in_changes([stock(10 + n, "5", item=item.code) for n, item in enumerate(items)])
    rows = [line(item, "9", f"k{n}") for n, item in enumerate(items)]
    assert queries_of(lambda: ask(as_ilse, drafted, *rows)) == one


@pytest.mark.django_db(transaction=True)
def test_two_reps_who_order_the_last_ten_in_one_moment_are_not_both_promised_them(
    world: World,
) -> None:
    take_in_changes([change(1, "depot", NORTH), stock(2, "10")])
    other = CustomerFactory(owner=world.tomas)
    mine = quote(world, "10")
    theirs = start_quote(world.tomas, today=world.today, customer_id=other.pk)
    only = DraftLine(key="a", item_id=world.post.pk, quantity=D(10), unit="H87")
    draft = Draft(lines=[only], valid_until=world.today + timedelta(days=30))
    theirs = save_draft(world.tomas, theirs.pk, theirs.version, draft, today=world.today)
    theirs = issue_revision(
        world.tomas, theirs.pk, theirs.version, today=world.today, now=timezone.now()
    )
    gate, faults = Barrier(2), []

    def go(who: Any, revision: Revision) -> None:
        try:
            gate.wait()
            write_order(
                *(who, revision.pk, revision.version),
                today=world.today,
                now=timezone.now(),
                close_deal=False,
            )
        except Exception as fault:
            faults.append(fault)
        finally:
            connections.close_all()

    threads = [Thread(target=go, args=each) for each in ((world.ilse, mine), (world.tomas, theirs))]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert faults == []
    missing = sorted(line.missing for made in Order.objects.all() for line in made.lines.all())
    assert missing == [D(0), D(10)]


def test_an_older_change_does_not_settle_what_is_set_aside_of_a_newer_one(
    world: World, depot: Depot
) -> None:
    take_in_changes([stock(5, "9"), stock(7, "NaN"), stock(4, "8")])
    assert SetAside.objects.get().state == APART
    assert Level.objects.get().on_hand == D(9)
    take_in_changes([stock(8, "7")])
    assert SetAside.objects.get().state == TAKEN_IN


def test_a_lines_wanted_day_that_is_typed_now_is_not_in_the_past(
    world: World, depot: Depot, drafted: Revision, as_ilse: Caller
) -> None:
    def save(wanted: date, version: int) -> Any:
        row = {**line(world.post, "5"), "wanted_on": str(wanted), "depot_id": depot.pk}
        until = world.today + timedelta(days=20)
        body = {"version": version, "lines": [row], "valid_until": str(until)}
        return as_ilse.ask("put", f"revisions/{drafted.pk}", body)

    refused = save(world.today - timedelta(days=1), drafted.version)
    assert (refused.status_code, refused.json()["path"]) == (422, "lines[0].wanted_on")
    kept = save(world.today, drafted.version).json()
    drafted.lines.update(wanted_on=world.today - timedelta(days=3))  # days went by
    again = save(world.today - timedelta(days=3), kept["version"])
    assert again.status_code == 200
    assert as_ilse("get", f"revisions/{drafted.pk}")["lines"][0]["depot_id"] == depot.pk


@pytest.mark.django_db(transaction=True)
def test_the_stock_of_an_order_is_locked_until_it_is_written(world: World) -> None:
    take_in_changes([change(1, "depot", NORTH), stock(2, "10")])
    mine = quote(world, "10")
    locked: list[bool] = []

    def somebody_else() -> None:
        try:
            with transaction.atomic():
                Level.objects.select_for_update(nowait=True).get(item=world.post)
            locked.append(False)
        except OperationalError:
            locked.append(True)
        finally:
            connections.close_all()

    with transaction.atomic():
        order(world, mine)
        other = Thread(target=somebody_else)
        other.start()
        other.join()
    somebody_else()
    assert locked == [True, False]
