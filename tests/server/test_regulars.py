"""What a customer usually buys, from its invoices; priced as of today; put on a quote in one step."""

from collections.abc import Callable
from datetime import date, timedelta
from decimal import Decimal

from django.utils import timezone
import pytest

from apps.customers.models import Customer
from apps.ledger.models import InvoiceLine
from apps.orders.flows import write_order
from apps.orders.models import Order, OrderLine
from apps.prices.models import Limit
from apps.quotes.models import QuoteLine, Revision
from apps.stock.models import Depot, Level
from demo.factories import CustomerFactory, InvoiceFactory, ItemFactory, PriceEntryFactory
from tests.server.conftest import Caller, World

D = Decimal


@pytest.fixture
def lines(world: World, issued: Revision) -> dict[str, OrderLine]:
    """The lines of an order of Hazelmoor's: 20 posts, 3 rolls of wire; by the item's code."""
    order = write_order(
        *(world.ilse, issued.pk, issued.version),
        today=world.today,
        now=timezone.now(),
        close_deal=True,
    )
    return {row.item.code: row for row in order.lines.select_related("item")}


def bill(
    line: OrderLine,
    on: date,
    net: str = "700.00",
    customer: Customer | None = None,
    kind: str = "invoice",
) -> None:
    """An invoice over an order line, to its customer or to another."""
    buyer = customer or line.order.customer
    invoice = InvoiceFactory(customer=buyer, on=on, due_on=on + timedelta(days=30), kind=kind)
    InvoiceLine.objects.create(invoice=invoice, order_line=line, text=line.text, net=D(net))


def ago(world: World, days: int) -> date:
    return world.today - timedelta(days=days)


def test_what_is_late_stands_first_with_its_cadence_and_the_price_of_today(
    world: World, lines: dict[str, OrderLine], as_ilse: Caller
) -> None:
    for days in (190, 150, 110, 70):
        bill(lines["POST-25"], ago(world, days), "760.00")
    for days in (12, 9, 6, 3):
        bill(lines["WIRE-2"], ago(world, days))
    found = as_ilse("get", f"customers/{world.customer.pk}/regulars")
    assert [row["item"]["code"] for row in found["rows"]] == ["POST-25", "WIRE-2"]
    post = found["rows"][0]
    habit = post["habit"]
    assert (habit["state"], habit["cadence_days"], habit["days_over"]) == ("late", 40, 30)
    assert habit["purchases"] == 4 and habit["due_on"] == str(ago(world, 30))
    # 760.00 for 20 pieces then; 41.50 a piece from the list today.
    assert post["price"]["paid"] == "38.00" and post["price"]["price"] == "41.50"
    assert post["price"]["change"] == "9.2"
    assert (found["asking"], found["bought"]) == (2, 2)


def test_quantities_are_told_in_the_sales_unit_whatever_was_invoiced(
    world: World, lines: dict[str, OrderLine], as_ilse: Caller
) -> None:
    bill(lines["WIRE-2"], ago(world, 10), "114.00")
    (wire,) = as_ilse("get", f"customers/{world.customer.pk}/regulars")["rows"]
    assert (wire["unit"], wire["usual"], wire["habit"]["last_quantity"]) == ("RL", "3", "3")
    # 114.00 for 300 m; the list's price is per metre.
    assert (wire["price"]["paid"], wire["price"]["unit"]) == ("0.38", "MTR")
    assert wire["price"]["change"] == "0.0"


def test_a_break_that_the_usual_quantity_reaches_is_in_todays_price(
    world: World, lines: dict[str, OrderLine], as_ilse: Caller
) -> None:
    line = lines["POST-25"]
    OrderLine.objects.filter(pk=line.pk).update(quantity=D(120))
    bill(line, ago(world, 10), "4440.00")
    (post,) = as_ilse("get", f"customers/{world.customer.pk}/regulars")["rows"]
    assert (post["price"]["price"], post["price"]["change"]) == ("37.00", "0.0")


