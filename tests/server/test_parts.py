"""An offer is ordered in parts, several in one order, late with a lead's word; never twice by accident."""

from datetime import timedelta
from decimal import Decimal
from threading import Barrier, Thread
from typing import Any

from django.db import connection
from django.utils import timezone
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
import pytest

from apps.customers.models import Address
from apps.errors import FlowError
from apps.handover.models import Handover
from apps.journal.models import Change
from apps.orders.flows import Source, plan_order, write_order
from apps.orders.models import Acceptance, Delivery, DeliveryLine, Order, OrderLine
from apps.orders.offers import Want
from apps.quotes.flows.issuing import issue_revision
from apps.quotes.flows.saving import save_draft
from apps.quotes.flows.starting import start_quote
from apps.quotes.models import Quote, Revision
from tests.server.conftest import Caller, World, accepting, as_seen, draft
from tests.server.test_papers import words_of
from tests.server.test_prices import agree
from tests.server.test_quotes import body_of
from tests.server.test_trade_documents import valid

D = Decimal


def source(revision: Revision, **wanted: str) -> dict[str, Any]:
    """A source with these quantities by line."""
    lines = [{"key": key, "quantity": quantity} for key, quantity in wanted.items()]
    return {"revision_id": revision.pk, "version": revision.version, "lines": lines}


def plan(caller: Caller, *sources: dict[str, Any]) -> Any:
    return caller("post", "order-plan", {"sources": sources})


def order(caller: Caller, *sources: dict[str, Any], **more: object) -> Any:
    """Write the order of what its plan shows."""
    seen = plan(caller, *sources)
    mark = {"mark": seen.get("mark", ""), "payable": seen.get("payable", "0")}
    body = {"sources": sources, "seen": mark, "close_deal": False, **more}
    return caller.ask("post", "orders", body)


def another(world: World, percent: str | None = None, posts: str = "20") -> Revision:
    """A second quote for the same customer, issued."""
    made = start_quote(world.ilse, today=world.today, customer_id=world.customer.pk)
    given = draft(world, percent=percent, posts=posts)
    saved = save_draft(world.ilse, made.pk, made.version, given, today=world.today)
    return issue_revision(
        world.ilse, saved.pk, saved.version, today=world.today, now=timezone.now()
    )


def state(caller: Caller, revision: Revision) -> str:
    return str(caller("get", f"revisions/{revision.pk}")["state"])


def test_a_part_now_and_the_rest_later_come_to_what_was_offered(
    as_ilse: Caller, issued: Revision
) -> None:
    first = order(as_ilse, source(issued, a="7")).json()
    # 788.50 × 7 ÷ 20 = 275.975, less 3 % (8.28)
    assert (first["lines_net"], first["net"]) == ("275.98", "267.70")
    assert state(as_ilse, issued) == "part_ordered"
    rest = order(as_ilse, source(issued, a="13", b="3")).json()
    assert (rest["lines_net"], rest["document_discount"]) == ("612.27", "18.37")
    # Together the offered 888.25 less 26.65
    assert D(first["net"]) + D(rest["net"]) == D("861.60")
    assert state(as_ilse, issued) == "ordered"
    assert [mark["number"] for mark in as_ilse("get", f"revisions/{issued.pk}")["orders"]] == [
        first["number"],
        rest["number"],
    ]


def test_what_is_left_is_offered_first(as_ilse: Caller, issued: Revision) -> None:
    order(as_ilse, source(issued, a="7"))
    shown = plan(as_ilse, {"revision_id": issued.pk, "version": 1})
    assert [(row["key"], row["quantity"]) for row in shown["rows"]] == [("a", "13"), ("b", "3")]
    lines = {row["key"]: row for row in shown["offers"][0]["lines"]}
    assert (lines["a"]["offered"], lines["a"]["ordered"], lines["a"]["left"]) == ("20", "7", "13")


def test_a_quote_is_not_ordered_twice_by_accident(as_ilse: Caller, issued: Revision) -> None:
    order(as_ilse, source(issued, a="20", b="3"))
    again = plan(as_ilse, {"revision_id": issued.pk, "version": 1})
    assert again["code"] == "ordered"
    assert Order.objects.count() == 1


