"""Whatever happens to an order on its way, in whatever order: quantities and sums stay in theirs.

Part orders, part deliveries, part invoices, returns with their credit notes, payments in parts, changes and
shortages, by the real stand-in and the real worker, drawn by hypothesis.
"""

from collections import Counter
from decimal import Decimal
from threading import Barrier, Thread
from typing import Any

from django.db import connections
from django.db.models import Q, Sum
from django.utils import timezone
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st
import pytest

from apps.handover.models import BackOfficeEvent, Handover
from apps.handover.worker import go_round
from apps.kept.figures import wrong_figures
from apps.ledger.models import Invoice, InvoiceLine
from apps.orders.models import DeliveryLine, Order, OrderLine, ReturnLine
from apps.quotes.models import Quote, Revision
from demo.factories import ItemFactory, PriceEntryFactory
from tests.server.conftest import Caller, World, accepting, as_seen
from tests.server.office import Office
from tests.server.test_changes import change
from tests.server.test_parts import another, order, source

D = Decimal
ZERO = D(0)
ACTS = (
    "ship-half", "ship", "bill", "pay-half-order", "pay", "take-back", "shorten", "less", "the rest",
)  # fmt: skip


def rounds(office: Office) -> None:
    for _ in range(2):
        while go_round(office.client, "test", timezone.now):
            pass


class Course:
    """One offer of twenty posts and three rolls, its orders, and what happens to the first of them."""

    def __init__(self, world: World, caller: Caller, office: Office, posts: int):
        self.caller, self.office = caller, office
        self.offer = another(world, percent="3")
        self.made = order(caller, source(self.offer, a=str(posts), b="2")).json()
        self.hand_over(self.made)

    def hand_over(self, made: Any) -> None:
        self.caller("post", f"orders/{made['id']}/handover", as_seen(made))
        rounds(self.office)

    def now(self) -> Any:
        return self.caller("get", f"orders/{self.made['id']}")

    def go(self, act: str) -> None:
        if act == "the rest":
            if Quote.objects.get(pk=self.offer.quote_id).lines_left:
                self.hand_over(self.caller("post", "orders", rest_of(self.caller, self.offer)))
        elif act == "less":
            now = self.now()
            wanted = D(now["lines"][0]["quantity"]) - 1
            change(self.caller, now, {"n": 1, "quantity": str(max(wanted, ZERO))})
        else:
            self.office.press(act, number=self.now()["backoffice_number"])
        rounds(self.office)


def rest_of(caller: Caller, offer: Revision) -> dict[str, Any]:
    """What ordering all that is left of an offer sends along."""
    sources = accepting(offer)["sources"]
    plan = caller("post", "order-plan", {"sources": sources})
    seen = {"mark": plan["mark"], "payable": plan["payable"]}
    return {"sources": sources, "seen": seen, "close_deal": False}


def total(rows: Any, **which: Any) -> Decimal:
    found: Decimal | None = rows.filter(**which).aggregate(sum=Sum("quantity"))["sum"]
    return found or ZERO


def holds(offer: Any) -> None:
    """Of every line: offered ≥ ordered ≥ shipped ≥ invoiced, returned ≤ shipped; of every sum the same."""
    orders = Order.objects.filter(revision=offer)
    lines = OrderLine.objects.filter(order__in=orders)
    for line in lines:
        shipped = total(DeliveryLine.objects, order_line=line)
        bills = InvoiceLine.objects.filter(Q(invoice__kind="invoice"), order_line=line)
        assert line.quantity >= shipped >= total(bills)
        assert total(ReturnLine.objects, order_line=line) <= shipped
        assert line.net >= ZERO
    for offered in offer.lines.all():
        assert total(lines, quote_line=offered) <= offered.quantity
    for each in orders:
        billed = sum(row.gross for row in each.invoices.filter(kind="invoice"))
        assert billed <= each.payable
        assert each.invoiced == billed
        assert each.net == each.lines_net - each.document_discount
        assert each.payable == each.gross + each.payable_rounding
    assert not BackOfficeEvent.objects.exclude(state="applied").exists()
    assert wrong_figures() == {}