def test_due_shows_what_asks_for_something_and_all_shows_what_was_never_bought(
    world: World, lines: dict[str, OrderLine], as_ilse: Caller
) -> None:
    for days in (95, 65, 35, 5):
        bill(lines["POST-25"], ago(world, days))
    for days in (200, 180, 160, 140):
        bill(lines["WIRE-2"], ago(world, days))
    path = f"customers/{world.customer.pk}/regulars"
    due = as_ilse("get", path, show="due")["rows"]
    assert [(row["item"]["code"], row["habit"]["state"]) for row in due] == [("WIRE-2", "stopped")]
    never = ItemFactory(code="NEW-1", minimum_quantity=D(6))
    every = as_ilse("get", path, show="all")
    new = next(row for row in every["rows"] if row["item"]["code"] == never.code)
    assert (new["habit"], new["price"], new["usual"]) == (None, None, "6")
    assert every["count"] == 3


def test_the_groups_sheet_adds_up_what_its_members_bought(
    world: World, lines: dict[str, OrderLine], as_ilse: Caller
) -> None:
    head = CustomerFactory(name="Marrow Vale", owner=world.ilse)
    other = CustomerFactory(owner=world.stranger, parent=head)
    Customer.objects.filter(pk=world.customer.pk).update(parent=head)
    bill(lines["POST-25"], ago(world, 20))
    bill(lines["POST-25"], ago(world, 10), customer=other)
    path = f"customers/{world.customer.pk}/regulars"
    assert as_ilse("get", path)["rows"][0]["habit"]["purchases"] == 1
    found = as_ilse("get", path, show="group")
    assert as_ilse("get", f"{path}/around")["group"] == "Marrow Vale"
    assert [(row["habit"]["purchases"], row["buyers"]) for row in found["rows"]] == [(2, 2)]


def test_credit_notes_and_what_was_paid_before_the_period_are_no_purchases(
    world: World, lines: dict[str, OrderLine], as_ilse: Caller
) -> None:
    bill(lines["POST-25"], ago(world, 800))
    bill(lines["WIRE-2"], ago(world, 10), kind="credit")
    path = f"customers/{world.customer.pk}/regulars"
    assert as_ilse("get", path)["rows"] == []
    assert len(as_ilse("get", path, months=36)["rows"]) == 1


def test_what_is_typed_is_priced_together_and_put_on_a_new_quote(
    world: World, lines: dict[str, OrderLine], as_ilse: Caller
) -> None:
    path = f"customers/{world.customer.pk}/regulars"
    typed = {
        "lines": [
            {"item_id": world.post.pk, "quantity": "100", "unit": "H87"},
            {"item_id": world.wire.pk, "quantity": "2", "unit": "RL"},
        ]
    }
    priced = as_ilse("post", f"{path}/price", typed)
    assert [row["net"] for row in priced["lines"]] == ["3700.00", "76.00"]
    before = as_ilse("get", f"customers/{world.customer.pk}")["standing"]
    assert priced["standing"]["exposure"] == before["exposure"]
    made = as_ilse("post", f"{path}/quote", typed)
    shown = as_ilse("get", f"revisions/{made['revision_id']}")
    assert [line["quantity"] for line in shown["lines"]] == ["100", "2"]
    assert shown["priced"]["totals"]["net"] == priced["totals"]["net"] == "3776.00"
    assert shown["on"] == str(world.today)


def test_lines_go_after_those_of_a_draft_and_only_as_it_was_seen(
    world: World, drafted: Revision, as_ilse: Caller
) -> None:
    path = f"customers/{world.customer.pk}/regulars"
    (draft,) = as_ilse("get", f"{path}/around")["drafts"]
    body = {
        "lines": [{"item_id": world.wire.pk, "quantity": "5", "unit": "RL"}],
        "revision_id": draft["id"],
        "version": draft["version"],
    }
    as_ilse("post", f"{path}/quote", body)
    shown = as_ilse("get", f"revisions/{drafted.pk}")
    assert [line["quantity"] for line in shown["lines"]] == ["20", "3", "5"]
    again = as_ilse.ask("post", f"{path}/quote", {**body, "lines": [{**body["lines"][0], "quantity": "6"}]})  # type: ignore[index]  # fmt: skip
    assert (again.status_code, again.json()["code"]) == (409, "stale")
    assert len(as_ilse("get", f"revisions/{drafted.pk}")["lines"]) == 3


