"""Framework agreements as they are worked: planned, called off, delivered, invoiced; missed in time to do something."""

from collections.abc import Callable
from datetime import timedelta
from decimal import Decimal
from functools import partial
from typing import Any

from django.utils import timezone
import pytest

from apps.calloffs.days import renew
from apps.calloffs.models import AgreementDay, PlannedCallOff
from apps.handover.worker import go_round
from apps.kept.figures import wrong_figures
from apps.ledger.models import Invoice
from apps.orders.models import Order, OrderLine
from apps.prices.models import Agreement
from demo.factories import CustomerFactory
from tests.server.conftest import Caller, World, as_seen
from tests.server.office import Office
from tests.server.test_prices import agree

D = Decimal


@pytest.fixture
def half_gone(world: World) -> Agreement:
    """A hundred posts over two hundred days, half of them gone by."""
    days = timedelta(days=100)
    return agree(world, quantity=D(100), valid_from=world.today - days, valid_to=world.today + days)


def order_off(caller: Caller, agreement: Agreement, **how_much: Any) -> Any:
    """Call off and order it."""
    begun = caller("post", f"agreements/{agreement.pk}/call-off", how_much)
    quote = caller("get", f"revisions/{begun['revision_id']}")
    return caller("post", f"revisions/{quote['id']}/order-now", as_seen(quote, close_deal=False))


def ahead(caller: Caller, today: Any) -> list[tuple[str, str, str]]:
    renew(today)
    return [(row["kind"], row["title"], row["amount"]) for row in caller("get", "today")["ahead"]]


def plan(caller: Caller, agreement: Agreement, *rows: tuple[Any, str], **more: Any) -> Any:
    body = {"version": 0, "rows": [{"on": str(on), "quantity": many} for on, many in rows], **more}
    return caller.ask("put", f"agreements/{agreement.pk}/plan", body)


def test_a_commitment_that_will_be_missed_is_a_stop_until_enough_is_called_off(
    world: World, as_ilse: Caller, half_gone: Agreement
) -> None:
    assert ahead(as_ilse, world.today) == [("commitment_missed", "FA-1", "100")]
    assert ahead(world.call(world.stranger), world.today) == []
    order_off(as_ilse, half_gone, quantity="45")
    assert ahead(as_ilse, world.today) == []
    row = as_ilse("get", f"agreements/{half_gone.pk}")
    assert (row["state"], row["called_off"], row["left"]) == ("even", "45", "55")
    assert OrderLine.objects.get().price == D("35.00")


def test_a_planned_call_off_is_told_before_its_day_and_filled_by_what_is_ordered(
    world: World, as_ilse: Caller, half_gone: Agreement
) -> None:
    soon, later = world.today + timedelta(days=5), world.today + timedelta(days=60)
    kept = plan(as_ilse, half_gone, (soon, "40"), (later, "60"), notice_days=7).json()
    assert [row["state"] for row in kept["plan"]] == ["due", "coming"]
    assert ahead(as_ilse, world.today) == [("call_off_due", "FA-1", "40")]
    made = order_off(as_ilse, half_gone)
    assert ahead(as_ilse, world.today) == []
    shown = as_ilse("get", f"agreements/{half_gone.pk}")
    assert [(row["state"], row["open"]) for row in shown["plan"]] == [
        ("done", "0"),
        ("coming", "60"),
    ]
    assert [row["order"] for row in shown["course"]["rows"]] == [made["number"]]
    assert shown["course"]["called"][-1]["percent"] == "40"

    seen = {"version": made["version"], "reason": "Given up"}
    as_ilse("post", f"orders/{made['id']}/cancel", seen)
    assert ahead(as_ilse, world.today) == [("call_off_due", "FA-1", "40")]
    shown = as_ilse("get", f"agreements/{half_gone.pk}")
    assert [(row["cancelled"], row["quantity"]) for row in shown["course"]["rows"]] == [(True, "0")]
    assert wrong_figures() == {}


def test_what_is_due_first_is_told_first_whichever_agreement_is_older(
    world: World, as_ilse: Caller, half_gone: Agreement
) -> None:
    span = {"valid_from": half_gone.valid_from, "valid_to": half_gone.valid_to}
    younger = agree(world, number="FA-2", quantity=D(100), **span)
    plan(as_ilse, half_gone, (world.today + timedelta(days=6), "40"), notice_days=7)
    plan(as_ilse, younger, (world.today + timedelta(days=2), "30"), notice_days=7)
    told = [("call_off_due", "FA-2", "30"), ("call_off_due", "FA-1", "40")]
    assert ahead(as_ilse, world.today) == told


