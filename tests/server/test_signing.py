"""A sign-off is for exactly what was seen, by somebody who neither asked nor owns it."""

from datetime import timedelta
from typing import Any

from django.db import IntegrityError
import pytest

from apps.catalogue.models import Item
from apps.orders.models import Order
from apps.prices.models import Limit
from apps.quotes.models import Revision, SignOff
from demo.factories import ItemFactory, PriceEntryFactory, UserFactory
from tests.server.conftest import Caller, D, World, accepting, as_seen
from tests.server.test_quotes import body_of


@pytest.fixture
def limits(db: None) -> None:
    """A rep's limits: 10 % on a line, a floor of 20 %; a lead's are wider."""
    Limit.objects.create(role="rep", line_percent=D(10), document_percent=D(10), margin_floor=D(20))


@pytest.fixture
def dear(world: World) -> Item:
    """An item that costs far more than the post, at the post's list price."""
    made = ItemFactory(code="POST-99", name="Oak post", cost=D(400))
    PriceEntryFactory(item=made, price=D("41.50"))
    return made


@pytest.fixture
def signed(world: World, drafted: Revision, limits: None) -> dict[str, Any]:
    """15 % off the first line, granted by the lead."""
    body = body_of(drafted)
    body["lines"][0]["discount_percent"] = "15"
    own = world.call(world.ilse)
    saved = own("put", f"revisions/{drafted.pk}", body)
    assert {row["code"] for row in saved["excesses"]} >= {"line_discount"}
    own("post", f"revisions/{drafted.pk}/sign-off", {**as_seen(saved), "reason": "They asked"})
    row = SignOff.objects.get()
    answer = {**as_seen(saved), "granted": True}
    shown = world.call(world.petra)("post", f"sign-offs/{row.pk}", answer)
    assert shown["sign_off"]["answer"] == "granted"
    return body | {"version": saved["version"]}


def changes(world: World, dear: Item) -> dict[str, dict[str, Any]]:
    line = {"text": "Free fitting included"}
    return {
        "item": {"line": {"item_id": dear.pk}},
        "quantity": {"line": {"quantity": "21"}},
        "price": {"line": {"price": "41.49", "price_reason": "x"}},
        "words of a line": {"line": line},
        "terms": {"terms_days": 365, "terms_end_of_month": ""},
        "validity": {"valid_until": (world.today + timedelta(days=3000)).isoformat()},
        "words": {"message": "With everything for free"},
        "delivery": {"requested_on": (world.today + timedelta(days=1)).isoformat()},
        "charge": {"charges": [{"name": "Freight", "amount": "0.00", "tax_category": "standard"}]},
    }


@pytest.mark.parametrize(
    "what",
    [
        *("item", "quantity", "price", "words of a line", "terms", "validity", "words"),
        *("delivery", "charge"),
    ],
)
def test_it_ends_with_any_change_of_what_was_signed(
    world: World,
    as_ilse: Caller,
    drafted: Revision,
    signed: dict[str, Any],
    dear: Item,
    what: str,
) -> None:
    change = dict(changes(world, dear)[what])
    body = {**signed, "lines": [dict(line) for line in signed["lines"]]}
    body["lines"][0] |= change.pop("line", {})
    saved = as_ilse.ask("put", f"revisions/{drafted.pk}", body | change)
    assert saved.status_code == 200, saved.json()
    assert saved.json()["sign_off"] is None
    issued = as_ilse.ask("post", f"revisions/{drafted.pk}/issue", as_seen(saved.json()))
    assert (issued.status_code, issued.json()["code"]) == (409, "sign_off_needed")


def test_it_stays_where_only_the_addressee_changes(
    as_ilse: Caller, drafted: Revision, signed: dict[str, Any]
) -> None:
    saved = as_ilse("put", f"revisions/{drafted.pk}", signed | {"buyer_reference": "PO 7"})
    assert saved["sign_off"]["answer"] == "granted"
    assert as_ilse.status("post", f"revisions/{drafted.pk}/issue", as_seen(saved)) == 200


def test_it_ends_when_the_item_comes_to_cost_more(
    world: World, as_ilse: Caller, drafted: Revision, signed: dict[str, Any]
) -> None:
    Item.objects.filter(pk=world.post.pk).update(cost=D(40))
    shown = as_ilse("get", f"revisions/{drafted.pk}")
    issued = as_ilse.ask("post", f"revisions/{drafted.pk}/issue", as_seen(shown))
    assert (issued.status_code, issued.json()["code"]) == (409, "sign_off_needed")


def test_nobody_signs_their_own_quote_whoever_asked(
    world: World, drafted: Revision, limits: None
) -> None:
    Limit.objects.create(role="lead", line_percent=D(1))
    drafted.quote.owner = world.petra
    drafted.quote.save()
    other = world.call(UserFactory(username="second", team=world.petra.team, role="lead"))
    shown = other("put", f"revisions/{drafted.pk}", body_of(drafted))
    other("post", f"revisions/{drafted.pk}/sign-off", {**as_seen(shown), "reason": "x"})
    row = SignOff.objects.get()
    answer = {**as_seen(shown), "granted": True}
    for person, code in ((world.petra, "own_quote"), (row.asked_by, "own_request")):
        refused = world.call(person).ask("post", f"sign-offs/{row.pk}", answer)
        assert (refused.status_code, refused.json()["code"]) == (403, code)


