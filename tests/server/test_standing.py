"""Standing from the rows of the database: invoices, credits, payments, orders, currencies."""

from collections.abc import Callable
from datetime import timedelta
from decimal import ROUND_HALF_UP, Decimal

from django.db.models import Q
import pytest

from apps.catalogue.models import ExchangeRate
from apps.customers.models import Customer
from apps.customers.standing import over_credit, standings
from demo.factories import (
    AllocationFactory,
    CustomerFactory,
    InvoiceFactory,
    PaymentFactory,
    PriceEntryFactory,
    PriceListFactory,
)
from routecore.standing import Standing
from tests.server.conftest import Caller, World

D = Decimal


def standing_of(world: World) -> Standing:
    return standings([world.customer], world.today)[world.customer.pk]


def test_part_payments_credits_and_unallocated_money_lower_the_balance(world: World) -> None:
    invoice = InvoiceFactory(customer=world.customer, gross=D(1000))
    payment = PaymentFactory(customer=world.customer, amount=D(400))
    AllocationFactory(invoice=invoice, payment=payment, amount=D(300))
    InvoiceFactory(customer=world.customer, gross=D(50), kind="credit")
    found = standing_of(world)
    assert (found.ageing.invoices, found.ageing.credits) == (D(700), D(-150))
    assert found.exposure == D(550)


def test_an_overdue_invoice_shows_with_its_days(world: World, as_ilse: Caller) -> None:
    InvoiceFactory(
        customer=world.customer,
        gross=D("1180.00"),
        on=world.today - timedelta(days=42),
        due_on=world.today - timedelta(days=12),
    )
    shown = as_ilse("get", f"customers/{world.customer.pk}")
    assert shown["standing"]["verdict"] == "caution"
    assert shown["standing"]["reasons"] == [
        {"code": "overdue", "verdict": "caution", "amount": "1180.00", "days": 12, "of": ""}
    ]
    assert shown["open_items"][0]["days_late"] == 12


def test_other_currencies_are_converted_at_the_days_rate(world: World) -> None:
    sterling = PriceListFactory(code="sterling", currency="GBP")
    customer = CustomerFactory(owner=world.ilse, price_list=sterling, credit_limit=D(1000))
    ExchangeRate.objects.create(currency="GBP", on=world.today - timedelta(days=9), rate=D("1.10"))
    ExchangeRate.objects.create(currency="GBP", on=world.today, rate=D("1.20"))
    ExchangeRate.objects.create(currency="GBP", on=world.today + timedelta(days=1), rate=D("9.99"))
    InvoiceFactory(customer=customer, gross=D(500))
    found = standings([customer], world.today)[customer.pk]
    assert found.exposure == D("600.00")


def test_a_quote_says_what_it_weighs_and_leaves_in_its_currency_and_in_the_houses(
    world: World, as_ilse: Caller
) -> None:
    sterling = PriceListFactory(code="sterling", currency="GBP")
    PriceEntryFactory(item=world.post, price_list=sterling, price=D("30.00"))
    customer = CustomerFactory(owner=world.ilse, price_list=sterling, credit_limit=D(1000))
    ExchangeRate.objects.create(currency="GBP", on=world.today, rate=D("1.20"))
    InvoiceFactory(customer=customer, gross=D(500))
    made = as_ilse("post", "quotes", {"customer_id": customer.pk})
    only = {"key": "a", "item_id": world.post.pk, "quantity": "3", "unit": "H87"}
    body = {"version": made["version"], "valid_until": made["valid_until"], "lines": [only]}
    saved = as_ilse("put", f"revisions/{made['id']}", body)
    payable = D(saved["priced"]["totals"]["payable"])
    weight = saved["weight"]
    assert (weight["currency"], D(weight["payable"]), D(weight["rate"])) == (
        "GBP",
        payable,
        D("1.2"),
    )
    assert D(weight["base_payable"]) == payable * D("1.2")
    left = D(1000) - D(600) - payable * D("1.2")
    assert D(weight["base_left"]) == left == D(saved["standing"]["after"])
    assert D(weight["left"]) == (left / D("1.2")).quantize(D("0.01"), ROUND_HALF_UP)
    assert as_ilse("get", f"revisions/{made['id']}")["weight"] == weight


