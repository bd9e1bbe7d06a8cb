"""The whole customer: exposure in its parts, every document, what they buy; invoices, deliveries, payments."""

from collections.abc import Callable
from datetime import date, timedelta
from decimal import Decimal
from typing import Any

from django.utils import timezone
import pytest

from apps.handover.flows import hand_over
from apps.ledger.models import InvoiceLine
from apps.ledger.queries import payment_days, turnover_by_item
from apps.orders.flows import write_order
from apps.orders.models import Delivery, DeliveryLine, Order
from apps.prices.models import Agreement
from apps.quotes.models import Revision
from demo.factories import AllocationFactory, CustomerFactory, InvoiceFactory, PaymentFactory
from routecore.dates import months_back
from tests.server.conftest import Caller, World

D = Decimal


@pytest.fixture
def order(world: World, issued: Revision) -> Order:
    """An order of posts and wire, of which ten posts have left and are billed and paid."""
    made = write_order(
        *(world.ilse, issued.pk, issued.version),
        today=world.today,
        now=timezone.now(),
        close_deal=False,
    )
    hand_over(world.ilse, made.pk, made.version, now=timezone.now())
    posts = made.lines.get(item=world.post)
    left = Delivery.objects.create(order=made, number="DN-7", on=world.today)
    gone = DeliveryLine.objects.create(delivery=left, order_line=posts, quantity=10)
    bill = InvoiceFactory(
        customer=world.customer, order=made, number="INV-7", gross=D("480.00"), net=D("400.00")
    )
    InvoiceLine.objects.create(
        invoice=bill, order_line=posts, delivery_line=gone, text=posts.text, net=D("400.00")
    )
    payment = PaymentFactory(customer=world.customer, number="PAY-7", amount=D("500.00"))
    AllocationFactory(invoice=bill, payment=payment, amount=D("480.00"))
    return made


def page(world: World, caller: Caller) -> Any:
    return caller("get", f"customers/{world.customer.pk}")


def documents(world: World, caller: Caller, **asked: Any) -> list[str]:
    told = caller("get", f"customers/{world.customer.pk}/documents", **asked)
    return [f"{row['kind']} {row['number']}" for row in told["rows"]]


def test_the_parts_of_the_exposure_come_to_the_exposure(
    world: World, as_ilse: Caller, order: Order
) -> None:
    InvoiceFactory(customer=world.customer, gross=D("100.00"))
    InvoiceFactory(customer=world.customer, gross=D("30.00"), kind="credit")
    shown = page(world, as_ilse)["standing"]
    parts = ("open_invoices", "credits", "not_invoiced", "not_delivered")
    told = {name: D(shown[name]) for name in parts}
    assert sum(told.values()) == D(shown["exposure"])
    assert (told["open_invoices"], told["credits"]) == (D(100), D(-50))  # 20 are on account
    assert told["not_delivered"] > 0


def test_every_document_is_found_the_newest_first(
    world: World, as_ilse: Caller, order: Order
) -> None:
    old = InvoiceFactory(customer=world.customer, on=world.today - timedelta(days=400))
    found = documents(world, as_ilse)
    assert found[-1] == f"invoice {old.number}"
    kinds = {each.split()[0] for each in found}
    assert kinds == {"quote", "order", "delivery", "invoice", "payment"}


@pytest.mark.parametrize(
    ("words", "kinds"),
    [
        ("wire", ["order", "quote"]),
        ("chestnut", ["delivery", "invoice", "order", "quote"]),
        ("chestnut wire", ["order", "quote"]),
        ("INV-7", ["invoice", "payment"]),
        ("frost line", ["quote"]),
        ("100% _", []),
    ],
)
def test_a_document_is_found_by_its_number_its_title_and_its_lines(
    world: World, as_ilse: Caller, order: Order, words: str, kinds: list[str]
) -> None:
    found = {each.split()[0] for each in documents(world, as_ilse, words=words)}
    assert found == set(kinds)


def test_days_and_kinds_narrow_them(world: World, as_ilse: Caller, order: Order) -> None:
    before = world.today - timedelta(days=40)
    old = InvoiceFactory(customer=world.customer, on=before, due_on=before)
    until = (world.today - timedelta(days=1)).isoformat()
    assert documents(world, as_ilse, until=until) == [f"invoice {old.number}"]
    assert documents(world, as_ilse, kind="delivery") == ["delivery DN-7"]
    assert documents(world, as_ilse, since=world.today.isoformat(), kind="invoice") == [
        "invoice INV-7"
    ]
    opened = {each.split()[0] for each in documents(world, as_ilse, kind="open")}
    assert opened == {"invoice", "order", "payment", "delivery"}


def test_pages_of_documents_and_their_cost(
    world: World, as_ilse: Caller, queries_of: Callable[[Callable[[], object]], int]
) -> None:
    path = f"customers/{world.customer.pk}/documents"
    for n in range(3):
        InvoiceFactory(customer=world.customer, number=f"A-{n}")
    few = queries_of(lambda: as_ilse("get", path))
    for n in range(45):
        InvoiceFactory(customer=world.customer, number=f"B-{n}")
    assert queries_of(lambda: as_ilse("get", path)) == few
    told = as_ilse("get", path, page=9)
    assert (told["count"], told["page"], told["pages"], len(told["rows"])) == (48, 3, 3, 8)