def test_what_somebody_ordered_meanwhile_is_not_ordered_again(
    as_ilse: Caller, issued: Revision
) -> None:
    seen = plan(as_ilse, source(issued, b="1"))
    order(as_ilse, source(issued, b="1"))
    body = {
        "sources": [source(issued, b="1")],
        "seen": {"mark": seen["mark"], "payable": seen["payable"]},
        "close_deal": False,
    }
    refused = as_ilse.ask("post", "orders", body)
    assert (refused.status_code, refused.json()["code"]) == (409, "changed_unseen")
    assert Order.objects.count() == 1


def test_more_than_was_offered_is_ordered_only_where_it_is_said(
    as_ilse: Caller, issued: Revision
) -> None:
    shown = plan(as_ilse, source(issued, a="24"))
    assert (shown["beyond"], shown["rows"][0]["net"]) == (True, "946.20")
    refused = order(as_ilse, source(issued, a="24"))
    assert (refused.status_code, refused.json()["code"]) == (409, "beyond_offered")
    assert refused.json()["path"] == "sources[0].lines[0].quantity"
    assert not Order.objects.exists()
    made = order(as_ilse, source(issued, a="24"), beyond=True).json()
    assert made["lines"][0]["net"] == "946.20"
    assert Change.objects.filter(field="beyond", after=made["number"]).exists()


