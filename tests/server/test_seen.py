"""What is done is what was seen; an answer that was lost on its way is given again."""

from datetime import timedelta
from typing import Any

from django.utils import timezone
import pytest

from apps.orders.models import Order
from apps.quotes.flows.issuing import issue_revision
from apps.quotes.models import Revision
from demo.factories import PriceEntryFactory
from tests.server.conftest import Caller, D, World, accepting, as_seen
from tests.server.test_quotes import body_of


def save(caller: Caller, revision: Revision, **changes: Any) -> Any:
    revision.refresh_from_db()
    return caller("put", f"revisions/{revision.pk}", body_of(revision, **changes))


def other_mark(shown: Any) -> dict[str, Any]:
    body: dict[str, Any] = as_seen(shown)
    body["seen"]["mark"] = "0" * 32
    return body


def test_only_what_was_seen_is_issued_and_the_refusal_names_both_totals(
    as_ilse: Caller, drafted: Revision
) -> None:
    first = save(as_ilse, drafted)
    body = body_of(Revision.objects.get(pk=drafted.pk))
    body["lines"][0]["quantity"] = "200"
    now = as_ilse("put", f"revisions/{drafted.pk}", body)
    seen = {**as_seen(first), "version": now["version"]}
    refused = as_ilse.ask("post", f"revisions/{drafted.pk}/issue", seen)
    before, after = first["priced"]["totals"]["payable"], now["priced"]["totals"]["payable"]
    assert (refused.status_code, refused.json()["code"]) == (409, "total_changed")
    assert refused.json()["facts"] == {"from": before, "to": after, "currency": "EUR"}
    assert f"from {before} to {after}" in refused.json()["message"]
    assert Revision.objects.get(pk=drafted.pk).issued_at is None
    assert as_ilse.status("post", f"revisions/{drafted.pk}/issue", as_seen(now)) == 200


def test_words_and_terms_are_part_of_what_was_seen(as_ilse: Caller, drafted: Revision) -> None:
    first = save(as_ilse, drafted)
    now = save(as_ilse, drafted, message="Free of charge, as agreed")
    seen = {**as_seen(first), "version": now["version"]}
    refused = as_ilse.ask("post", f"revisions/{drafted.pk}/issue", seen)
    assert (refused.status_code, refused.json()["code"]) == (409, "changed_unseen")


def test_what_is_shown_while_typing_has_the_mark_of_the_save_that_follows(
    as_ilse: Caller, drafted: Revision
) -> None:
    body = body_of(drafted, discount_percent="4.50", message=" Dear Holm ")
    typed = as_ilse("post", f"revisions/{drafted.pk}/price", body)
    saved = as_ilse("put", f"revisions/{drafted.pk}", body)
    assert typed["mark"] == saved["mark"] == as_ilse("get", f"revisions/{drafted.pk}")["mark"]
    body["discount_percent"] = "4.6"
    assert as_ilse("post", f"revisions/{drafted.pk}/price", body)["mark"] != saved["mark"]


@pytest.mark.parametrize("act", ["sign-off", "order-now"])
def test_every_act_on_a_draft_asks_what_was_seen(
    as_ilse: Caller, drafted: Revision, act: str
) -> None:
    body = {**other_mark(drafted), "reason": "x", "close_deal": False}
    refused = as_ilse.ask("post", f"revisions/{drafted.pk}/{act}", body)
    assert (refused.status_code, refused.json()["code"]) == (409, "changed_unseen")
    del body["seen"]
    assert as_ilse.status("post", f"revisions/{drafted.pk}/{act}", body) == 422
    assert not Order.objects.exists()


def test_an_order_asks_what_was_seen(as_ilse: Caller, issued: Revision) -> None:
    body = {**accepting(issued), "seen": other_mark(issued)["seen"]}
    refused = as_ilse.ask("post", "orders", body)
    assert (refused.status_code, refused.json()["code"]) == (409, "changed_unseen")
    del body["seen"]
    assert as_ilse.status("post", "orders", body) == 422
    assert not Order.objects.exists()


