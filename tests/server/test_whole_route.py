"""The whole Route: every document of a chain, joined as they came of each other, for those who may see them."""

from collections.abc import Callable
from typing import Any

from django.utils import timezone
import pytest

from apps.handover.worker import go_round
from apps.ledger.models import Allocation, Invoice, Payment
from apps.orders.models import Order
from apps.quotes.models import Revision
from apps.route.whole import MOST_STOPS, Node, placed
from apps.stock.models import SetAside
from tests.server.conftest import Caller, World
from tests.server.office import Office
from tests.server.test_changes import hear
from tests.server.test_parts import order, source


@pytest.fixture
def shipped(as_ilse: Caller, office: Office, with_them: Any) -> Any:
    """An order that left in two parts, billed part by part, both paid by one payment, and some of it came back."""
    number = with_them["backoffice_number"]
    for act in ("ship-half", "bill", "ship", "bill"):
        office.press(act, number=number)
    hear(office, as_ilse, with_them)
    office.press("pay-all", number=Order.objects.get().customer.number)
    office.press("take-back", number=number)
    while go_round(office.client, "test", timezone.now):
        pass
    assert not SetAside.objects.filter(kind__in=("payment", "invoice")).exists()
    return hear(office, as_ilse, with_them)


def names(whole: Any, kind: str) -> list[str]:
    return [node["name"] for node in whole["nodes"] if node["kind"] == kind]


def test_part_deliveries_their_invoices_and_one_payment_over_both(
    as_ilse: Caller, issued: Revision, shipped: Any
) -> None:
    whole = as_ilse("get", f"route/order/{shipped['id']}")
    assert (
        whole["columns"]
        == [
            *("quote", "order", "handover", "delivery"),
            *("invoice", "credit", "payment"),
        ]
        or whole["columns"][0] == "deal"
    )
    assert len(names(whole, "invoice")) == 2
    assert len(names(whole, "delivery")) == 3  # two left, one came back
    (payment,) = (node for node in whole["nodes"] if node["kind"] == "payment")
    assert len(payment["origins"]) == 2
    invoices = {node["id"]: node for node in whole["nodes"] if node["kind"] == "invoice"}
    assert set(payment["origins"]) == set(invoices)
    assert all(node["origins"][0].startswith("delivery") for node in invoices.values())
    (credit,) = (node for node in whole["nodes"] if node["kind"] == "credit")
    assert credit["amount"].startswith("-")
    assert Payment.objects.count() == 1
    assert Allocation.objects.filter(payment__isnull=False).count() == 2
    assert Invoice.objects.count() == 3
    places = {(node["column"], node["row"]) for node in whole["nodes"]}
    assert len(places) == len(whole["nodes"])


def test_the_line_of_an_order_tells_what_was_credited_apart_from_what_was_paid(
    as_ilse: Caller, shipped: Any
) -> None:
    stops = {stop["kind"]: stop for stop in shipped["route"]}
    assert list(stops)[-3:] == ["invoice", "credit", "payment"]
    (credit,) = Invoice.objects.filter(kind="credit")
    paid = Allocation.objects.filter(payment__isnull=False)
    assert stops["credit"]["amount"] == f"-{credit.gross:.2f}"
    assert stops["payment"]["amount"] == f"{sum(row.amount for row in paid):.2f}"
    assert stops["payment"]["name"] == Payment.objects.get().number


def test_the_same_chain_is_seen_from_its_quote_and_from_its_deal(
    as_ilse: Caller, issued: Revision, shipped: Any
) -> None:
    from_order = as_ilse("get", f"route/order/{shipped['id']}")
    from_quote = as_ilse("get", f"route/quote/{issued.pk}")
    assert from_order["nodes"] == from_quote["nodes"]
    assert (from_order["here"], from_quote["here"]) == (
        f"order{shipped['id']}",
        f"quote{issued.pk}",
    )
    if issued.quote.deal_id:
        assert as_ilse("get", f"route/deal/{issued.quote.deal_id}")["nodes"] == from_order["nodes"]


def test_parts_of_an_offer_are_branches(as_ilse: Caller, issued: Revision) -> None:
    one = order(as_ilse, source(issued, a="7")).json()
    two = order(as_ilse, source(issued, a="13", b="3")).json()
    whole = as_ilse("get", f"route/order/{one['id']}")
    assert names(whole, "order") == [one["number"], two["number"]]
    rows = [node["row"] for node in whole["nodes"] if node["kind"] == "order"]
    assert rows == [0, 1]


def test_it_is_for_those_who_see_its_documents(
    world: World, issued: Revision, shipped: Any
) -> None:
    path = f"route/order/{shipped['id']}"
    assert world.call(world.stranger).status("get", path) == 404
    joren = world.call(world.joren)
    assert {node["kind"] for node in joren("get", path)["nodes"]}.isdisjoint({"deal", "quote"})
    assert joren.status("get", f"route/quote/{issued.pk}") in (403, 404)


def test_it_is_read_by_a_constant_number_of_queries(
    as_ilse: Caller, issued: Revision, queries_of: Callable[[Callable[[], object]], int]
) -> None:
    one = order(as_ilse, source(issued, a="7")).json()
    path = f"route/order/{one['id']}"
    before = queries_of(lambda: as_ilse("get", path))
    order(as_ilse, source(issued, a="6"))
    order(as_ilse, source(issued, a="7"))
    assert queries_of(lambda: as_ilse("get", path)) == before


def test_above_sixty_stops_what_is_done_is_folded() -> None:
    nodes = [Node(id="q", kind="quote", name="Q")]
    for n in range(20):
        nodes.append(
            Node(id=f"o{n}", kind="order", name=f"O{n}", note="paid" if n else "", origins=("q",))
        )
        nodes += [
            Node(id=f"h{n}", kind="handover", name="", origins=(f"o{n}",)),
            Node(id=f"d{n}", kind="delivery", name="", origins=(f"h{n}",)),
        ]
    assert len(nodes) > MOST_STOPS
    shown = placed(nodes)
    assert [node.id for node in shown if node.kind == "delivery"] == ["d0"]
    assert {node.folded for node in shown if node.kind == "order"} == {0, 2}
    assert len(placed(nodes, unfolded=True)) == len(nodes)
