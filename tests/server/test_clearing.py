"""An order of a customer on Halt waits for a sign-off, for exactly what was seen and why."""

from datetime import timedelta
from decimal import Decimal
from typing import Any

from django.utils import timezone
import pytest

from apps.customers.models import Customer
from apps.errors import Forbidden, Invalid, Refused
from apps.handover.clearing import answer_order_sign_off, ask_order_sign_off
from apps.handover.flows import hand_over
from apps.handover.models import Handover
from apps.journal.models import Change
from apps.orders.flows import write_order
from apps.orders.models import Order, OrderSignOff
from apps.people.models import LEAD, User
from apps.quotes.models import Revision
from demo.factories import InvoiceFactory, UserFactory
from tests.server.conftest import Caller, World
from tests.server.test_handover import at_once

D = Decimal


@pytest.fixture
def order(world: World, issued: Revision) -> Order:
    """An order of a customer who is overdue beyond the tolerance."""
    made = write_order(
        *(world.ilse, issued.pk, issued.version),
        today=world.today,
        now=timezone.now(),
        close_deal=False,
    )
    overdue(world, 31)
    return made


def overdue(world: World, days: int) -> None:
    due = world.today - timedelta(days=days)
    InvoiceFactory(customer=world.customer, on=due - timedelta(days=30), due_on=due, gross=D(100))


def hand(world: World, order: Order) -> Handover:
    order.refresh_from_db()
    return hand_over(world.ilse, order.pk, order.version, now=timezone.now())


def ask(world: World, order: Order, who: User | None = None) -> OrderSignOff:
    return ask_order_sign_off(
        *(who or world.ilse, order.pk, "They pay on Friday."),
        today=world.today,
        now=timezone.now(),
    )


def answer(who: User, row: OrderSignOff, *, granted: bool = True) -> OrderSignOff:
    return answer_order_sign_off(who, row.pk, granted=granted, comment="", now=timezone.now())


def test_on_halt_nothing_is_handed_over_without_a_sign_off(world: World, order: Order) -> None:
    with pytest.raises(Refused, match="stands on Halt"):
        hand(world, order)
    row = ask(world, order)
    with pytest.raises(Refused, match="stands on Halt"):
        hand(world, order)
    answer(world.petra, row, granted=False)
    with pytest.raises(Refused, match="stands on Halt"):
        hand(world, order)
    answer(world.petra, ask(world, order))
    assert hand(world, order).state == "waiting"
    assert set(Change.objects.filter(field="sign_off").values_list("after", flat=True)) == {
        "refused",
        "granted",
    }


def test_a_caution_holds_nothing_up(world: World, issued: Revision) -> None:
    made = write_order(
        *(world.ilse, issued.pk, issued.version),
        today=world.today,
        now=timezone.now(),
        close_deal=False,
    )
    overdue(world, 30)
    assert hand(world, made).state == "waiting"
    with pytest.raises(Refused, match="handed over already"):
        ask(world, made)


def test_where_nothing_stops_the_order_there_is_nothing_to_sign(
    world: World, issued: Revision
) -> None:
    made = write_order(
        *(world.ilse, issued.pk, issued.version),
        today=world.today,
        now=timezone.now(),
        close_deal=False,
    )
    with pytest.raises(Refused, match="Nothing here"):
        ask(world, made)


def test_a_reason_that_is_new_since_asks_anew(world: World, order: Order) -> None:
    answer(world.petra, ask(world, order))
    Customer.objects.filter(pk=world.customer.pk).update(held=True)
    with pytest.raises(Refused, match="stands on Halt"):
        hand(world, order)


def test_days_go_by_and_an_amount_that_grows_asks_anew(world: World, order: Order) -> None:
    Customer.objects.filter(pk=world.customer.pk).update(credit_limit=D(500))
    answer(world.petra, ask(world, order))
    overdue(world, 60)  # more over the limit than was signed
    with pytest.raises(Refused, match="stands on Halt"):
        hand(world, order)
    answer(world.petra, ask(world, order))
    assert hand(world, order).state == "waiting"


def test_an_order_that_changed_is_asked_anew(world: World, order: Order) -> None:
    row = ask(world, order)
    Order.objects.filter(pk=order.pk).update(requested_on=world.today + timedelta(days=9))
    with pytest.raises(Refused, match="changed"):
        answer(world.petra, row)
    answer(world.petra, ask(world, order))
    assert hand(world, order).state == "waiting"


def test_nobody_signs_what_is_theirs_or_what_they_asked_for(world: World, order: Order) -> None:
    row = ask(world, order, world.petra)
    with pytest.raises(Forbidden, match="Somebody else"):
        answer(world.petra, row)
    second = UserFactory(username="second", team=world.petra.team, role=LEAD)
    Order.objects.filter(pk=order.pk).update(owner=second)
    with pytest.raises(Forbidden, match="own order"):
        answer(second, row)
    with pytest.raises(Forbidden):
        answer(world.tomas, row)
    assert world.call(world.joren).status("post", f"orders/{order.pk}/sign-off", {}) == 403


def test_a_reason_is_needed_and_a_second_question_is_the_first(world: World, order: Order) -> None:
    with pytest.raises(Invalid):
        ask_order_sign_off(world.ilse, order.pk, "  ", today=world.today, now=timezone.now())
    first, second = ask(world, order), ask(world, order)
    assert first.pk == second.pk


def test_two_questions_at_once_are_one(transactional_db: None, world: World, order: Order) -> None:
    results = at_once([lambda: ask(world, order)] * 3)
    assert OrderSignOff.objects.count() == 1
    assert any(isinstance(result, OrderSignOff) for result in results)


def test_the_sheet_asks_the_lead_answers_and_the_day_tells(
    world: World, as_ilse: Caller, order: Order
) -> None:
    def sheet(caller: Caller) -> Any:
        return caller("get", f"orders/{order.pk}")

    lead = world.call(world.petra)
    shown = sheet(as_ilse)
    assert (shown["halted"], shown["sign_off"], shown["may_sign"]) == (True, None, False)
    seen = {"mark": shown["mark"], "payable": shown["payable"]}
    as_ilse("post", f"orders/{order.pk}/sign-off", {"reason": "Friday", "seen": seen})
    stop = lead("get", "today")["sign_offs"][0]
    assert (stop["title"], stop["to"]) == (order.number, f"/orders/{order.pk}")
    told = sheet(lead)
    assert told["may_sign"]
    path = f"order-sign-offs/{told['sign_off']['id']}"
    other = {**seen, "mark": "0" * 32}
    assert lead.status("post", path, {"granted": True, "seen": other}) == 409
    done = lead("post", path, {"granted": True, "comment": "Go on", "seen": seen})
    assert (done["sign_off"]["answer"], done["sign_off"]["comment"]) == ("granted", "Go on")
    assert lead("get", "today")["sign_offs"] == []
    body = {"version": shown["version"], "seen": seen}
    assert as_ilse("post", f"orders/{order.pk}/handover", body)["halted"] is False
