"""What was billed on a day, of whom: kept for sums of a year, and always what its invoices come to."""

from collections import defaultdict
from decimal import Decimal
from threading import Barrier, Thread
from typing import Any

from django.db import connection, transaction
import pytest

from apps.customers.models import Customer
from apps.forecast.revenue import billed_net
from apps.kept.figures import mend_figures, wrong_figures
from apps.ledger.models import BilledDay, Invoice
from demo.factories import CustomerFactory, InvoiceFactory
from tests.server.conftest import Caller, World

D = Decimal


def kept() -> dict[tuple[Any, int], Decimal]:
    return {(row.on, row.whose_id): row.net for row in BilledDay.objects.all() if row.net}


def from_invoices() -> dict[tuple[Any, int], Decimal]:
    found: dict[tuple[Any, int], Decimal] = defaultdict(Decimal)
    for row in Invoice.objects.annotate(worth=billed_net()):
        found[row.on, row.whose_id] += row.worth
    return {key: net for key, net in found.items() if net}


def billed(customer: Customer, gross: str, **more: Any) -> Invoice:
    made: Invoice = InvoiceFactory(customer=customer, gross=D(gross), **more)
    return made


def test_a_day_follows_its_invoices_wherever_they_go(world: World) -> None:
    mine, other = world.customer, CustomerFactory(owner=world.ilse)
    billed(mine, "1200.00")
    billed(other, "120.00", currency="CHF", base_rate=D("1.055"))
    billed(other, "60.00", kind="credit")
    assert kept() == from_invoices() == {(world.today, world.ilse.pk): D("1055.50")}

    Customer.objects.filter(pk=other.pk).update(owner=world.tomas)
    assert (
        kept()
        == from_invoices()
        == {
            (world.today, world.ilse.pk): D("1000.00"),
            (world.today, world.tomas.pk): D("55.50"),
        }
    )
    assert wrong_figures() == {}


def test_a_day_that_has_no_row_is_told_and_made(world: World) -> None:
    billed(world.customer, "1200.00")
    before = kept()
    BilledDay.objects.all().delete()
    assert wrong_figures() == {"ledger_billedday": [0]}
    mend_figures()
    assert wrong_figures() == {}
    assert kept() == before != {}


def test_what_was_added_wrongly_is_told_and_set_anew(world: World) -> None:
    billed(world.customer, "1200.00")
    row = BilledDay.objects.get()
    BilledDay.objects.update(net=D("1"))
    assert wrong_figures() == {"ledger_billedday": [row.pk]}
    mend_figures()
    assert wrong_figures() == {}
    assert BilledDay.objects.get().net == D("1000.00")


def test_the_year_is_the_same_from_days_and_from_invoices(world: World, as_ilse: Caller) -> None:
    billed(world.customer, "1200.00")
    billed(world.customer, "24.00", kind="credit")
    billed(CustomerFactory(owner=world.tomas), "960.00")

    def year(caller: Caller, **filters: int) -> str:
        told: str = caller("get", "forecast/revenue", **filters)["year"]
        return told

    petra = world.call(world.petra)
    assert year(as_ilse) == year(as_ilse, customer=world.customer.pk) == "980.00"
    assert year(as_ilse, owner=world.tomas.pk) == "0.00"
    assert year(petra, owner=world.tomas.pk) == "800.00"
    assert year(petra) == year(petra, team=world.ilse.team_id or 0) == "1780.00"
    assert year(world.call(world.stranger)) == "0.00"


@pytest.mark.django_db(transaction=True)
def test_two_who_bill_on_one_day_wait_for_each_other_and_both_count(world: World) -> None:
    billed(world.customer, "12.00")
    start, faults = Barrier(2), list[Exception]()

    def book(gross: str) -> None:
        try:
            with transaction.atomic():
                start.wait(20)
                for _ in range(10):
                    billed(world.customer, gross)
        except Exception as error:
            faults.append(error)
        finally:
            connection.close()

    threads = [Thread(target=book, args=(gross,)) for gross in ("1.20", "2.40")]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert faults == []
    assert kept() == from_invoices() == {(world.today, world.ilse.pk): D("40.00")}