@settings(
    max_examples=4,
    deadline=None,
    phases=[Phase.explicit, Phase.generate],  # a course takes seconds: it is told as it was drawn
    suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow],
)
@given(
    posts=st.integers(min_value=1, max_value=20),
    acts=st.lists(st.sampled_from(ACTS), min_size=2, max_size=7),
)
def test_any_course_of_an_order_keeps_its_quantities_and_its_sums(
    world: World, as_ilse: Caller, office: Office, posts: int, acts: list[str]
) -> None:
    course = Course(world, as_ilse, office, posts)
    for act in acts:
        course.go(act)
        holds(course.offer)
    for act in ("ship", "bill", "pay"):
        course.go(act)
    holds(course.offer)
    done = Order.objects.get(pk=course.made["id"])
    if done.payable:
        invoiced = sum(row.gross for row in done.invoices.filter(kind="invoice"))
        assert (done.invoiced, invoiced) == (done.payable, done.payable)
        bills = Invoice.objects.filter(order=done, kind="invoice")
        assert sum(row.settled + row.discount for row in bills) == done.payable


def test_services_go_straight_to_the_invoice(world: World, as_ilse: Caller, office: Office) -> None:
    advice = ItemFactory(code="ADVICE", name="A day of advice", kind="service", cost=None)
    PriceEntryFactory(item=advice, price=D("480.00"))
    quote = as_ilse("post", "quotes", {"customer_id": world.customer.pk})
    line = {"key": "s", "item_id": advice.pk, "quantity": "2", "unit": "H87"}
    saved = as_ilse("put", f"revisions/{quote['id']}", {
        "version": quote["version"], "valid_until": quote["valid_until"], "lines": [line],
    })  # fmt: skip
    made = as_ilse("post", f"revisions/{quote['id']}/order-now", as_seen(saved, close_deal=False))
    as_ilse("post", f"orders/{made['id']}/handover", as_seen(made))
    rounds(office)
    taken = as_ilse("get", f"orders/{made['id']}")
    assert [stop["kind"] for stop in taken["route"]][-2:] == ["invoice", "payment"]
    assert "delivery" not in {stop["kind"] for stop in taken["route"]}
    office.press("bill", number=taken["backoffice_number"])
    rounds(office)
    billed = as_ilse("get", f"orders/{made['id']}")
    assert (billed["state"], billed["lines"][0]["stage"]) == ("invoiced", "invoiced")
    whole = as_ilse("get", f"route/order/{made['id']}")
    assert "delivery" not in {stop["kind"] for stop in whole["nodes"]}


@pytest.mark.django_db(transaction=True)
def test_twenty_people_at_one_order_leave_one_story(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    """They order the rest, change, cancel and hand over what they all saw, in the same moment."""
    made = order(as_ilse, source(issued, a="7")).json()
    rest_body = rest_of(as_ilse, issued)
    start, found = Barrier(20), []

    def rest(caller: Caller) -> int:
        return caller.status("post", "orders", rest_body)

    def less(caller: Caller) -> int:
        return int(change(caller, made, {"n": 1, "quantity": "5"}).status_code)

    def gone(caller: Caller) -> int:
        body = {"version": made["version"], "reason": "A slip"}
        return caller.status("post", f"orders/{made['id']}/cancel", body)

    def leaves(caller: Caller) -> int:
        return caller.status("post", f"orders/{made['id']}/handover", as_seen(made))

    acts = (rest, less, gone, leaves)

    def person(n: int) -> None:
        caller = world.call(world.ilse if n % 2 else world.petra)
        start.wait()
        found.append((acts[n % 4].__name__, acts[n % 4](caller)))
        connections.close_all()

    threads = [Thread(target=person, args=(n,)) for n in range(20)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    done = Counter(name for name, status in found if status < 300)
    assert {status for _, status in found} <= {200, 201, 202, 409, 422, 503}
    assert done["rest"] <= 1
    assert done["gone"] + done["less"] <= 1
    now = Order.objects.get(pk=made["id"])
    handed = Handover.objects.filter(order=now).exists()
    assert not (handed and now.cancelled_at)
    assert bool(now.cancelled_at) == bool(done["gone"])
    # What was handed over is what stands in the order.
    if handed:
        assert D(Handover.objects.get(order=now).payload["payable"]) == now.payable
    holds(issued)
