"""What the database holds by itself, and that it agrees with the models."""

from decimal import Decimal
from io import StringIO

from django.core.management import call_command
from django.db import connection, transaction
from django.db.utils import DatabaseError, IntegrityError
from django.utils import timezone
import pytest

from apps.deals.models import Deal
from apps.handover.flows import hand_over
from apps.handover.intake import take_in
from apps.numbering.flows import next_number
from apps.orders.flows import write_order
from apps.quotes.models import Revision
from demo.factories import InvoiceFactory, PriceEntryFactory
from tests.server.conftest import World
from tests.server.test_handover import story


def test_the_migrations_are_complete(db: None) -> None:
    call_command("makemigrations", "--check", "--dry-run", stdout=StringIO())


def test_no_check_warns(db: None) -> None:
    call_command("check", "--database", "default", "--fail-level", "WARNING", stderr=StringIO())


def test_the_server_is_strict_and_speaks_utf8mb4(db: None) -> None:
    with connection.cursor() as cursor:
        cursor.execute("SELECT @@sql_mode, @@character_set_connection, @@collation_database")
        mode, charset, collation = cursor.fetchone()
    assert "STRICT_ALL_TABLES" in mode
    assert (charset, collation) == ("utf8mb4", "utf8mb4_uca1400_as_ci")


@pytest.mark.parametrize(
    "change",
    [
        {"estimate": Decimal(-1)},
        {"own_probability_percent": Decimal(101)},
        {"confidence": "perhaps"},
    ],
)
def test_the_database_refuses_values_that_cannot_be(
    world: World, change: dict[str, object]
) -> None:
    with transaction.atomic(), pytest.raises(IntegrityError):
        Deal.objects.update(**change)


def test_an_invoice_is_more_than_nothing(world: World) -> None:
    with transaction.atomic(), pytest.raises(IntegrityError):
        InvoiceFactory(customer=world.customer, gross=Decimal(0))


def test_a_price_is_not_negative(world: World) -> None:
    with transaction.atomic(), pytest.raises(IntegrityError):
        PriceEntryFactory(item=world.post, price=Decimal(-1))


def test_numbers_follow_each_other_within_a_year(world: World) -> None:
    with transaction.atomic():
        numbers = [next_number("Q", world.today) for _ in range(3)]
    year = f"{world.today:%y}"
    assert numbers == [f"Q-{year}-000{n}" for n in (1, 2, 3)]


BOOKED = [
    "DELETE FROM ledger_invoice",
    "UPDATE ledger_invoice SET gross = gross + 1",
    "DELETE FROM ledger_invoiceline",
    "UPDATE ledger_payment SET amount = 1",
    "DELETE FROM ledger_allocation",
    "UPDATE quotes_quotepaper SET pdf = ''",
    "DELETE FROM quotes_quotepaper",
    "DELETE FROM orders_orderline",
    "DELETE FROM orders_order",
    "UPDATE orders_order SET payable = 1",
    "UPDATE orders_orderline SET net = 1",
]


def test_what_was_handed_over_booked_or_printed_stays(world: World, issued: Revision) -> None:
    order = write_order(
        *(world.ilse, issued.pk, issued.version),
        today=world.today,
        now=timezone.now(),
        close_deal=True,
    )
    entry = hand_over(world.ilse, order.pk, order.version, now=timezone.now())
    take_in(story(entry))
    for sql in BOOKED:
        with pytest.raises(DatabaseError, match=r"stay|does not change"), transaction.atomic():
            connection.cursor().execute(sql)


def test_before_it_is_handed_over_an_order_can_be_mended(world: World, issued: Revision) -> None:
    order = write_order(
        *(world.ilse, issued.pk, issued.version),
        today=world.today,
        now=timezone.now(),
        close_deal=True,
    )
    connection.cursor().execute(
        "UPDATE orders_order SET payable = payable WHERE id = %s", [order.pk]
    )
    order.buyer_reference = "PO 7"
    order.save()
