"""From the accepted quote to the order, and its way into the outbox."""

from datetime import date, timedelta
from decimal import Decimal
from typing import Any

from django.utils import timezone
import pytest

from apps.customers.models import Address
from apps.deals.models import Deal
from apps.diary.models import Activity
from apps.handover.models import Handover
from apps.handover.worker import go_round
from apps.orders.models import Order, OrderLine
from apps.quotes.models import Revision
from tests.server.conftest import Caller, World, accepting, as_seen
from tests.server.office import Office
from tests.server.test_quotes import body_of


def accept(caller: Caller, revision: Revision, **given: object) -> Any:
    body = accepting(revision, **{"close_deal": True, **given})
    if "take" in given:
        asked = caller("post", "order-plan", {"sources": body["sources"]})
        body["seen"] = {"mark": asked.get("mark", ""), "payable": asked.get("payable", "0")}
    return caller.ask("post", "orders", body)


def test_everything_carries_over_and_prices_are_locked(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    wanted = (world.today + timedelta(days=12)).isoformat()
    made = accept(as_ilse, issued, buyer_reference="PO 77", requested_on=wanted).json()
    assert (made["payable"], made["net"], made["document_discount"]) == (
        "1033.92",
        "861.60",
        "26.65",
    )
    assert (made["buyer_reference"], made["requested_on"]) == ("PO 77", wanted)
    assert [(row["item"], row["quantity"], row["net"]) for row in made["lines"]] == [
        ("POST-25", "20", "788.50"),
        ("WIRE-2", "3", "99.75"),
    ]
    assert made["delivery_address"]["town"] == "Marrow Vale"
    world.post.prices.update(price=Decimal(99))
    assert as_ilse("get", f"orders/{made['id']}")["net"] == "861.60"


@pytest.mark.parametrize(("close", "stage"), [(True, "won"), (False, "quoted")])
def test_the_rep_chooses_whether_the_deal_closes(
    as_ilse: Caller, issued: Revision, close: bool, stage: str
) -> None:
    assert accept(as_ilse, issued, close_deal=close).status_code == 201
    assert Deal.objects.select_related("stage").get().stage.code == stage


def test_a_revision_makes_one_order_at_most(as_ilse: Caller, issued: Revision) -> None:
    accept(as_ilse, issued)
    again = accept(as_ilse, issued)
    assert (again.status_code, again.json()["code"]) == (409, "ordered")
    assert Order.objects.count() == 1


def test_nothing_asks_about_the_quote_any_more(as_ilse: Caller, issued: Revision) -> None:
    accept(as_ilse, issued)
    assert not Activity.objects.filter(kind="follow_up", done_at__isnull=True).exists()


def test_an_older_revision_is_not_accepted(as_ilse: Caller, issued: Revision) -> None:
    made = as_ilse("post", f"quotes/{issued.quote_id}/revise")
    as_ilse("post", f"revisions/{made['id']}/issue", as_seen(made))
    refused = accept(as_ilse, issued)
    assert (refused.status_code, refused.json()["code"]) == (409, "superseded")


def test_a_draft_is_not_accepted(as_ilse: Caller, drafted: Revision) -> None:
    assert accept(as_ilse, drafted).json()["code"] == "not_issued"


def test_a_lapsed_quote_is_not_accepted(
    as_ilse: Caller, issued: Revision, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("api.ordering.today", lambda: issued.valid_until + timedelta(days=1))
    assert accept(as_ilse, issued).json()["code"] == "lapsed"


def test_an_order_without_a_place_to_go_is_not_handed_over_until_it_has_one(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    Address.objects.all().delete()
    order = accept(as_ilse, issued).json()
    path = f"orders/{order['id']}/handover"
    refused = as_ilse.ask("post", path, as_seen(order))
    assert (refused.status_code, refused.json()["code"]) == (409, "no_address")
    assert not Handover.objects.exists()
    place = {"kind": "delivery", "street": "North field", "town": "Hazelmoor", "country": "QF"}
    as_ilse("post", f"customers/{world.customer.pk}/addresses", place)
    assert as_ilse("post", path, as_seen(order))["state"] == "waiting"
    assert Handover.objects.get().payload["delivery_address"]["town"] == "Hazelmoor"


def test_handing_over_twice_makes_one_entry(as_ilse: Caller, issued: Revision) -> None:
    order = accept(as_ilse, issued).json()
    path = f"orders/{order['id']}/handover"
    assert as_ilse.status("post", path, as_seen(order)) == 200
    assert as_ilse.status("post", path, as_seen(order)) == 200
    assert Handover.objects.count() == 1


def test_an_order_counts_in_the_exposure_once(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    before = as_ilse("get", f"revisions/{issued.pk}")["standing"]
    accept(as_ilse, issued)
    after = as_ilse("get", f"revisions/{issued.pk}")["standing"]
    assert (before["exposure"], before["after"]) == ("0.00", "48966.08")
    assert (after["exposure"], after["after"]) == ("1033.92", "48966.08")


def test_today_shows_what_is_under_way(as_ilse: Caller, issued: Revision) -> None:
    accept(as_ilse, issued)
    figure = as_ilse("get", "today")["orders_under_way"]
    assert (figure["amount"], figure["count"]) == ("1033.92", 1)
    opened = as_ilse("get", "orders", state="way")
    assert opened["sums"] == {"EUR": "1033.92"}


def test_the_back_office_sends_again_and_the_rep_does_not(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    order = accept(as_ilse, issued).json()
    as_ilse("post", f"orders/{order['id']}/handover", as_seen(order))
    entry = Handover.objects.get()
    Handover.objects.update(state="refused", next_try_at=timezone.now())
    path, body = f"handovers/{entry.pk}/again", {"version": entry.version}
    assert as_ilse.status("post", path, body) == 403
    assert world.call(world.joren)("post", path, body)["state"] == "waiting"


@pytest.fixture
def offered(world: World, as_ilse: Caller, drafted: Revision) -> Revision:
    """The example with an alternative to the posts and an option, 3 % off, issued."""
    body = body_of(drafted)
    body["lines"] += [
        {"key": "c", "kind": "alternative", "alternative_to": "a", "item_id": world.wire.pk,
         "quantity": "1000", "unit": "MTR"},
        {"key": "d", "kind": "optional", "item_id": world.post.pk, "quantity": "2", "unit": "H87"},
    ]  # fmt: skip
    answer = as_ilse("put", f"revisions/{drafted.pk}", body)
    as_ilse("post", f"revisions/{drafted.pk}/issue", as_seen(answer))
    return Revision.objects.get(pk=drafted.pk)


def test_chosen_alternatives_and_options_become_real_lines(
    as_ilse: Caller, offered: Revision
) -> None:
    made = accept(as_ilse, offered, take=["c", "d"]).json()
    assert [(row["item"], row["net"]) for row in made["lines"]] == [
        ("WIRE-2", "99.75"),
        ("WIRE-2", "380.00"),
        ("POST-25", "83.00"),
    ]
    # 562.75 less 3 % (16.88), and 20 % on it
    assert (made["lines_net"], made["net"], made["payable"]) == ("562.75", "545.87", "655.04")


@pytest.mark.parametrize("take", [["a"], ["nothing"]])
def test_only_what_was_offered_beside_can_be_taken(
    as_ilse: Caller, offered: Revision, take: list[str]
) -> None:
    assert accept(as_ilse, offered, take=take).status_code == 422
    assert not Order.objects.exists()


def test_an_order_leaves_in_parts_or_whole_as_its_customer_has_it_or_as_was_said(
    world: World, as_ilse: Caller, office: Office, issued: Revision
) -> None:
    fields = as_ilse("get", f"customers/{world.customer.pk}/fields")
    body = {"version": fields["version"], "partial_deliveries": False}
    as_ilse("patch", f"customers/{world.customer.pk}/fields", body)
    plan = as_ilse("post", "order-plan", {"sources": accepting(issued)["sources"]})
    assert plan["partial_deliveries"] is False
    made = as_ilse("post", "orders", accepting(issued))
    assert made["partial_deliveries"] is False
    document = as_ilse.ask("get", f"orders/{made['id']}/ubl").content
    assert document.count(b"<cbc:PartialDeliveryIndicator>false<") == len(made["lines"])
    as_ilse("post", f"orders/{made['id']}/handover", as_seen(made))
    go_round(office.client, "test", timezone.now)
    number = as_ilse("get", f"orders/{made['id']}")["backoffice_number"]
    office.press("ship-half", number=number)
    while go_round(office.client, "test", timezone.now):
        pass
    lines = as_ilse("get", f"orders/{made['id']}")["lines"]
    assert [row["shipped"] for row in lines] == [row["quantity"] for row in lines]


def test_what_was_said_of_the_order_counts_more_than_the_customer(
    as_ilse: Caller, issued: Revision
) -> None:
    made = as_ilse("post", "orders", accepting(issued, partial_deliveries=False))
    assert made["partial_deliveries"] is False


def test_an_order_is_complete_when_the_last_of_its_goods_is_there(
    as_ilse: Caller, issued: Revision
) -> None:
    made = as_ilse("post", "orders", accepting(issued))
    lines = OrderLine.objects.filter(order=made["id"]).order_by("position")
    days = [date(2031, 3, 4), date(2031, 3, 9)]
    for line, day in zip(lines, days, strict=True):
        assert as_ilse("get", f"orders/{made['id']}")["complete_on"] is None
        OrderLine.objects.filter(pk=line.pk).update(arrives_on=day)
    assert as_ilse("get", f"orders/{made['id']}")["complete_on"] == "2031-03-09"