def test_what_cannot_be_planned_is_refused_at_its_row(
    world: World, as_ilse: Caller, half_gone: Agreement
) -> None:
    day = world.today + timedelta(days=3)
    for rows, code, path in (
        ([(half_gone.valid_to + timedelta(days=1), "1")], "outside_agreement", "rows[0].on"),
        ([(day, "1"), (day, "2")], "double_day", "rows[1].on"),
        ([(day, "101")], "more_than_committed", "rows"),
    ):
        refused = plan(as_ilse, half_gone, *rows)
        assert (refused.status_code, refused.json()["code"]) == (422, code)
        assert refused.json()["path"] == path
    assert not PlannedCallOff.objects.exists()
    assert plan(as_ilse, half_gone, (day, "1")).status_code == 200
    assert plan(as_ilse, half_gone, (day, "2")).status_code == 409
    assert plan(as_ilse, half_gone, version=1).json()["plan"] == []


def test_what_is_left_is_proposed_evenly_over_the_days_of_a_rule(
    world: World, as_ilse: Caller, half_gone: Agreement
) -> None:
    rule = {"every": "month", "month_day": 1}
    body = {"repetition": rule}
    rows = as_ilse("post", f"agreements/{half_gone.pk}/plan/proposed", body)
    assert sum(D(row["quantity"]) for row in rows) == 100
    assert all(row["on"] >= str(world.today) for row in rows)
    assert max(D(row["quantity"]) for row in rows) - min(D(row["quantity"]) for row in rows) <= 1
    assert not PlannedCallOff.objects.exists()
    order_off(as_ilse, half_gone, quantity="30")
    rows = as_ilse("post", f"agreements/{half_gone.pk}/plan/proposed", body)
    planned = {row["on"]: D(row["quantity"]) for row in rows}
    assert sum(planned.values()) == 100
    assert planned[str(world.today - timedelta(days=1))] == 30
    kept = [(day, str(many)) for day, many in planned.items()]
    shown = plan(as_ilse, half_gone, *kept).json()
    assert {row["state"] for row in shown["plan"]} <= {"done", "due", "coming"}
    assert (shown["state"], shown["misses"]) == ("even", False)


def test_delivered_and_invoiced_are_told_in_the_agreements_unit(
    world: World, as_ilse: Caller, office: Office, half_gone: Agreement
) -> None:
    made = order_off(as_ilse, half_gone, quantity="30")
    as_ilse("post", f"orders/{made['id']}/handover", as_seen(made))
    go_round(office.client, "test", timezone.now)
    number = as_ilse("get", f"orders/{made['id']}")["backoffice_number"]
    for act in ("ship-half", "bill"):
        office.press(act, number=number)
        while go_round(office.client, "test", timezone.now):
            pass
    course = as_ilse("get", f"agreements/{half_gone.pk}")["course"]
    assert (course["delivered"], course["invoiced"]) == ("15", "15")
    assert Invoice.objects.count() == 1
    assert course["left"][-1]["percent"] == "15"


def test_an_amount_that_was_committed_is_counted_in_money(world: World, as_ilse: Caller) -> None:
    admin = world.call(world.admin)
    values = {
        "number": "FA-9", "customer": world.customer.number, "item": "POST-25", "unit": "H87",
        "currency": "EUR", "amount": "1000", "price": "30", "per": "1",
        "valid_from": str(world.today), "valid_to": str(world.today + timedelta(days=99)),
    }  # fmt: skip
    assert admin.status("post", "prices/records/agreements", {"values": values}) == 201
    agreement = Agreement.objects.get(number="FA-9")
    assert (agreement.amount, agreement.quantity) == (D(1000), D("33.333334"))
    order_off(as_ilse, agreement, quantity="20")
    row = as_ilse("get", f"agreements/{agreement.pk}")
    told = {name: row[name] for name in ("in_money", "unit_name", "quantity", "called_off", "left")}
    assert told == {
        "in_money": True, "unit_name": "EUR", "quantity": "1000.00", "called_off": "600.00",
        "left": "400.00",
    }  # fmt: skip
    neither = {**values, "number": "FA-10", "amount": ""}
    refused = admin.ask("post", "prices/records/agreements", {"values": neither})
    assert (refused.status_code, refused.json()["path"]) == (422, "quantity")


def test_a_member_calls_off_from_the_parents_agreement(world: World, as_ilse: Caller) -> None:
    parent = CustomerFactory(owner=world.tomas)
    world.customer.parent = parent
    world.customer.save()
    agreement = agree(world, customer=parent)
    made = order_off(as_ilse, agreement, quantity="5")
    assert Order.objects.get(pk=made["id"]).customer == world.customer
    assert OrderLine.objects.get().agreement == agreement
    other = CustomerFactory(owner=world.ilse)
    body = {"quantity": "5", "customer_id": other.pk}
    refused = as_ilse.ask("post", f"agreements/{agreement.pk}/call-off", body)
    assert (refused.status_code, refused.json()["code"]) == (422, "not_in_group")


