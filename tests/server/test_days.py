"""Lists of customers on the day: not seen, due to buy, overdue, at their limit, halted."""

from collections.abc import Callable
from datetime import date, timedelta
from decimal import Decimal

from django.utils import timezone
import pytest

from apps.customers.models import Customer
from apps.diary.models import Activity
from apps.ledger.models import InvoiceLine
from apps.orders.flows import write_order
from apps.orders.models import OrderLine
from apps.quotes.models import Revision
from apps.regulars.days import forget_day, renew
from apps.regulars.models import CustomerDay
from demo.factories import CustomerFactory, InvoiceFactory, PriceListFactory
from tests.server.conftest import Caller, World

D = Decimal


def ago(world: World, days: int) -> date:
    return world.today - timedelta(days=days)


def names(caller: Caller, day: str) -> set[str]:
    return {row["name"] for row in caller("get", "customers", day=day)["rows"]}


@pytest.fixture
def posts(world: World, issued: Revision) -> OrderLine:
    """An order line of posts of Hazelmoor's."""
    order = write_order(
        *(world.ilse, issued.pk, issued.version),
        today=world.today,
        now=timezone.now(),
        close_deal=False,
    )
    return order.lines.get(item=world.post)


def bill(line: OrderLine, on: date) -> None:
    customer = line.order.customer
    due = on + timedelta(days=30)
    invoice = InvoiceFactory(customer=customer, on=on, due_on=due, gross=D("0.01"))
    InvoiceLine.objects.create(invoice=invoice, order_line=line, text=line.text, net=D("700"))


def test_customers_are_found_by_what_their_day_brings(
    world: World, posts: OrderLine, as_ilse: Caller
) -> None:
    for days in (95, 65, 35):
        bill(posts, ago(world, days))
    bill(posts, ago(world, 125))
    late = CustomerFactory(name="Late Farm", owner=world.ilse)
    InvoiceFactory(customer=late, gross=D(500), on=ago(world, 90), due_on=ago(world, 60))
    full = CustomerFactory(name="Full Farm", owner=world.ilse, credit_limit=D(1000))
    InvoiceFactory(customer=full, gross=D(900), on=world.today, due_on=world.today)
    CustomerFactory(name="New Farm", owner=world.ilse, credit_limit=D(1000))
    while renew(world.today):
        pass
    assert names(as_ilse, "due") == {"Hazelmoor Orchards"}
    assert {"Late Farm"} <= names(as_ilse, "overdue")
    assert names(as_ilse, "limit") == {"Full Farm"}
    assert names(as_ilse, "halt") == {"Late Farm", "Hazelmoor Orchards"}
    assert "New Farm" not in names(as_ilse, "caution")
    assert as_ilse.status("get", "customers", None, day="soon") == 422