def test_lines_do_not_go_onto_another_customers_quote(
    world: World, drafted: Revision, as_ilse: Caller, snapshot: Callable[[], dict[str, object]]
) -> None:
    other = CustomerFactory(owner=world.ilse)
    before = snapshot()
    refused = as_ilse.ask(
        "post",
        f"customers/{other.pk}/regulars/quote",
        {
            "lines": [{"item_id": world.wire.pk, "quantity": "5", "unit": "RL"}],
            "revision_id": drafted.pk,
            "version": drafted.version,
        },
    )
    assert (refused.status_code, refused.json()["code"]) == (422, "other_customer")
    assert snapshot() == before


@pytest.mark.parametrize(
    ("rows", "code"),
    [
        ([], "invalid"),
        ([("post", "0", "H87")], "invalid"),
        ([("post", "NaN", "H87")], "invalid"),
        ([("post", "1", "RL")], "unknown_unit"),
        ([("post", "1", "H87"), ("post", "2", "H87")], "double_id"),
        ([("gone", "1", "H87")], "unknown_item"),
    ],
)
def test_bad_rows_are_refused_and_change_nothing(
    world: World,
    as_ilse: Caller,
    snapshot: Callable[[], dict[str, object]],
    rows: list[tuple[str, str, str]],
    code: str,
) -> None:
    ids = {"post": world.post.pk, "gone": 999_999}
    body = {"lines": [{"item_id": ids[i], "quantity": q, "unit": u} for i, q, u in rows]}
    before = snapshot()
    for act in ("price", "quote"):
        answer = as_ilse.ask("post", f"customers/{world.customer.pk}/regulars/{act}", body)
        assert (answer.status_code, answer.json()["code"]) == (422, code)
    assert snapshot() == before


def test_nobody_sees_the_regulars_of_a_strangers_customer_nor_margins_without_the_right(
    world: World, lines: dict[str, OrderLine]
) -> None:
    bill(lines["POST-25"], ago(world, 10))
    path = f"customers/{world.customer.pk}/regulars"
    assert world.call(world.stranger).status("get", path) == 404
    assert world.call(world.joren).status("get", path) == 403
    Customer.objects.filter(pk=world.customer.pk).update(owner=world.tomas)
    (row,) = world.call(world.tomas)("get", path)["rows"]
    assert row["price"]["margin_percent"] is None
    (row,) = world.call(world.petra)("get", path)["rows"]
    assert row["price"]["margin_percent"] is not None


def test_an_item_in_a_unit_that_it_lost_is_left_out_and_the_rest_stands(
    world: World, lines: dict[str, OrderLine], as_ilse: Caller
) -> None:
    OrderLine.objects.filter(pk=lines["WIRE-2"].pk).update(unit="KGM")
    bill(lines["WIRE-2"], ago(world, 10))
    bill(lines["POST-25"], ago(world, 10))
    found = as_ilse("get", f"customers/{world.customer.pk}/regulars")
    assert [row["item"]["code"] for row in found["rows"]] == ["POST-25"]


def test_the_sheet_costs_the_same_number_of_queries_however_much_was_bought(
    world: World,
    lines: dict[str, OrderLine],
    as_ilse: Caller,
    queries_of: Callable[[Callable[[], object]], int],
) -> None:
    path = f"customers/{world.customer.pk}/regulars"
    bill(lines["POST-25"], ago(world, 10))
    bill(lines["WIRE-2"], ago(world, 10))
    one = queries_of(lambda: as_ilse("get", path))
    for n in range(20):
        item = ItemFactory(code=f"MORE-{n}")
        PriceEntryFactory(item=item)
        bill(lines["WIRE-2"], ago(world, 11 + n))
    assert queries_of(lambda: as_ilse("get", path)) == one
    # The items are counted, and read by their page; those that were never bought as well.
    assert queries_of(lambda: as_ilse("get", path, show="all")) <= one + 4


