"""What the back office says is open of a customer, beside what ours come to."""

from collections.abc import Callable
from datetime import timedelta
from decimal import Decimal
from typing import Any

from django.utils import timezone
import pytest

from apps.customers.merging import merge_customers
from apps.handover.worker import prove_accounts
from apps.ledger.balances import PATIENCE, compare_accounts
from apps.ledger.models import Account, Invoice
from apps.stock.intake import take_in_changes
from apps.stock.models import APART, ChangeFeed, SetAside
from apps.stock.progress import FEED, move_on
from demo.factories import CustomerFactory, InvoiceFactory
from tests.server.conftest import Caller, World
from tests.server.test_accounts import bill, change, paid

D = Decimal


def told(turn: int, number: str = "C-1", **sums: str) -> dict[str, Any]:
    """The account of a customer, with what is open of it by currency."""
    rows = [{"currency": currency, "amount": amount} for currency, amount in sums.items()]
    data = {"customer": number, "held": False, "balances": rows}
    return change(turn, "account", number, data)


def compare() -> Account:
    compare_accounts(timezone.now())
    return Account.objects.get(customer__number="C-1")


def long_ago() -> None:
    """The differences have lasted for a while."""
    past = timezone.now() - PATIENCE - timedelta(minutes=1)
    Account.objects.exclude(differs_since=None).update(differs_since=past)


def stops(caller: Caller) -> list[dict[str, Any]]:
    return [stop for stop in caller("get", "today")["trouble"] if stop["title"] == "account"]


def test_an_account_that_adds_up_is_said_to_and_stops_nobody(world: World, as_ilse: Caller) -> None:
    parts = {"INV-1": "50.00"}
    take_in_changes([bill(1), paid(2, "80.00", parts), told(3, EUR="40.00")])
    row = compare()
    assert (row.ours, row.differs_since) == ({"EUR": "40.00"}, None)  # 70 are open, 30 on account
    seen = as_ilse("get", f"customers/{world.customer.pk}")["account"]
    assert seen["same"]
    assert seen["rows"] == [{"currency": "EUR", "told": "40.00", "ours": "40.00"}]
    assert stops(world.call(world.petra)) == []


#: In francs and in euros, what is told and what ours come to.
SUMS = [("5.00", "0.00"), ("100.00", "120.00")]


def test_one_that_does_not_is_told_to_lead_and_back_office_once_it_has_lasted(
    world: World, as_ilse: Caller
) -> None:
    page = f"customers/{world.customer.pk}"
    take_in_changes([bill(1), told(2, EUR="100.00", CHF="5.00")])
    compare()
    assert stops(world.call(world.joren)) == []
    assert as_ilse("get", page)["account"] is None  # an invoice may be on its way
    long_ago()
    for person in (world.petra, world.joren, world.admin):
        (stop,) = stops(world.call(person))
        assert stop["customer"] == "Hazelmoor Orchards"
        assert [(row["told"], row["ours"]) for row in stop["books"]] == SUMS
        assert stop["to"] == f"/customers/{world.customer.pk}#open-items"
    assert stops(as_ilse) == []
    seen = as_ilse("get", page)["account"]
    assert not seen["same"]
    assert [(row["told"], row["ours"]) for row in seen["rows"]] == SUMS
    assert stops(world.call(world.stranger)) == []


def test_what_comes_later_is_compared_again_and_the_stop_goes(world: World) -> None:
    take_in_changes([bill(1), told(2, EUR="240.00")])
    since = compare().differs_since
    assert since is not None
    take_in_changes([told(3, EUR="250.00")])
    assert compare().differs_since == since  # it has differed since then
    long_ago()
    take_in_changes([bill(4, "INV-2", gross="130.00")])
    assert compare().differs_since is None
    assert stops(world.call(world.petra)) == []