def test_an_order_is_written_for_the_total_that_was_shown(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    body = body_of(drafted)
    body["lines"][1]["kind"] = "optional"
    as_ilse("put", f"revisions/{drafted.pk}", body)
    drafted.refresh_from_db()
    issued = as_ilse("post", f"revisions/{drafted.pk}/issue", as_seen(drafted))
    accept = accepting(issued, take=["b"])
    without = as_ilse("post", "order-plan", {"sources": accepting(issued)["sources"]})
    taken = as_ilse("post", "order-plan", {"sources": accept["sources"]})
    assert without["payable"] == issued["priced"]["totals"]["payable"] != taken["payable"]
    refused = as_ilse.ask("post", "orders", accept)
    assert refused.json()["facts"]["to"] == taken["payable"]
    assert not Order.objects.exists()
    accept["seen"] = {"mark": taken["mark"], "payable": taken["payable"]}
    assert as_ilse("post", "orders", accept)["payable"] == taken["payable"]


def test_only_the_order_that_was_seen_is_handed_over(as_ilse: Caller, issued: Revision) -> None:
    order = as_ilse("post", "orders", accepting(issued))
    path = f"orders/{order['id']}/handover"
    assert as_ilse.ask("post", path, other_mark(order)).json()["code"] == "changed_unseen"
    Order.objects.filter(pk=order["id"]).update(payable=D("1.00"))
    refused = as_ilse.ask("post", path, as_seen(order)).json()
    assert (refused["code"], refused["facts"]["to"]) == ("total_changed", "1.00")
    fresh = as_ilse("get", f"orders/{order['id']}")
    assert as_ilse.status("post", path, as_seen(fresh)) == 200


def test_a_save_whose_answer_was_lost_is_no_clash_and_is_stored_once(
    as_ilse: Caller, drafted: Revision
) -> None:
    body = body_of(drafted, message="Dear Holm")
    first = as_ilse("put", f"revisions/{drafted.pk}", body)
    again = as_ilse("put", f"revisions/{drafted.pk}", body)
    assert (again["version"], again["mark"]) == (first["version"], first["mark"])
    body["message"] = "Dear Mr Holm"
    assert as_ilse.ask("put", f"revisions/{drafted.pk}", body).json()["code"] == "stale"


def test_the_same_content_written_otherwise_is_the_same(as_ilse: Caller, drafted: Revision) -> None:
    body = body_of(drafted, discount_percent="3")
    first = as_ilse("put", f"revisions/{drafted.pk}", body)
    body["discount_percent"] = "3.0000"
    assert as_ilse("put", f"revisions/{drafted.pk}", body)["version"] == first["version"]


def test_a_lost_answer_is_not_taken_for_todays_prices(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    body = body_of(drafted)
    as_ilse("put", f"revisions/{drafted.pk}", body)
    Revision.objects.filter(pk=drafted.pk).update(on=world.today - timedelta(days=3))
    refused = as_ilse.ask("put", f"revisions/{drafted.pk}", {**body, "as_of_today": True})
    assert refused.json()["code"] == "stale"


def test_issuing_again_what_one_issued_answers_it_again(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    seen = as_seen(drafted)
    first = as_ilse("post", f"revisions/{drafted.pk}/issue", seen)
    again = as_ilse("post", f"revisions/{drafted.pk}/issue", seen)
    assert (again["issued_at"], again["version"]) == (first["issued_at"], first["version"])
    assert world.deal.activities.filter(kind="follow_up").count() == 1
    theirs = world.call(world.petra).ask("post", f"revisions/{drafted.pk}/issue", seen)
    assert theirs.json()["code"] == "issued"


def test_prices_that_moved_at_the_house_are_not_issued_although_the_mark_stands(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    shown = save(as_ilse, drafted)
    world.post.prices.filter(from_quantity=0).update(valid_to=world.today - timedelta(days=1))
    PriceEntryFactory(item=world.post, price=D("45.00"), valid_from=world.today)
    refused = as_ilse.ask("post", f"revisions/{drafted.pk}/issue", as_seen(shown))
    assert refused.json()["code"] == "prices_moved"


def test_the_house_itself_issues_without_having_seen(world: World, drafted: Revision) -> None:
    done = issue_revision(
        world.ilse, drafted.pk, drafted.version, today=world.today, now=timezone.now()
    )
    assert done.issued_at is not None