def test_the_sheet_promises_from_the_depot_that_is_chosen_and_its_lines_leave_from_there(
    world: World, lines: dict[str, OrderLine], as_ilse: Caller
) -> None:
    item = lines["POST-25"].item
    bill(lines["POST-25"], ago(world, 10))
    usual, other = (
        Depot.objects.create(code=code, name=code, country="QF") for code in ("NORTH", "SOUTH")
    )
    for depot, on_hand in ((usual, 0), (other, 900)):
        Level.objects.create(item=item, depot=depot, on_hand=on_hand, told_at=timezone.now())
    path = f"customers/{world.customer.pk}/regulars"
    found = as_ilse("get", f"{path}/around")
    assert [row["name"] for row in found["depots"]] == ["NORTH", "SOUTH"]
    wanted = {"key": "a", "item_id": item.pk, "quantity": "20", "unit": "H87"}
    asked = f"customers/{world.customer.pk}/promises"
    (here,) = as_ilse("post", asked, {"lines": [wanted]})["lines"]
    (there,) = as_ilse("post", asked, {"lines": [{**wanted, "depot_id": other.pk}]})["lines"]
    assert (here["kind"], there["kind"], there["depot_id"]) == ("short", "in_stock", other.pk)
    stranger = world.call(world.tomas)
    assert stranger.ask("post", asked, {"lines": [wanted]}).status_code == 404
    assert as_ilse.ask("post", asked, {"lines": [{**wanted, "unit": "XX"}]}).status_code == 422
    typed = {"item_id": item.pk, "quantity": "10", "unit": "H87", "depot_id": other.pk}
    made = as_ilse("post", f"{path}/quote", {"lines": [typed]})
    assert QuoteLine.objects.get(revision=made["revision_id"]).depot == other
    nowhere = as_ilse.ask("post", f"{path}/quote", {"lines": [{**typed, "depot_id": 999_999}]})
    assert nowhere.status_code == 422


def test_what_is_typed_is_an_order_in_one_act_over_the_total_that_was_seen(
    world: World, as_ilse: Caller
) -> None:
    path = f"customers/{world.customer.pk}/regulars"
    typed = {"lines": [{"item_id": world.post.pk, "quantity": "100", "unit": "H87"}]}
    payable = as_ilse("post", f"{path}/price", typed)["totals"]["payable"]
    told = as_ilse("post", f"{path}/order", {**typed, "payable": "1.00"})
    assert told["code"] == "total_changed"
    assert (Order.objects.count(), Revision.objects.count()) == (0, 0)
    made = as_ilse("post", f"{path}/order", {**typed, "payable": payable})
    order = as_ilse("get", f"orders/{made['order_id']}")
    assert (order["number"], order["payable"]) == (made["number"], payable)
    assert order["lines"][0]["quantity"] == "100"


def test_an_order_at_once_keeps_to_the_limits_of_whoever_writes_it(
    world: World, as_ilse: Caller
) -> None:
    Limit.objects.create(role="rep", credit=D(0))
    Customer.objects.filter(pk=world.customer.pk).update(credit_limit=D(100))
    path = f"customers/{world.customer.pk}/regulars"
    typed = {"lines": [{"item_id": world.post.pk, "quantity": "100", "unit": "H87"}]}
    payable = as_ilse("post", f"{path}/price", typed)["totals"]["payable"]
    assert as_ilse("post", f"{path}/order", {**typed, "payable": payable})["code"] == (
        "sign_off_needed"
    )
    assert not Order.objects.exists()
    assert world.call(world.tomas).status("post", f"{path}/order", {**typed, "payable": "1"}) == 404
