"""What credit notes settle is credited, not paid."""

from datetime import timedelta
from decimal import Decimal

import pytest

from api.customers.documents import invoice_state
from apps.kept.figures import DECLARED
from apps.ledger.models import Allocation, Invoice, Payment
from apps.orders.queries import derive_state
from tests.server.conftest import World

D = Decimal


@pytest.mark.parametrize(
    ("settled", "credited", "state"),
    [
        ("0", "0", "invoiced"),
        ("40", "0", "part_paid"),
        ("100", "0", "paid"),
        ("40", "40", "invoiced"),
        ("60", "40", "part_paid"),
        ("100", "40", "paid"),
        ("100", "100", "credited"),
    ],
)
def test_an_order_is_paid_only_by_what_was_paid(settled: str, credited: str, state: str) -> None:
    found = derive_state(
        handover="taken",
        goods=D(1),
        shipped=D(1),
        payable=D(100),
        invoiced=D(100),
        settled=D(settled),
        credited=D(credited),
    )
    assert found == state


def document(world: World, number: str, kind: str, gross: int) -> Invoice:
    due = world.today + timedelta(days=30)
    return Invoice.objects.create(
        customer=world.customer, number=number, kind=kind, on=world.today, due_on=due,
        currency="EUR", net=gross, gross=gross,
    )  # fmt: skip


def credited(world: World, number: str, invoice: Invoice, amount: int) -> str:
    """The invoice's state once a credit note settles so much of it."""
    credit = document(world, number, "credit", amount)
    Allocation.objects.create(credit=credit, invoice=invoice, amount=amount)
    invoice.refresh_from_db()
    return invoice_state(invoice)


def test_an_invoice_says_whether_it_was_paid_or_credited(world: World) -> None:
    whole, part = (document(world, number, "invoice", 100) for number in ("I-1", "I-2"))
    assert credited(world, "C-1", whole, 40) == "part_credited"
    assert credited(world, "C-2", whole, 60) == "credited"
    assert credited(world, "C-3", part, 40) == "part_credited"
    payment = Payment.objects.create(
        customer=world.customer, number="P-1", on=world.today, amount=60, currency="EUR"
    )
    Allocation.objects.create(payment=payment, invoice=part, amount=60)
    part.refresh_from_db()
    assert (invoice_state(part), part.credited, part.settled) == ("paid", 40, 100)
    assert (part.whose_id, part.customer_name) == (world.ilse.pk, world.customer.name)
    assert [kept.wrong() for kept in DECLARED] == [[] for _ in DECLARED]