def test_without_a_rate_nothing_is_added_up(world: World, as_ilse: Caller) -> None:
    francs = PriceListFactory(code="francs", currency="CHF")
    customer = CustomerFactory(owner=world.ilse, price_list=francs)
    InvoiceFactory(customer=customer)
    refused = as_ilse.ask("get", f"customers/{customer.pk}")
    assert (refused.status_code, refused.json()["code"]) == (422, "no_rate")


@pytest.fixture
def group(world: World) -> Customer:
    """A parent of Ilse's with a limit of 1,000; Hazelmoor is its member, and one of a stranger's."""
    head = CustomerFactory(name="Marrow Vale", owner=world.ilse, credit_limit=D(1000))
    world.customer.parent = head
    world.customer.credit_limit = D(400)
    world.customer.save()
    other = CustomerFactory(name="Two Elms", owner=world.stranger, parent=head, credit_limit=None)
    InvoiceFactory(customer=other, gross=D(300), due_on=world.today)
    InvoiceFactory(customer=head, gross=D(200), due_on=world.today)
    InvoiceFactory(customer=world.customer, gross=D(100), due_on=world.today)
    return head


def told(found: Standing) -> list[tuple[str, str]]:
    return [(reason.code, reason.of) for reason in found.reasons]


def test_the_limit_of_a_parent_is_the_groups(world: World, group: Customer) -> None:
    rows = {row.name: row for row in Customer.objects.filter(Q(pk=group.pk) | Q(parent=group))}
    for name, own in (
        ("Hazelmoor Orchards", D(100)),
        ("Two Elms", D(300)),
        ("Marrow Vale", D(200)),
    ):
        found = standings([rows[name]], world.today)[rows[name].pk]
        assert found.exposure == own
        assert found.group is not None
        assert (found.group.exposure, found.group.available) == (D(600), D(400))
        assert told(found) == []
    over = standings([rows["Two Elms"]], world.today, this_document=D("400.01"))
    assert told(over[rows["Two Elms"].pk]) == [("over_limit", "group"), ("near_limit", "group")]
    assert over_credit(rows["Two Elms"], world.today, D("400.01")) == D("0.01")
    assert over_credit(rows["Hazelmoor Orchards"], world.today, D("350")) == D("50.00")


def test_a_halt_of_the_parent_is_every_members(world: World, group: Customer) -> None:
    group.held = True
    group.save()
    found = standing_of(world)
    assert (found.verdict, told(found)) == ("halt", [("held", "parent")])
    assert told(standings([group], world.today)[group.pk]) == [("held", "")]


def test_the_parents_page_adds_up_all_and_shows_those_one_may_see(
    world: World, group: Customer, as_ilse: Caller
) -> None:
    shown = as_ilse("get", f"customers/{group.pk}")["group"]
    assert [(row["name"], row["balance"]) for row in shown["members"]] == [
        ("Marrow Vale", "200.00"),
        ("Hazelmoor Orchards", "100.00"),
    ]
    assert (shown["others"], shown["count"]) == (1, 3)
    assert (shown["balance"], shown["exposure"]) == ("600.00", "600.00")
    member = as_ilse("get", f"customers/{world.customer.pk}")
    assert member["group"] is None
    assert member["standing"]["group"]["available"] == "400.00"
    clerk = world.call(world.joren)("get", f"customers/{group.pk}")["group"]
    assert (len(clerk["members"]), clerk["others"]) == (3, 0)


def test_a_list_costs_the_same_with_groups(
    world: World, group: Customer, as_ilse: Caller, queries_of: Callable[..., int]
) -> None:
    before = queries_of(lambda: as_ilse("get", "customers"))
    for n in range(5):
        CustomerFactory(name=f"Member {n}", owner=world.ilse, parent=group)
    assert queries_of(lambda: as_ilse("get", "customers")) == before
    page = queries_of(lambda: as_ilse("get", f"customers/{group.pk}"))
    CustomerFactory(name="Member 9", owner=world.ilse, parent=group)
    assert queries_of(lambda: as_ilse("get", f"customers/{group.pk}")) == page