@pytest.mark.parametrize("sort", ["name", "-name", "number", "-town"])
@pytest.mark.parametrize("day", ["due", "overdue", "limit", "halt", "caution"])
def test_a_long_list_of_a_day_is_the_same_as_a_short_one(
    world: World, monkeypatch: pytest.MonkeyPatch, sort: str, day: str
) -> None:
    for n in range(9):
        owner = (world.ilse, world.tomas, world.stranger)[n % 3]
        farm = CustomerFactory(owner=owner, name=f"Farm {n * 7 % 10}")
        CustomerDay.objects.create(
            customer=farm,
            verdict=("halt", "caution", "clear")[n // 3],
            due=n % 3,
            at_limit=n % 4 == 0,
            overdue=n % 2 == 0,
        )

    def seen(caller: Caller) -> list[str]:
        return [row["name"] for row in caller("get", "customers", day=day, sort=sort)["rows"]]

    people = [world.call(who) for who in (world.ilse, world.petra, world.admin)]
    short = [seen(caller) for caller in people]
    monkeypatch.setattr("apps.listing.MOST", 1)
    assert [seen(caller) for caller in people] == short
    assert len(short[2]) > 1


def test_a_customer_who_gets_another_rep_takes_the_day_along(world: World, as_ilse: Caller) -> None:
    late = CustomerFactory(name="Late Farm", owner=world.ilse)
    InvoiceFactory(customer=late, gross=D(500), on=ago(world, 90), due_on=ago(world, 60))
    while renew(world.today):
        pass
    assert "Late Farm" in names(as_ilse, "overdue")
    Customer.objects.filter(pk=late.pk).update(owner=world.tomas)
    assert "Late Farm" not in names(as_ilse, "overdue")
    assert "Late Farm" in names(world.call(world.tomas), "overdue")
    for boss in (world.petra, world.admin, world.joren):
        assert "Late Farm" in names(world.call(boss), "overdue")
    of = {
        person: world.call(world.petra)("get", "customers", day="overdue", owner=person.pk)["rows"]
        for person in (world.ilse, world.tomas)
    }
    assert [row["name"] for row in of[world.tomas]] == ["Late Farm"]
    assert "Late Farm" not in {row["name"] for row in of[world.ilse]}


def test_who_was_called_or_visited_is_seen_a_note_is_not_enough(
    world: World, as_ilse: Caller
) -> None:
    called, noted = (CustomerFactory(owner=world.ilse, name=name) for name in ("Called", "Noted"))
    long_ago = CustomerFactory(owner=world.ilse, name="Long ago")
    for customer, kind in ((called, "call"), (noted, "note"), (long_ago, "visit")):
        Activity.objects.create(kind=kind, customer=customer, owner=world.ilse, text="-")
    Activity.objects.filter(customer=long_ago).update(
        created_at=timezone.now() - timedelta(weeks=9)
    )
    found = names(as_ilse, "unseen")
    assert {"Noted", "Long ago"} <= found and "Called" not in found


def test_what_is_not_bought_any_more_is_kept_by_name(world: World, posts: OrderLine) -> None:
    for days in (200, 190, 180, 170):
        bill(posts, ago(world, days))
    renew(world.today)
    (stopped,) = CustomerDay.objects.get(customer=world.customer).stopped
    assert (stopped["name"], stopped["last_on"]) == ("Chestnut post", str(ago(world, 170)))


def test_a_day_is_made_once_and_anew_after_news_or_at_night(world: World) -> None:
    while renew(world.today):
        pass
    assert renew(world.today) == 0
    InvoiceFactory(customer=world.customer, on=ago(world, 90), due_on=ago(world, 60))
    assert CustomerDay.objects.get(customer=world.customer).verdict != "halt"
    forget_day(world.customer.pk)
    assert renew(world.today) == 1
    assert CustomerDay.objects.get(customer=world.customer).verdict == "halt"
    assert renew(world.today + timedelta(days=1)) == Customer.objects.count()


def test_days_cost_the_same_queries_however_many(
    world: World, posts: OrderLine, queries_of: Callable[[Callable[[], object]], int]
) -> None:
    bill(posts, ago(world, 30))
    one = queries_of(lambda: renew(world.today))
    for n in range(12):
        CustomerFactory(owner=world.ilse, name=f"Farm {n}")
    CustomerDay.objects.update(on=None)
    assert queries_of(lambda: renew(world.today)) <= one


def test_today_tells_a_rep_what_is_not_bought_any_more(
    world: World, posts: OrderLine, as_ilse: Caller
) -> None:
    for days in (260, 250, 245, 240):
        bill(posts, ago(world, days))
    renew(world.today)
    (stop,) = as_ilse("get", "today")["stopped"]
    assert (stop["title"], stop["customer"], stop["days"]) == (
        "Chestnut post",
        "Hazelmoor Orchards",
        240,
    )
    assert world.call(world.stranger)("get", "today")["stopped"] == []
    assert world.call(world.joren)("get", "today")["stopped"] == []


def test_today_tells_first_what_was_bought_most_often(world: World, as_ilse: Caller) -> None:
    for n in range(7):
        farm = CustomerFactory(owner=world.ilse, name=f"Farm {n}")
        stopped = [{"item": 1, "name": "Net", "last_on": "2026-01-05", "purchases": 4 + n}]
        CustomerDay.objects.create(
            customer=farm, verdict="clear", stopped=stopped, stopped_purchases=4 + n
        )
    told = [stop["customer"] for stop in as_ilse("get", "today")["stopped"]]
    assert told == [f"Farm {n}" for n in (6, 5, 4, 3, 2)]


def test_a_customer_that_cannot_be_judged_holds_up_nobody(world: World) -> None:
    francs = PriceListFactory(code="francs", currency="CHF")
    odd = CustomerFactory(owner=world.ilse, price_list=francs)
    InvoiceFactory(customer=odd)  # and no rate for it
    assert renew(world.today) == 2
    assert renew(world.today) == 0
    assert CustomerDay.objects.get(customer=odd).verdict == "caution"
    assert CustomerDay.objects.get(customer=world.customer).on == world.today
