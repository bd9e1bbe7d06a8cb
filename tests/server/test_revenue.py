"""Revenue by month, and that every figure is the sum of the rows which it opens."""

from collections.abc import Callable
from datetime import date, timedelta
from decimal import Decimal
from typing import Any

from django.utils import timezone
import pytest

from apps.deals.models import Deal
from apps.forecast.queries import months_from
from apps.ledger.models import InvoiceLine
from apps.orders.models import Order, Outlook
from apps.quotes.models import Revision
from demo.factories import CustomerFactory, DealFactory, InvoiceFactory
from tests.server.conftest import Caller, World
from tests.server.test_orders import accept

D = Decimal


@pytest.fixture
def as_petra(world: World) -> Caller:
    return world.call(world.petra)


def month_of(day: date) -> str:
    return f"{day:%Y-%m}"


def month(told: Any, key: str) -> Any:
    return next(row for row in told["months"] if row["month"] == key)


def deal(world: World, amount: int, on: date, percent: int = 50, **more: Any) -> Deal:
    found: Deal = DealFactory(
        customer=more.pop("customer", world.customer),
        estimate=D(amount),
        decision_on=on,
        own_probability_percent=D(percent),
        **more,
    )
    return found


@pytest.fixture
def order(as_ilse: Caller, issued: Revision, world: World) -> Order:
    """Twenty posts (net 788.50) and three rolls of wire (99.75), less 26.65; wanted in the month after this one's."""
    wanted = months_from(world.today, 2)[1] + timedelta(days=9)
    made = accept(as_ilse, issued, requested_on=str(wanted)).json()
    order = Order.objects.get(pk=made["id"])
    order.lines.update(promised_on=wanted, missing=0)
    return order


def test_credit_notes_count_below_nothing_and_each_invoice_at_the_rate_of_its_day(
    world: World, as_ilse: Caller
) -> None:
    on = world.today
    InvoiceFactory(customer=world.customer, on=on, gross=D("1200.00"))
    InvoiceFactory(
        customer=world.customer, on=on, gross=D("120.00"), currency="CHF", base_rate=D("1.05")
    )
    InvoiceFactory(customer=world.customer, on=on, gross=D("60.00"), kind="credit")
    told = as_ilse("get", "forecast/revenue")
    assert month(told, month_of(on))["invoiced"] == told["year"] == "1055.00"
    listed = as_ilse("get", "invoices", month=month_of(on))
    assert (listed["sum"], listed["count"]) == ("1055.00", 3)
    assert sorted(row["worth"] for row in listed["rows"]) == ["-50.00", "1000.00", "105.00"]


def test_what_is_ordered_and_not_billed_is_backlog_until_it_is_billed(
    world: World, as_ilse: Caller, order: Order
) -> None:
    key = month_of(months_from(world.today, 2)[1])
    assert month(as_ilse("get", "forecast/revenue"), key)["backlog"] == "861.60"
    listed = as_ilse("get", "backlog", month=key)
    assert (listed["sum"], [row["order"] for row in listed["rows"]]) == (
        "861.60",
        [order.number] * 2,
    )
    # A part of the posts is billed: the rest of them is left.
    posts = order.lines.order_by("position").first()
    assert posts is not None
    net = posts.net - posts.discount_share
    bill = InvoiceFactory(customer=world.customer, order=order, gross=D(480), net=D(400))
    InvoiceLine.objects.create(invoice=bill, order_line=posts, text="Posts", net=D(400))
    left = as_ilse("get", "backlog")
    assert D(left["sum"]) == D("461.60")
    assert {D(row["worth"]) for row in left["rows"]} == {net - 400, D("861.60") - net}
    # A credit note takes from what was billed, but nothing is to be billed again.
    note = InvoiceFactory(customer=world.customer, order=order, gross=D(120), kind="credit")
    InvoiceLine.objects.create(invoice=note, order_line=posts, text="Posts", net=D(100))
    assert as_ilse("get", "backlog")["sum"] == "461.60"
    # Billed as a whole, nothing of it is left, charges or not.
    InvoiceFactory(customer=world.customer, order=order, gross=order.payable - 480)
    assert as_ilse("get", "backlog")["rows"] == []


