"""Standing from the rows of the database: invoices, credits, payments, orders, currencies."""

from datetime import timedelta
from decimal import Decimal

from apps.catalogue.models import ExchangeRate
from apps.customers.standing import standings
from demo.factories import (
    AllocationFactory,
    CustomerFactory,
    InvoiceFactory,
    PaymentFactory,
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
        {"code": "overdue", "verdict": "caution", "amount": "1180.00", "days": 12}
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


def test_without_a_rate_nothing_is_added_up(world: World, as_ilse: Caller) -> None:
    francs = PriceListFactory(code="francs", currency="CHF")
    customer = CustomerFactory(owner=world.ilse, price_list=francs)
    InvoiceFactory(customer=customer)
    refused = as_ilse.ask("get", f"customers/{customer.pk}")
    assert (refused.status_code, refused.json()["code"]) == (422, "no_rate")