def test_agreements_are_for_those_who_sell_to_their_customers(
    world: World, half_gone: Agreement
) -> None:
    for person, status in ((world.stranger, 404), (world.tomas, 404), (world.joren, 403)):
        caller = world.call(person)
        assert caller.status("get", f"agreements/{half_gone.pk}") == status
        assert caller.status("post", f"agreements/{half_gone.pk}/call-off", {}) == status
        assert plan(caller, half_gone).status_code == status
    assert world.call(world.tomas)("get", "agreements")["rows"] == []


def test_agreements_are_listed_by_where_they_stand(
    world: World, as_ilse: Caller, half_gone: Agreement
) -> None:
    gone = world.today - timedelta(days=1)
    agree(world, number="FA-2", valid_from=gone - timedelta(days=9), valid_to=gone)
    agree(world, number="FA-3", valid_from=world.today + timedelta(days=9))
    plan(as_ilse, half_gone, (world.today, "50"))
    renew(world.today)
    found = {
        state: [row["number"] for row in as_ilse("get", "agreements", state=state)["rows"]]
        for state in ("", "running", "asks", "behind", "used", "over", "coming")
    }
    assert found == {
        "": ["FA-3", "FA-1"], "running": ["FA-1"], "asks": ["FA-1"], "behind": ["FA-1"], "used": [],
        "over": ["FA-2"], "coming": ["FA-3"],
    }  # fmt: skip
    assert len(as_ilse("get", "agreements", search="hazel FA-1")["rows"]) == 1
    assert as_ilse("get", "agreements", search="wire")["rows"] == []


def test_a_day_is_made_anew_when_what_it_was_made_of_has_changed(
    world: World, as_ilse: Caller, half_gone: Agreement
) -> None:
    assert [renew(world.today), renew(world.today)] == [1, 0]
    order_off(as_ilse, half_gone, quantity="10")
    assert [renew(world.today), renew(world.today)] == [1, 0]
    assert AgreementDay.objects.get().judged == 10
    Agreement.objects.update(quantity=D(20), version=2)
    assert [renew(world.today), renew(world.today)] == [1, 0]
    assert AgreementDay.objects.get().state == "even"
    tomorrow = world.today + timedelta(days=1)
    assert [renew(tomorrow), renew(tomorrow)] == [1, 0]


def test_pages_of_agreements_take_a_constant_number_of_queries(
    world: World, as_ilse: Caller, half_gone: Agreement, queries_of: Callable[[Any], int]
) -> None:
    paths = ("agreements", f"agreements/{half_gone.pk}", "today")

    def count() -> list[int]:
        renew(world.today)
        return [queries_of(partial(as_ilse, "get", path)) for path in paths]

    order_off(as_ilse, half_gone, quantity="1")
    few = count()
    for n in range(6):
        agree(world, number=f"FA-1{n}", valid_from=world.today - timedelta(days=80))
        order_off(as_ilse, half_gone, quantity="1")
    assert count() == few


def test_pasted_rows_know_their_agreement_by_its_number_or_by_the_item(
    world: World, as_ilse: Caller, half_gone: Agreement
) -> None:
    agree(world, number="FA-7", item=world.wire, unit_id="MTR")
    gone = world.today - timedelta(days=1)
    agree(world, number="FA-8", valid_from=gone - timedelta(days=9), valid_to=gone)
    text = "\n".join(
        [
            "FA-1\t40",
            "fa-7 WIRE-2\t200",
            "FA-7\t2\troll",
            "POST-25\t10",
            "FA-8\t3",
            "FA-1 WIRE-2\t5",
        ]
    )

    def read(caller: Caller, customer: int | None) -> list[tuple[str, str | None, str, str]]:
        rows = caller("post", "items/match", {"text": text, "customer_id": customer})
        code = [row["item"]["code"] if row["item"] else "" for row in rows]
        return [
            (c, row["quantity"], row["unit"], row["agreement"])
            for c, row in zip(code, rows, strict=True)
        ]

    assert read(as_ilse, world.customer.pk) == [
        ("POST-25", "40", "H87", "FA-1"),
        ("WIRE-2", "200", "MTR", "FA-7"),
        ("WIRE-2", "2", "RL", "FA-7"),
        ("POST-25", "10", "H87", "FA-1"),
        ("", "3", "", ""),
        ("", "5", "", ""),
    ]
    nobodys = [("POST-25", "10", "H87", "")]
    assert [row for row in read(as_ilse, None) if row[0]] == nobodys
    assert [row for row in read(world.call(world.tomas), world.customer.pk) if row[0]] == nobodys