def test_backlog_follows_the_day_that_is_known_now(
    world: World, as_ilse: Caller, order: Order
) -> None:
    posts, wire = order.lines.order_by("position")
    this = month_of(world.today)
    Outlook.objects.create(
        order_line=posts, leaves_on=world.today - timedelta(days=40), since=timezone.now()
    )
    Outlook.objects.create(order_line=wire, leaves_on=None, since=timezone.now())
    told = as_ilse("get", "forecast/revenue")
    # What should have left is expected in this month; what nobody knows a day for stands apart.
    late, unknown = (f"{line.net - line.discount_share:.2f}" for line in (posts, wire))
    assert (month(told, this)["backlog"], told["undated"]) == (late, unknown)
    assert as_ilse("get", "backlog", month=this)["sum"] == late
    assert as_ilse("get", "backlog", month="undated")["sum"] == unknown
    # Without a day last, in either direction.
    for sort in ("leaves", "-leaves"):
        assert as_ilse("get", "backlog", sort=sort)["rows"][-1]["leaves"] is None
    far = world.today + timedelta(days=800)
    Outlook.objects.filter(order_line=wire).update(leaves_on=far)
    assert as_ilse("get", "forecast/revenue")["later_backlog"] == unknown
    assert as_ilse("get", "backlog", month="later")["sum"] == unknown