def test_the_page_costs_the_same_however_much_is_open(
    world: World, as_ilse: Caller, queries_of: Callable[[Callable[[], object]], int]
) -> None:
    def more(many: int) -> None:
        for _ in range(many):
            invoice = InvoiceFactory(customer=world.customer)
            payment = PaymentFactory(customer=world.customer, amount=D(50))
            AllocationFactory(invoice=invoice, payment=payment, amount=D(20))

    more(2)
    few = queries_of(lambda: page(world, as_ilse))
    more(20)
    assert queries_of(lambda: page(world, as_ilse)) == few


def test_what_they_buy_to_the_same_day_of_the_year_before(
    world: World, as_ilse: Caller, order: Order
) -> None:
    line = order.lines.get(item=world.post)
    for on, net in (
        (months_back(world.today, 12), "100.00"),
        (months_back(world.today, 12) + timedelta(days=1), "999.00"),
    ):
        bill = InvoiceFactory(customer=world.customer, on=on, due_on=on)
        InvoiceLine.objects.create(invoice=bill, order_line=line, text="x", net=D(net))
    credit = InvoiceFactory(customer=world.customer, kind="credit")
    InvoiceLine.objects.create(invoice=credit, order_line=line, text="x", net=D("40.00"))
    InvoiceLine.objects.create(invoice=credit, text="freight", net=D("5.00"))
    told = as_ilse("get", f"customers/{world.customer.pk}/items")
    row = told["rows"][0]
    assert (row["code"], row["now"], row["before"]) == ("POST-25", "360.00", "100.00")
    assert row["change"] == "260"
    assert (told["others"]["now"], told["total"]["now"]) == ("-5.00", "355.00")


@pytest.mark.parametrize(
    ("today", "until"),
    [(date(2028, 2, 29), date(2027, 2, 28)), (date(2026, 1, 1), date(2025, 1, 1))],
)
def test_a_leap_day_has_the_last_of_february_before_it(
    world: World, today: date, until: date
) -> None:
    for on, net in ((until, D(7)), (until + timedelta(days=1), D(9))):
        bill = InvoiceFactory(customer=world.customer, on=on, due_on=on)
        InvoiceLine.objects.create(invoice=bill, text="x", net=net)
    (found,) = turnover_by_item(world.customer.pk, today)
    assert (found.item, found.now, found.before) == (None, D(0), D(7))


def test_days_to_pay_are_weighed_by_amount_and_split_to_the_day(world: World) -> None:
    def paid(amount: str, days: int, ago: int) -> None:
        on = world.today - timedelta(days=ago)
        invoice = InvoiceFactory(
            customer=world.customer, gross=D(amount), on=on - timedelta(days=days), due_on=on
        )
        payment = PaymentFactory(customer=world.customer, amount=D(amount), on=on)
        AllocationFactory(invoice=invoice, payment=payment)

    border = (world.today - months_back(world.today, 12)).days
    for amount, days, ago in (("1000", 30, 1), ("2000", 45, border - 1), ("500", 60, border)):
        paid(amount, days, ago)
    found = payment_days(world.customer.pk, world.today)
    recent = [(each.amount, each.days) for each in found if each.recent]
    assert sorted(recent) == [(D(1000), 30), (D(2000), 45)]
    assert [(each.amount, each.days) for each in found if not each.recent] == [(D(500), 60)]


def test_an_agreement_of_the_parent_says_so(world: World, as_ilse: Caller) -> None:
    parent = CustomerFactory(name="Marrow Vale", owner=world.ilse)
    world.customer.parent = parent
    world.customer.save()
    for number, customer, days in (("FA-1", world.customer, 100), ("FA-2", parent, -1)):
        Agreement.objects.create(
            number=number,
            customer=customer,
            item=world.post,
            unit_id="H87",
            currency="EUR",
            price=D(30),
            quantity=D(500),
            valid_from=world.today - timedelta(days=100),
            valid_to=world.today + timedelta(days=days),
        )
    told = page(world, as_ilse)["agreements"]
    assert [(row["number"], row["of"], row["state"]) for row in told] == [
        ("FA-1", "", "behind"),
        ("FA-2", "Marrow Vale", "over"),
    ]
    assert (told[0]["left"], told[0]["time_percent"]) == ("500", "50.2")


def test_an_invoice_a_delivery_and_a_payment_lead_to_each_other(
    world: World, as_ilse: Caller, order: Order
) -> None:
    to = {
        row["kind"]: row["to"]
        for row in as_ilse("get", f"customers/{world.customer.pk}/documents")["rows"]
    }
    bill = as_ilse("get", to["invoice"].strip("/"))
    assert (bill["state"], bill["tax"], bill["order"]) == ("paid", "80.00", order.number)
    assert [(row["item"], row["quantity"]) for row in bill["lines"]] == [("POST-25", "10")]
    paid = as_ilse("get", f"payments/{bill['payments'][0]['id']}")
    assert (paid["unused"], paid["settles"][0]["number"]) == ("20.00", "INV-7")
    left = as_ilse("get", to["delivery"].strip("/"))
    assert [(row["quantity"], row["ordered"]) for row in left["lines"]] == [("10", "20")]
    assert bill["route"] and left["route"]


@pytest.mark.parametrize("kind", ["invoice", "delivery", "payment"])
def test_they_are_seen_by_those_who_see_the_customer(
    world: World, as_ilse: Caller, order: Order, kind: str
) -> None:
    rows = as_ilse("get", f"customers/{world.customer.pk}/documents", kind=kind)["rows"]
    path = rows[0]["to"].strip("/")
    for person, status in ((world.petra, 200), (world.joren, 200), (world.tomas, 404)):
        assert world.call(person).status("get", path) == status
    assert world.call(world.tomas).status("get", f"customers/{world.customer.pk}/items") == 404
