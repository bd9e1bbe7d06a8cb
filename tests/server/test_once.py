"""What is made is made once, however often the request comes."""

from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta
from threading import Barrier
from typing import Any
import uuid

from django.db import connection
from django.utils import timezone
import pytest

from apps.deals.models import Deal
from apps.journal.flows import forget_made
from apps.journal.models import Made
from apps.orders.models import Order
from apps.people.models import User
from apps.quotes.models import Quote, Revision
from tests.server.conftest import Caller, World, accepting


def post(caller: Caller, path: str, body: object, key: str) -> Any:
    return caller.client.post(
        f"/api/{path}", body, content_type="application/json", headers={"Idempotency-Key": key}
    )


def fresh() -> str:
    return str(uuid.uuid4())


def test_the_same_request_again_is_answered_with_the_same_quote(world: World) -> None:
    caller, key, body = world.call(world.ilse), fresh(), {"customer_id": world.customer.pk}
    first, second = (post(caller, "quotes", body, key) for _ in range(2))
    assert (first.status_code, second.status_code) == (201, 201)
    assert first.json() == second.json()
    assert second.headers["Idempotent-Replayed"] == "true"
    assert Quote.objects.count() == 1
    assert post(caller, "quotes", body, fresh()).json()["id"] != first.json()["id"]
    assert Quote.objects.count() == 2


def test_a_key_is_one_persons_and_one_requests(world: World) -> None:
    caller, key = world.call(world.ilse), fresh()
    body = {"customer_id": world.customer.pk}
    post(caller, "quotes", body, key)
    other = post(caller, "quotes", {"deal_id": world.deal.pk}, key)
    assert (other.status_code, other.json()["code"]) == (422, "key_used")
    assert post(world.call(world.admin), "quotes", body, key).status_code == 201
    assert Quote.objects.count() == 2


def test_a_refusal_is_not_kept(world: World) -> None:
    caller, key = world.call(world.ilse), fresh()
    body = {"title": "Rows", "decision_on": "2020-01-01", "customer_id": world.customer.pk}
    assert post(caller, "deals", body, key).status_code == 422
    assert Made.objects.count() == 0
    before = Deal.objects.count()
    body["decision_on"] = world.today.isoformat()
    assert post(caller, "deals", body, key).status_code == 201
    assert post(caller, "deals", body, key).status_code == 201
    assert Deal.objects.count() == before + 1


def test_an_order_asked_for_twice_is_one(world: World, issued: Revision) -> None:
    caller, key = world.call(world.ilse), fresh()
    body = accepting(issued)
    answers = [post(caller, "orders", body, key) for _ in range(2)]
    assert [answer.status_code for answer in answers] == [201, 201]
    assert answers[0].json()["number"] == answers[1].json()["number"] == Order.objects.get().number


def test_what_makes_nothing_is_not_wrapped(world: World, drafted: Revision) -> None:
    caller = world.call(world.ilse)
    post(caller, "session/password", {"old": "x", "new": "y"}, fresh())
    post(caller, f"revisions/{drafted.pk}/price", {}, fresh())
    caller.client.post(
        "/api/quotes", {"customer_id": world.customer.pk}, content_type="application/json",
        headers={"Idempotency-Key": "short"},
    )  # fmt: skip
    assert Made.objects.count() == 0


def test_answers_are_forgotten_after_two_days(world: World) -> None:
    body = {"customer_id": world.customer.pk}
    post(world.call(world.ilse), "quotes", body, fresh())
    forget_made(timezone.now() + timedelta(days=1))
    assert Made.objects.count() == 1
    forget_made(timezone.now() + timedelta(days=3))
    assert Made.objects.count() == 0


@pytest.mark.django_db(transaction=True)
def test_two_at_once_make_one(world: World) -> None:
    key, start = fresh(), Barrier(2)
    ilse, body = User.objects.get(pk=world.ilse.pk), {"customer_id": world.customer.pk}

    def ask() -> tuple[int, int]:
        try:
            caller = Caller(ilse)
            start.wait()
            answer = post(caller, "quotes", body, key)
            return answer.status_code, answer.json()["id"]
        finally:
            connection.close()

    with ThreadPoolExecutor(2) as pool:
        found = {each.result() for each in [pool.submit(ask), pool.submit(ask)]}
    assert len(found) == 1
    assert Quote.objects.count() == 1