def test_a_backlog_of_more_lines_than_are_counted_has_no_sum_and_ends_there(
    as_ilse: Caller, order: Order, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("api.billing.MOST", 1)
    dearest = max(order.lines.all(), key=lambda line: line.net - line.discount_share)
    for page in (1, 2):
        told = as_ilse("get", "backlog", sort="-worth", page=page)
        assert (told["count"], told["more"], told["sum"], told["page"]) == (1, True, None, 1)
        assert told["rows"][0]["id"] == dearest.pk
    monkeypatch.setattr("api.billing.MOST", 2)
    told = as_ilse("get", "backlog", sort="worth")
    assert (told["count"], told["more"], told["sum"]) == (2, False, "861.60")
    assert told["rows"][-1]["id"] == dearest.pk


def test_a_cancelled_order_is_no_backlog(as_ilse: Caller, order: Order) -> None:
    Order.objects.filter(pk=order.pk).update(cancelled_at=timezone.now())
    assert as_ilse("get", "backlog")["count"] == 0


def test_deals_count_as_long_after_their_decision_as_invoices_follow_orders(
    world: World, as_ilse: Caller, order: Order
) -> None:
    Deal.objects.exclude(pk=order.deal_id).delete()
    for days in (30, 30, 30, 30, 30, 45, 45, 45, 10, 10):
        accepted = world.today - timedelta(days=60)
        Order.objects.filter(pk=order.pk).update(accepted_on=accepted)
        InvoiceFactory(customer=world.customer, order=order, on=accepted + timedelta(days=days))
    soon, later = world.today + timedelta(days=3), world.today + timedelta(days=100)
    deal(world, 1000, soon)
    deal(world, 3000, later)
    deal(world, 9000, world.today - timedelta(days=1))
    told = as_ilse("get", "forecast/revenue")
    assert told["lead"] == {"days": 30, "invoices": 10, "own": True}
    first = month(told, month_of(soon + timedelta(days=30)))
    assert (first["weighted"], month(told, month_of(later + timedelta(days=30)))["weighted"]) == (
        "500.00",
        "1500.00",
    )
    listed = as_ilse(
        "get", "deals", since=first["decided_since"], until=first["decided_until"], state="open"
    )
    assert listed["sums"]["weighted"] == "500.00"


def test_every_figure_is_what_the_list_that_it_opens_comes_to(
    world: World, as_petra: Caller, order: Order
) -> None:
    for n in range(6):
        InvoiceFactory(customer=world.customer, on=world.today - timedelta(days=31 * n))
        deal(world, 1000 + n, world.today + timedelta(days=40 * n))
    told = as_petra("get", "forecast/revenue")
    for row in told["months"]:
        assert as_petra("get", "invoices", month=row["month"])["sum"] == row["invoiced"]
        assert as_petra("get", "backlog", month=row["month"])["sum"] == row["backlog"]
        if row["decided_since"]:
            days = {"since": row["decided_since"], "until": row["decided_until"]}
            assert as_petra("get", "deals", **days)["sums"]["weighted"] == row["weighted"]
        assert D(row["total"]) == sum(D(row[each]) for each in ("invoiced", "backlog", "weighted"))
    after = as_petra("get", "deals", since=told["later_since"])
    assert after["sums"]["weighted"] == told["later_weighted"]


def test_of_a_customer_and_its_whole_group(world: World, as_ilse: Caller) -> None:
    member = CustomerFactory(name="Hazelmoor Cider", owner=world.ilse, parent=world.customer)
    alone = CustomerFactory(name="Quiet Yard", owner=world.ilse)
    for customer in (world.customer, member, alone):
        InvoiceFactory(customer=customer)
        deal(world, 1000, world.today, customer=customer)
    this = month_of(world.today)

    def told(**filters: Any) -> tuple[str, str, int]:
        months = as_ilse("get", "forecast/revenue", **filters)
        listed = as_ilse("get", "invoices", month=this, **filters)
        assert listed["sum"] == month(months, this)["invoiced"]
        count = as_ilse("get", "forecast", **filters)["total"]["count"]
        assert as_ilse("get", "deals", **filters)["count"] == count
        return listed["sum"], as_ilse("get", "forecast/outlook", **filters)["currency"], count

    assert told(customer=member.pk) == ("100.00", "EUR", 1)
    assert told(customer=member.pk, family="true") == ("200.00", "EUR", 3)
    assert told(customer=alone.pk, family="true") == ("100.00", "EUR", 1)
    # A target of all one's customers says nothing beside a part of them.
    outlook = as_ilse("get", "forecast/outlook", customer=member.pk)
    assert {row["target"] for row in outlook["periods"]} == {None}


def test_nobody_sees_what_others_bill(world: World, as_ilse: Caller, order: Order) -> None:
    InvoiceFactory(customer=world.customer)
    as_tomas, stranger = world.call(world.tomas), world.call(world.stranger)
    for caller in (as_tomas, stranger):
        assert caller("get", "invoices")["count"] == caller("get", "backlog")["count"] == 0
        told = caller("get", "forecast/revenue")
        assert {row["total"] for row in told["months"]} == {"0.00"}
    # The order's rep, not the customer's, where there is an order.
    Order.objects.filter(pk=order.pk).update(owner=world.tomas)
    InvoiceFactory(customer=world.customer, order=order)
    assert as_tomas("get", "invoices")["count"] == 1
    assert as_ilse("get", "invoices")["count"] == 1
    assert world.call(world.joren)("get", "invoices")["count"] == 2
    assert world.call(world.joren).status("get", "forecast/revenue") == 403


@pytest.mark.parametrize(
    "path", ["invoices?month=2026-13", "backlog?month=soon", "invoices?page=0"]
)
def test_a_filter_that_is_none_is_refused(as_ilse: Caller, path: str) -> None:
    assert as_ilse.status("get", path) == 422


def test_the_view_is_exported_as_it_is_seen(as_ilse: Caller, order: Order) -> None:
    answer = as_ilse.ask("get", "backlog.csv", columns="order,worth")
    rows = answer.content.decode("utf-8-sig").splitlines()
    assert rows[0] == "Order,To bill EUR" and len(rows) == 3
    assert as_ilse("get", "invoices", words=order.number)["count"] == 0


Count = Callable[[Callable[[], object]], int]


def test_the_months_take_as_many_queries_for_many_rows(
    world: World, as_ilse: Caller, order: Order, queries_of: Count
) -> None:
    few = queries_of(lambda: as_ilse("get", "forecast/revenue"))
    for n in range(12):
        InvoiceFactory(customer=world.customer)
        deal(world, 100, world.today + timedelta(days=n))
    assert queries_of(lambda: as_ilse("get", "forecast/revenue")) <= min(few, 12)