def test_nothing_is_compared_before_all_was_read(world: World) -> None:
    now = timezone.now()
    take_in_changes([told(1, EUR="120.00")])
    move_on(1, epoch="e", last=2, now=now)
    assert prove_accounts(timezone.now) == 0
    take_in_changes([bill(2)])
    move_on(2, epoch="e", last=2, now=now)
    ChangeFeed.objects.filter(name=FEED).update(problem="away")
    assert prove_accounts(timezone.now) == 0
    ChangeFeed.objects.filter(name=FEED).update(problem="")
    assert prove_accounts(timezone.now) == 1
    assert Account.objects.get().differs_since is None
    assert prove_accounts(timezone.now) == 0


def test_what_is_given_for_paying_early_is_not_open(world: World) -> None:
    early = {"percent": "2", "until": "2026-10-15"}
    in_time = paid(2, "117.60", {"INV-1": "117.60"}, on="2026-10-14")
    take_in_changes([bill(1, early=early), in_time, told(3)])
    row = compare()
    assert (row.ours, row.differs_since) == ({}, None)
    assert Invoice.objects.get(number="INV-1").discount == D("2.40")


def test_of_a_customer_of_two_records_both_accounts_are_added_once_both_are_told(
    world: World,
) -> None:
    other = CustomerFactory(owner=world.ilse, number="C-9", name="Hazelmoor", currency="EUR")
    take_in_changes([bill(1), bill(2, "INV-9", customer="C-9"), told(3, EUR="120.00")])
    take_in_changes([told(4, "C-9", EUR="120.00")])
    compare()
    versions = (world.customer.version, other.version)
    pks = (world.customer.pk, other.pk)
    merge_customers(world.petra, *pks, versions, [], now=timezone.now())
    assert not Account.objects.exists()
    take_in_changes([told(5, EUR="120.00")])
    assert compare().ours is None  # the other's is not told yet
    take_in_changes([told(6, "C-9", EUR="120.00")])
    row = compare()
    assert (row.whole, row.ours) == ({"EUR": "240.00"}, {"EUR": "240.00"})
    assert row.differs_since is None


@pytest.mark.parametrize(
    "rows",
    [
        [{"currency": "EUR", "amount": "1"}, {"currency": "EUR", "amount": "2"}],
        [{"currency": "EUR", "amount": "NaN"}],
        [{"currency": "EUR", "amount": "1.001"}],
        [{"currency": "eur", "amount": "1"}],
        [{"currency": "EUR"}],
        ["EUR"],
        {"EUR": "1"},
        "1",
    ],
)
def test_balances_that_cannot_be_read_are_set_apart(world: World, rows: object) -> None:
    data = {"customer": "C-1", "held": True, "balances": rows}
    take_in_changes([change(1, "account", "C-1", data)])
    assert SetAside.objects.get(state=APART).facts["what"] == "unreadable"
    world.customer.refresh_from_db()
    assert not world.customer.held
    assert not Account.objects.exists()


def test_a_back_office_that_tells_no_balances_is_understood(world: World, as_ilse: Caller) -> None:
    take_in_changes([change(1, "account", "C-1", {"customer": "C-1", "held": True})])
    assert compare_accounts(timezone.now()) == 0
    assert as_ilse("get", f"customers/{world.customer.pk}")["account"] is None


def test_one_that_tells_them_no_more_is_held_to_nothing(world: World) -> None:
    take_in_changes([told(1, EUR="70.00")])
    assert compare().differs_since is not None
    take_in_changes([change(2, "account", "C-1", {"customer": "C-1", "held": False})])
    assert not Account.objects.exists()


def test_accounts_are_compared_in_the_same_queries_however_many(
    world: World, queries_of: Callable[[Callable[[], object]], int]
) -> None:
    take_in_changes([bill(1), told(2, EUR="120.00")])
    one = queries_of(lambda: compare_accounts(timezone.now()))
    for n in range(12):
        farm = CustomerFactory(owner=world.ilse, number=f"C-5{n}", name=f"Farm {n}")
        InvoiceFactory(customer=farm, gross=D(10), on=world.today, due_on=world.today)
        take_in_changes([told(100 + n, f"C-5{n}", EUR="10.00")])
    assert queries_of(lambda: compare_accounts(timezone.now())) <= one
    assert Account.objects.filter(ours__isnull=False, differs_since=None).count() == 13