def test_a_line_is_divided_over_places_days_and_depots(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    store = Address.objects.create(
        customer=world.customer, kind="delivery", label="Hill store", street="9 Rise",
        postcode="QF7", town="Highfold", country="QF",
    )  # fmt: skip
    early = (world.today + timedelta(days=9)).isoformat()
    wanted = source(issued)
    wanted["lines"] = [
        {"key": "a", "quantity": "12"},
        {"key": "a", "quantity": "8", "address_id": store.pk, "wanted_on": early},
        {"key": "b"},
    ]
    made = order(as_ilse, wanted).json()
    rows = [
        (row["position"], row["quantity"], row["net"], row["wanted_on"]) for row in made["lines"]
    ]
    assert rows == [(1, "12", "473.10", None), (2, "8", "315.40", early), (3, "3", "99.75", None)]
    assert made["lines"][1]["delivery_address"]["town"] == "Highfold"
    assert made["net"] == "861.60"
    as_ilse("post", f"orders/{made['id']}/handover", as_seen(made))
    told = Handover.objects.get().payload["lines"]
    assert [line.get("delivery_address", {}).get("town") for line in told] == [
        None,
        "Highfold",
        None,
    ]
    assert told[1]["wanted_on"] == early


def test_an_address_of_somebody_else_is_none(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    wanted = source(issued)
    wanted["lines"] = [{"key": "a", "quantity": "1", "address_id": 999_999}]
    assert as_ilse.status("post", "order-plan", {"sources": [wanted]}) == 404


def test_two_quotes_make_one_order_each_at_its_own_terms(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    other = another(world, percent=None, posts="10")
    shown = plan(as_ilse, source(issued, a="20", b="3"))
    assert [row["revision_id"] for row in shown["joins"]] == [other.pk]
    made = order(as_ilse, source(issued, a="20", b="3"), source(other, a="10", b="3")).json()
    # 3 % off the first alone: 888.25 − 26.65 + 394.25 + 99.75
    assert (made["document_discount"], made["net"]) == ("26.65", "1355.60")
    assert len(made["quotes"]) == 2
    assert [row["position"] for row in made["lines"]] == [1, 2, 3, 4]
    assert {state(as_ilse, issued), state(as_ilse, other)} == {"ordered"}


def test_quotes_of_two_customers_make_no_order(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    Quote.objects.filter(pk=(other := another(world)).quote_id).update(
        customer=type(world.customer).objects.create(
            name="Elsewhere Farm", number="C-9", owner=world.ilse,
            price_list=world.customer.price_list,
        )
    )  # fmt: skip
    refused = as_ilse.ask(
        "post", "order-plan", {"sources": [source(issued, a="1"), source(other, a="1")]}
    )
    assert (refused.status_code, refused.json()["code"]) == (422, "other_customer")


def test_one_quote_does_not_go_into_an_order_twice(as_ilse: Caller, issued: Revision) -> None:
    twice = [source(issued, a="1"), source(issued, a="1")]
    assert as_ilse.ask("post", "order-plan", {"sources": twice}).json()["code"] == "double_id"
    body = {**accepting(issued), "sources": twice}
    assert as_ilse.ask("post", "orders", body).json()["code"] == "double_id"


@pytest.mark.parametrize(
    ("lines", "code"),
    [
        ([], "required"),
        ([{"key": "nothing", "quantity": "1"}], "unknown_choice"),
        ([{"key": "a", "quantity": "0"}], "malformed"),
        ([{"key": "a", "quantity": "-1"}], "malformed"),
    ],
)
def test_what_cannot_be_ordered_is_refused_and_changes_nothing(
    as_ilse: Caller, issued: Revision, lines: list[dict[str, str]], code: str
) -> None:
    wanted = {**source(issued), "lines": lines}
    refused = as_ilse.ask("post", "orders", {**accepting(issued), "sources": [wanted]})
    assert refused.status_code == 422
    if code != "malformed":
        assert refused.json()["code"] == code
    assert not Order.objects.exists()


def test_a_part_is_of_whole_packs_unless_it_is_all_that_is_left(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    world.post.pack_multiple = D(6)
    world.post.save()
    refused = as_ilse.ask("post", "order-plan", {"sources": [source(issued, a="7")]})
    assert (refused.status_code, refused.json()["code"]) == (422, "not_a_multiple")
    assert "6 or 12" in refused.json()["message"]
    order(as_ilse, source(issued, a="12"))
    # 8 are left: not whole packs, but what was offered
    assert order(as_ilse, source(issued, a="8")).status_code == 201


@pytest.fixture
def with_choices(world: World, as_ilse: Caller, drafted: Revision) -> Revision:
    """Posts, or wire instead of them, and two posts more as an option."""
    body = body_of(drafted)
    body["lines"] += [
        {"key": "c", "kind": "alternative", "alternative_to": "a", "item_id": world.wire.pk,
         "quantity": "1000", "unit": "MTR"},
        {"key": "d", "kind": "optional", "item_id": world.post.pk, "quantity": "2", "unit": "H87"},
    ]  # fmt: skip
    saved = as_ilse("put", f"revisions/{drafted.pk}", body)
    as_ilse("post", f"revisions/{drafted.pk}/issue", as_seen(saved))
    return Revision.objects.get(pk=drafted.pk)


def test_an_alternative_taken_in_part_stays_in_the_place_of_its_line(
    as_ilse: Caller, with_choices: Revision
) -> None:
    order(as_ilse, source(with_choices, c="400"))
    shown = plan(as_ilse, {"revision_id": with_choices.pk, "version": 1})
    assert [(row["key"], row["quantity"]) for row in shown["rows"]] == [("b", "3"), ("c", "600")]
    assert shown["offers"][0]["lines"][0]["replaced"]
    refused = as_ilse.ask("post", "order-plan", {"sources": [source(with_choices, a="1")]})
    assert refused.json()["code"] == "both_of_one"
    order(as_ilse, source(with_choices, b="3", c="600"))
    assert state(as_ilse, with_choices) == "ordered"  # an option is not missed


def test_a_line_and_its_alternative_are_not_both_ordered(
    as_ilse: Caller, with_choices: Revision
) -> None:
    refused = as_ilse.ask("post", "order-plan", {"sources": [source(with_choices, a="1", c="1")]})
    assert (refused.status_code, refused.json()["code"]) == (422, "both_of_one")


def test_the_rest_is_closed_with_a_reason_and_then_nothing_more_is_ordered(
    as_ilse: Caller, issued: Revision
) -> None:
    path = f"quotes/{issued.quote_id}/close-rest"
    assert as_ilse.ask("post", path, {"reason": "Enough"}).json()["code"] == "not_now"
    order(as_ilse, source(issued, a="7"))
    assert as_ilse.status("post", path, {"reason": " "}) == 422
    told = as_ilse("post", path, {"reason": "They bought the wire elsewhere"})
    assert (told["state"], told["rest_reason"]) == ("ordered", "They bought the wire elsewhere")
    assert plan(as_ilse, source(issued, a="1"))["code"] == "ordered"
    assert as_ilse("get", "quotes", state="part_ordered")["count"] == 0
    assert as_ilse("get", "quotes", state="ordered")["count"] == 1


@pytest.mark.parametrize("act", ["decline", "revise"])
def test_a_quote_ordered_in_part_is_neither_declined_nor_revised(
    as_ilse: Caller, issued: Revision, act: str
) -> None:
    order(as_ilse, source(issued, a="7"))
    body = {"reason": "No"} if act == "decline" else {}
    refused = as_ilse.ask("post", f"quotes/{issued.quote_id}/{act}", body)
    assert (refused.status_code, refused.json()["code"]) == (409, "ordered")


def lapse(monkeypatch: pytest.MonkeyPatch, revision: Revision, days: int = 1) -> None:
    later = revision.valid_until + timedelta(days=days)
    for module in ("api.ordering", "api.quotes.view", "api.quotes.lists", "api.today"):
        monkeypatch.setattr(f"{module}.today", lambda: later)


def test_a_lapsed_quote_is_ordered_late_with_the_leads_word(
    world: World, as_ilse: Caller, issued: Revision, monkeypatch: pytest.MonkeyPatch
) -> None:
    quote = issued.quote_id
    ask, allow = f"quotes/{quote}/ask-late", f"quotes/{quote}/allow-late"
    assert as_ilse.ask("post", ask, {"reason": "Early"}).json()["code"] == "not_now"
    lapse(monkeypatch, issued)
    assert plan(as_ilse, source(issued, a="20"))["code"] == "lapsed"
    until = (issued.valid_until + timedelta(days=5)).isoformat()
    given = {"until": until, "reason": "They were at the fair"}
    assert as_ilse.status("post", allow, given) == 403
    as_ilse("post", ask, {"reason": "They were at the fair"})
    petra = world.call(world.petra)
    stops = petra("get", "today")["sign_offs"]
    assert [stop["to"] for stop in stops] == [f"/quotes/{issued.pk}"]
    assert "fair" in stops[0]["detail"]
    assert petra("post", allow, given)["allowed_until"] == until
    assert petra("get", "today")["sign_offs"] == []
    assert Change.objects.filter(field="may be ordered until", reason=given["reason"]).exists()
    assert state(as_ilse, issued) == "issued"
    assert order(as_ilse, source(issued, a="20", b="3")).status_code == 201


def test_what_was_allowed_ends_with_its_day_and_with_a_revision(
    world: World, as_ilse: Caller, issued: Revision, monkeypatch: pytest.MonkeyPatch
) -> None:
    lapse(monkeypatch, issued)
    until = issued.valid_until + timedelta(days=5)
    petra, body = world.call(world.petra), {"until": until.isoformat(), "reason": "Fair"}
    petra("post", f"quotes/{issued.quote_id}/allow-late", body)
    lapse(monkeypatch, issued, days=6)
    assert plan(as_ilse, source(issued, a="20"))["code"] == "lapsed"
    assert as_ilse("get", "quotes", state="lapsed")["count"] == 1
    monkeypatch.setattr("api.quotes.acts.today", lambda: issued.valid_until + timedelta(days=6))
    as_ilse("post", f"quotes/{issued.quote_id}/revise")
    assert Quote.objects.get(pk=issued.quote_id).allowed_until is None


def test_a_day_gone_by_is_not_allowed(
    world: World, issued: Revision, monkeypatch: pytest.MonkeyPatch
) -> None:
    lapse(monkeypatch, issued)
    body = {"until": issued.valid_until.isoformat(), "reason": "Fair"}
    path = f"quotes/{issued.quote_id}/allow-late"
    assert world.call(world.petra).ask("post", path, body).json()["code"] == "date_gone_by"
    assert world.call(world.stranger).status("post", path, body) == 404


def test_a_draft_is_ordered_without_being_offered(as_ilse: Caller, drafted: Revision) -> None:
    shown = as_ilse("get", f"revisions/{drafted.pk}")
    body = as_seen(shown, close_deal=False, buyer_reference="By phone")
    made = as_ilse("post", f"revisions/{drafted.pk}/order-now", body)
    assert (made["payable"], made["buyer_reference"]) == ("1033.92", "By phone")
    assert made["quotes"][0]["direct"]
    assert state(as_ilse, drafted) == "ordered"


def test_nothing_stays_of_an_order_at_once_that_is_refused(
    as_ilse: Caller, drafted: Revision
) -> None:
    shown = as_ilse("get", f"revisions/{drafted.pk}")
    body = as_seen(shown, close_deal=False, requested_on="2020-01-01")
    assert as_ilse.status("post", f"revisions/{drafted.pk}/order-now", body) == 422
    assert (state(as_ilse, drafted), Order.objects.count()) == ("draft", 0)


@pytest.mark.django_db(transaction=True)
def test_of_two_who_order_all_at_once_one_does(world: World, issued: Revision) -> None:
    together, outcomes = Barrier(2), []

    def go() -> None:
        together.wait()
        try:
            write_order(
                world.ilse, issued.pk, issued.version, today=world.today, now=timezone.now(),
                close_deal=False, wants=[Want(key="a", quantity=D(15))],
            )  # fmt: skip
            outcomes.append("ordered")
        except FlowError as error:
            outcomes.append(error.code)
        finally:
            connection.close()

    threads = [Thread(target=go) for _ in range(2)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(outcomes) == ["beyond_offered", "ordered"]
    assert OrderLine.objects.get().quantity == 15


@settings(
    max_examples=15,
    deadline=None,
    suppress_health_check=[HealthCheck.function_scoped_fixture],
)
@given(cuts=st.lists(st.integers(min_value=1, max_value=9), min_size=1, max_size=5))
def test_however_it_is_divided_nothing_is_lost(world: World, cuts: list[int]) -> None:
    """Orders of any parts, and then the rest, come to the offered net and discount."""
    revision = another(world, percent="3", posts="46")
    left = 46
    for cut in cuts:
        if cut >= left:
            break
        _order_of(world, revision, Want(key="a", quantity=D(cut)))
        left -= cut
    _order_of(world, revision, Want(key="a"), Want(key="b"))
    taken = Acceptance.objects.filter(revision=revision)
    offered = revision.priced["totals"]
    assert sum(row.lines_net for row in taken) == D(offered["lines_net"])
    assert sum(row.discount for row in taken) == D(offered["document_discount"])
    assert sum(row.order.net for row in taken) == D(offered["net"])
    assert Quote.objects.get(pk=revision.quote_id).lines_left == 0


def _order_of(world: World, revision: Revision, *wants: Want) -> Order:
    return write_order(
        world.ilse, revision.pk, revision.version, today=world.today, now=timezone.now(),
        close_deal=False, wants=wants,
    )  # fmt: skip


def test_a_plan_takes_a_constant_number_of_queries(
    world: World, as_ilse: Caller, issued: Revision, queries_of: Any
) -> None:
    few = queries_of(lambda: plan(as_ilse, source(issued, a="1")))
    divided = {**source(issued), "lines": [{"key": "a", "quantity": "1"}] * 18}
    assert queries_of(lambda: plan(as_ilse, divided)) == few
    place = Address.objects.get(customer=world.customer).pk
    elsewhere = {"key": "a", "quantity": "1", "address_id": place}
    divided = {**source(issued), "lines": [elsewhere] * 18}
    assert queries_of(lambda: plan(as_ilse, divided)) == few + 1  # the addresses, together


def test_a_plan_changes_nothing(as_ilse: Caller, issued: Revision, snapshot: Any) -> None:
    before = snapshot()
    plan(as_ilse, source(issued, a="3"))
    assert snapshot() == before


def test_a_plan_is_of_what_may_be_seen(world: World, issued: Revision) -> None:
    body = {"sources": [source(issued, a="3")]}
    assert world.call(world.stranger).status("post", "order-plan", body) == 404
    assert world.call(world.joren).status("post", "order-plan", body) == 403
    assert plan_order(world.petra, [Source(revision_id=issued.pk)], today=world.today).takes


def cancel(caller: Caller, made: Any, reason: str = "A slip") -> Any:
    body = {"version": made["version"], "reason": reason}
    return caller.ask("post", f"orders/{made['id']}/cancel", body)


def test_what_a_cancelled_order_took_is_left_again(as_ilse: Caller, issued: Revision) -> None:
    made = order(as_ilse, source(issued, a="20", b="3")).json()
    assert as_ilse("get", f"revisions/{issued.pk}")["standing"]["exposure"] == "1033.92"
    gone = cancel(as_ilse, made, "Typed twice").json()
    assert (gone["state"], gone["cancel_reason"]) == ("cancelled", "Typed twice")
    shown = as_ilse("get", f"revisions/{issued.pk}")
    assert (shown["state"], shown["standing"]["exposure"]) == ("issued", "0.00")
    again = order(as_ilse, source(issued, a="20", b="3")).json()
    assert (again["payable"], again["document_discount"]) == ("1033.92", "26.65")
    assert Change.objects.filter(what="order", reason="Typed twice").exists()


def test_a_cancelled_part_leaves_the_other(as_ilse: Caller, issued: Revision) -> None:
    first = order(as_ilse, source(issued, a="7")).json()
    second = order(as_ilse, source(issued, a="13", b="3")).json()
    as_ilse("post", f"quotes/{issued.quote_id}/close-rest", {"reason": "x"})
    assert cancel(as_ilse, first).status_code == 200
    shown = as_ilse("get", f"revisions/{issued.pk}")
    assert (shown["state"], shown["order_number"]) == ("part_ordered", second["number"])
    rest = order(as_ilse, source(issued, a="7")).json()
    assert D(rest["net"]) + D(second["net"]) == D("861.60")


def test_a_cancelled_order_is_in_no_list_but_its_own(as_ilse: Caller, issued: Revision) -> None:
    made = order(as_ilse, source(issued, a="7")).json()
    cancel(as_ilse, made)
    counts = {
        state: as_ilse("get", "orders", state=state)["count"]
        for state in ("", "way", "unbilled", "ready", "paid", "cancelled")
    }
    assert counts == {"": 1, "way": 0, "unbilled": 0, "ready": 0, "paid": 0, "cancelled": 1}
    assert as_ilse("get", "today")["orders_under_way"]["count"] == 0


def test_a_cancelled_order_is_neither_handed_over_nor_cancelled_again(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    made = order(as_ilse, source(issued, a="7")).json()
    assert cancel(as_ilse, made, " ").status_code == 422
    assert cancel(world.call(world.stranger), made).status_code == 404
    gone = cancel(as_ilse, made).json()
    assert cancel(as_ilse, gone).json()["code"] == "cancelled"
    refused = as_ilse.ask("post", f"orders/{made['id']}/handover", as_seen(gone))
    assert (refused.status_code, refused.json()["code"]) == (409, "cancelled")


def test_an_order_that_was_handed_over_is_not_cancelled_here(
    as_ilse: Caller, issued: Revision
) -> None:
    made = order(as_ilse, source(issued, a="7")).json()
    sent = as_ilse("post", f"orders/{made['id']}/handover", as_seen(made))
    refused = cancel(as_ilse, sent)
    assert (refused.status_code, refused.json()["code"]) == (409, "handed_over")
    assert refused.json()["message"].startswith(
        "The order was handed over already: the back office"
    )


def test_an_agreement_has_back_what_a_cancelled_order_called_off(
    world: World, as_ilse: Caller
) -> None:
    agreement = agree(world)
    revision = another(world, posts="30")
    made = order(as_ilse, source(revision, a="12")).json()
    line = OrderLine.objects.get()
    assert (line.agreement_id, line.called_off) == (agreement.pk, 12)
    cancel(as_ilse, made)
    assert OrderLine.objects.get().called_off is None


def test_orders_are_found_by_what_people_ask(
    world: World, as_ilse: Caller, issued: Revision, monkeypatch: pytest.MonkeyPatch
) -> None:
    """From the order to its delivery: which questions find it, on the day it leaves and later."""
    made = order(as_ilse, source(issued, a="7", b="3")).json()
    monday = world.today - timedelta(days=world.today.weekday()) + timedelta(days=7)
    OrderLine.objects.filter(position=1).update(promised_on=monday + timedelta(days=1))
    OrderLine.objects.filter(position=2).update(promised_on=monday + timedelta(days=3))

    def found(on: Any) -> set[str]:
        monkeypatch.setattr("api.orders.today", lambda: on)
        asked = ("ready", "waiting", "held", "this_week", "late", "part_delivered", "delivered")
        return {state for state in asked if as_ilse("get", "orders", state=state)["count"]}

    assert found(world.today) == {"ready"}
    assert found(monday) == {"ready", "this_week"}
    [row] = as_ilse("get", "orders")["rows"]
    assert (row["leaves_on"], row["late"]) == ((monday + timedelta(days=3)).isoformat(), False)
    as_ilse("post", f"orders/{made['id']}/handover", as_seen(made))
    assert found(monday + timedelta(days=4)) == {"waiting", "late"}
    Handover.objects.update(state="held")
    row_of = Order.objects.get()
    left = Delivery.objects.create(order=row_of, number="DN-1", on=monday)
    first, second = row_of.lines.order_by("position")
    DeliveryLine.objects.create(delivery=left, order_line=first, quantity=7)
    assert found(monday) == {"held", "this_week", "part_delivered"}
    DeliveryLine.objects.create(delivery=left, order_line=second, quantity=3)
    assert found(monday + timedelta(days=9)) == {"held", "delivered"}


def test_an_order_leaves_as_its_last_line_does(as_ilse: Caller, issued: Revision) -> None:
    wanted = as_ilse("get", f"revisions/{issued.pk}")["on"]
    made = order(as_ilse, source(issued, a="7"), requested_on=wanted).json()
    assert made["leaves_on"] == wanted  # nothing is promised without a depot: the wanted day


def test_locked_prices_show_where_the_rules_have_moved(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    made = order(as_ilse, source(issued, a="7", b="3")).json()
    path = f"orders/{made['id']}"
    assert as_ilse("get", f"{path}/again")["moved"] == 0
    world.post.prices.update(price=D("50.00"))
    shown = as_ilse("get", f"{path}/again")
    # 7 × 50.00 less 5 % = 332.50, with 99.75 less 3 % (12.97) and 20 %
    assert (shown["moved"], shown["payable_now"]) == (1, "503.14")
    first = shown["rows"][0]
    assert (first["price"], first["price_now"]) == ("41.50", "50.00")
    assert (first["net"], first["net_now"]) == ("275.98", "332.50")
    assert as_ilse("get", path)["payable"] == made["payable"]


def take_today(caller: Caller, made: Any, shown: Any) -> Any:
    seen = {"mark": shown["mark"], "payable": shown["payable_now"]}
    body = {"version": made["version"], "seen": seen}
    return caller.ask("post", f"orders/{made['id']}/price-again", body)


def test_todays_prices_are_taken_as_they_were_seen_and_recorded(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    made = order(as_ilse, source(issued, a="7", b="3")).json()
    world.post.prices.update(price=D("50.00"))
    shown = as_ilse("get", f"orders/{made['id']}/again")
    world.post.prices.update(price=D("51.00"))
    assert take_today(as_ilse, made, shown).json()["code"] == "total_changed"
    shown = as_ilse("get", f"orders/{made['id']}/again")
    now = take_today(as_ilse, made, shown).json()
    assert (now["payable"], now["lines"][0]["price"]) == (shown["payable_now"], "51.00")
    [change] = Change.objects.filter(what="order", reason="priced again")
    assert (change.field, change.before, change.after) == ("line 1 POST-25: price", "41.5", "51")
    assert as_ilse("get", f"orders/{made['id']}/again")["moved"] == 0
    rest = order(as_ilse, source(issued, a="13")).json()
    assert D(rest["document_discount"]) > 0  # what is left is in proportion still


def test_what_was_handed_over_keeps_its_prices(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    made = order(as_ilse, source(issued, a="7")).json()
    sent = as_ilse("post", f"orders/{made['id']}/handover", as_seen(made))
    world.post.prices.update(price=D("50.00"))
    shown = as_ilse("get", f"orders/{made['id']}/again")
    assert (shown["moved"], shown["may"]) == (1, False)
    assert take_today(as_ilse, sent, shown).json()["code"] == "handed_over"


def test_an_item_without_a_price_is_told_and_nothing_is_taken(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    made = order(as_ilse, source(issued, a="7")).json()
    world.post.prices.all().delete()
    shown = as_ilse("get", f"orders/{made['id']}/again")
    assert (shown["rows"][0]["price_now"], shown["payable_now"], shown["may"]) == (
        None,
        None,
        False,
    )
    refused = take_today(as_ilse, made, {**shown, "payable_now": "0"})
    assert (refused.status_code, refused.json()["code"]) == (409, "needs_price")


def test_each_order_lies_on_its_own_route_with_the_others_beside_it(
    as_ilse: Caller, issued: Revision
) -> None:
    first = order(as_ilse, source(issued, a="7")).json()
    second = order(as_ilse, source(issued, a="13", b="3")).json()

    def stop(path: str) -> tuple[str, list[str], str]:
        [found] = [each for each in as_ilse("get", path)["route"] if each["kind"] == "order"]
        return found["name"], [branch["name"] for branch in found["branches"]], found["state"]

    one, other = first["number"], second["number"]
    assert stop(f"orders/{first['id']}") == (one, [other], "here")
    assert stop(f"orders/{second['id']}") == (other, [one], "here")
    assert stop(f"revisions/{issued.pk}") == (other, [one], "here")
    cancel(as_ilse, second)
    assert stop(f"orders/{second['id']}") == (other, [one], "trouble")
    assert stop(f"revisions/{issued.pk}") == (one, [], "here")


def test_what_is_left_of_an_offer_lapses_and_is_told(
    as_ilse: Caller, issued: Revision, monkeypatch: pytest.MonkeyPatch
) -> None:
    order(as_ilse, source(issued, a="7"))
    soon = issued.valid_until - timedelta(days=2)
    for module in ("api.today", "api.quotes.lists"):
        monkeypatch.setattr(f"{module}.today", lambda: soon)
    [stop] = as_ilse("get", "today")["lapsing"]
    assert stop["to"] == f"/quotes/{issued.pk}"
    assert as_ilse("get", "quotes", state="lapsing")["count"] == 1
    as_ilse("post", f"quotes/{issued.quote_id}/close-rest", {"reason": "Enough"})
    assert as_ilse("get", "today")["lapsing"] == []


def test_an_order_of_two_quotes_with_lines_for_elsewhere_is_a_valid_document(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    store = Address.objects.create(
        customer=world.customer, kind="delivery", label="Hill store", street="9 Rise",
        postcode="QF7", town="Highfold", country="QF",
    )  # fmt: skip
    other = another(world, posts="10")
    wanted = source(issued)
    wanted["lines"] = [{"key": "a", "address_id": store.pk}, {"key": "b"}]
    made = order(as_ilse, wanted, source(other, a="4")).json()
    document = valid(as_ilse.ask("get", f"orders/{made['id']}/ubl").content, "Order")
    quotes = [quote["number"].replace(" ", "-") for quote in made["quotes"]]
    assert document.findtext(".//{*}QuotationDocumentReference/{*}ID") == quotes[0]
    assert document.findtext(".//{*}AdditionalDocumentReference/{*}ID") == quotes[1]
    towns = [
        line.findtext(".//{*}DeliveryAddress/{*}CityName")
        for line in document.findall(".//{*}OrderLine")
    ]
    assert towns == ["Highfold", None, None]
    assert document.findtext(".//{*}AnticipatedMonetaryTotal/{*}PayableAmount") == made["payable"]


def test_an_order_is_confirmed_on_paper_in_both_languages(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    wanted = source(issued)
    late = (world.today + timedelta(days=20)).isoformat()
    wanted["lines"] = [{"key": "a", "quantity": "7", "wanted_on": late}, {"key": "b"}]
    made = order(as_ilse, wanted, buyer_reference="PO 4711").json()
    undated = words_of(as_ilse.ask("get", f"orders/{made['id']}/pdf").content)
    assert "Complete by" not in undated  # nothing is promised yet
    OrderLine.objects.update(promised_on=late)
    path = f"orders/{made['id']}/pdf"
    english = words_of(as_ilse.ask("get", path).content)
    for words in (
        "Order confirmation",
        made["number"],
        "PO 4711",
        "Chestnut post",
        "leaves on",
        "Complete by",
    ):
        assert words in english
    assert made["payable"] in english.replace("\N{NO-BREAK SPACE}", "")
    for words in ("Quote", "Valid until", "Prices hold", "Signature", "revision"):
        assert words not in english
    german = words_of(as_ilse.ask("get", path, language="de", paper="detailed").content)
    assert "Auftragsbestätigung" in german
    assert "geht ab am" in german
    # The wire is ordered whole: how its price came about; the posts are a part.
    assert german.count("Listenpreis") == 1
    assert world.call(world.joren).status("get", path) == 200
    assert world.call(world.stranger).status("get", path) == 404
    cancel(as_ilse, made)
    assert as_ilse.ask("get", path).json()["code"] == "cancelled"


@pytest.mark.parametrize(
    ("said", "status"), [({"depot_id": 999_999}, 404), ({"wanted_on": "2020-01-01"}, 422)]
)
def test_a_line_from_nowhere_or_for_yesterday_is_refused(
    as_ilse: Caller, issued: Revision, said: dict[str, Any], status: int
) -> None:
    wanted = {**source(issued), "lines": [{"key": "a", "quantity": "1", **said}]}
    assert as_ilse.status("post", "order-plan", {"sources": [wanted]}) == status
    assert as_ilse.status("post", "orders", {**accepting(issued), "sources": [wanted]}) == status
    assert not Order.objects.exists()