def test_nothing_is_asked_for_on_an_issued_revision(as_ilse: Caller, issued: Revision) -> None:
    body = {**as_seen(issued), "reason": "x"}
    refused = as_ilse.ask("post", f"revisions/{issued.pk}/sign-off", body)
    assert (refused.status_code, refused.json()["code"]) == (409, "issued")


def test_one_question_is_open_for_one_content(
    world: World, drafted: Revision, signed: dict[str, Any]
) -> None:
    row = SignOff.objects.get()
    twin = {
        **{name: getattr(row, name) for name in ("revision", "fingerprint", "asked_by")},
        "asked_at": row.asked_at,
    }
    SignOff.objects.create(**twin)
    with pytest.raises(IntegrityError):
        SignOff.objects.create(**twin)


def test_taking_a_cheaper_alternative_is_judged_by_the_limits(
    world: World, as_ilse: Caller, drafted: Revision, limits: None
) -> None:
    """An amount of 70 off is within a tenth of the posts, and beyond it of the wire instead."""
    body = body_of(drafted, discount_percent=None, discount_amount="70.00")
    first, second = body["lines"]
    first["discount_percent"] = second["discount_percent"] = None
    second |= {"kind": "alternative", "alternative_to": first["key"]}
    saved = as_ilse("put", f"revisions/{drafted.pk}", body)
    codes = [row["code"] for row in saved["excesses"]]
    issued = as_ilse("post", f"revisions/{drafted.pk}/issue", as_seen(saved))
    assert (codes, issued.get("state")) == ([], "issued"), issued
    taken = accepting(issued, take=[second["key"]])
    told = as_ilse("post", "order-plan", {"sources": taken["sources"]})
    assert not told["within_limits"]
    taken["seen"] = {"mark": told["mark"], "payable": told["payable"]}
    made = as_ilse("post", "orders", taken)
    assert (made["held_back"], made["halted"]) == (True, False)
    assert ("document_discount", "10") in [(e["code"], e["limit"]) for e in made["excesses"]]
    path = f"orders/{made['id']}"
    refused = as_ilse.ask("post", f"{path}/handover", as_seen(made))
    assert (refused.status_code, refused.json()["code"]) == (409, "limit_needs_sign_off")
    asked = as_ilse("post", f"{path}/sign-off", {**as_seen(made), "reason": "They take it today"})
    petra = world.call(world.petra)
    (stop,) = petra("get", "today")["sign_offs"]
    assert (stop["title"], stop["kind"]) == (made["number"], "sign_off")
    answer = {"granted": True, "seen": as_seen(made)["seen"]}
    signed_off = petra("post", f"order-sign-offs/{asked['sign_off']['id']}", answer)
    assert signed_off["sign_off"]["answer"] == "granted"
    assert as_ilse.status("post", f"{path}/handover", as_seen(signed_off)) == 200


def test_what_was_offered_whole_needs_no_second_sign_off(
    world: World, as_ilse: Caller, issued: Revision, limits: None
) -> None:
    made = as_ilse("post", "orders", accepting(issued))
    assert (made["held_back"], made["excesses"]) == (False, [])


def test_a_worse_figure_than_was_signed_asks_anew_and_costs_are_told_to_nobody_without_the_right(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    made = as_ilse("post", "orders", accepting(issued))
    order = Order.objects.get(pk=made["id"])
    acceptance = order.acceptances.get()

    def beyond(found: str) -> None:
        key = issued.lines.order_by("position")[0].key
        row = {"code": "margin_floor", "line": key, "found": found, "limit": "12"}
        acceptance.excesses = [row]
        acceptance.save()

    def hand_over() -> str:
        shown = as_ilse("get", f"orders/{order.pk}")
        answer = as_ilse.ask("post", f"orders/{order.pk}/handover", as_seen(shown))
        return "" if answer.status_code == 200 else answer.json()["code"]

    beyond("9.5")
    shown = as_ilse("get", f"orders/{order.pk}")
    assert shown["excesses"][0] | {"what": ""} == {
        "code": "margin_floor", "what": "", "found": "9.5", "limit": "12",
    }  # fmt: skip
    world.ilse.may_see_margin = False
    world.ilse.save()
    hidden = as_ilse("get", f"orders/{order.pk}")["excesses"][0]
    assert (hidden["code"], hidden["found"], hidden["limit"]) == ("under_floor", None, None)
    asked = as_ilse("post", f"orders/{order.pk}/sign-off", {**as_seen(shown), "reason": "x"})
    answer = {"granted": True, "seen": as_seen(shown)["seen"]}
    world.call(world.petra)("post", f"order-sign-offs/{asked['sign_off']['id']}", answer)
    beyond("9.4")
    assert hand_over() == "limit_needs_sign_off"
    beyond("9.6")
    assert hand_over() == ""
