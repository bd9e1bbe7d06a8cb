"""Customers' accounts as the back office tells them: holds, invoices, payments, what settles what."""

from collections.abc import Callable
from datetime import timedelta
from decimal import Decimal
from typing import Any

from django.db import connection
from django.db.utils import DatabaseError
from django.utils import timezone
import pytest

from apps.customers.merging import merge_customers, undo_merge
from apps.customers.models import Customer
from apps.handover.flows import hand_over
from apps.handover.models import APPLIED, BackOfficeEvent
from apps.handover.worker import go_round, read_changes, read_feed, read_kinds_anew
from apps.ledger.models import Account, Allocation, Invoice, Payment
from apps.orders.flows import write_order
from apps.orders.models import Delivery, DeliveryLine, Order
from apps.quotes.models import Revision
from apps.regulars.buying import bought
from apps.stock.intake import take_in_changes
from apps.stock.models import APART, TAKEN_IN, SetAside
from apps.stock.progress import move_on, resync
from demo.factories import CustomerFactory
from tests.server.conftest import Caller, World
from tests.server.office import Office

D = Decimal


def change(turn: int, what: str, name: str, data: dict[str, Any]) -> dict[str, Any]:
    """A change as the back office tells it."""
    at = (timezone.now() - timedelta(minutes=5)).isoformat()
    return {"change": turn, "kind": what, "id": name, "at": at, "data": data}


def account(turn: int, held: object) -> dict[str, Any]:
    """Whether Hazelmoor is held."""
    return change(turn, "account", "C-1", {"customer": "C-1", "held": held})


def bill(turn: int, name: str = "INV-1", **more: Any) -> dict[str, Any]:
    """An invoice of Hazelmoor over 120.00."""
    data = {
        "number": name,
        "customer": "C-1",
        "order_number": None,
        "kind": "invoice",
        "on": "2026-10-01",
        "due_on": "2026-10-31",
        "currency": "EUR",
        "net": "100.00",
        "gross": "120.00",
        "dues": [],
        "early": None,
        "lines": [{"line": None, "text": "Posts", "net": "100.00"}],
        "settles": [],
        **more,
    }
    return change(turn, "invoice", name, data)


def paid(turn: int, amount: str, shares: dict[str, str], name: str = "PAY-1", **more: Any) -> Any:
    data = {
        "number": name,
        "customer": "C-1",
        "on": "2026-10-20",
        "currency": "EUR",
        "amount": amount,
        "settles": [{"invoice": key, "amount": share} for key, share in shares.items()],
        **more,
    }
    return change(turn, "payment", name, data)


def apart() -> list[str]:
    return [row.facts["what"] for row in SetAside.objects.filter(state=APART).order_by("pk")]


def opened(name: str) -> Decimal:
    found: Decimal = Invoice.objects.get(number=name).open_amount
    return found


def test_a_payment_settles_several_and_leaves_the_rest_on_account(
    world: World, as_ilse: Caller
) -> None:
    take_in_changes([bill(1), bill(2, "INV-2"), paid(3, "200", {"INV-1": "120", "INV-2": "30"})])
    assert (opened("INV-1"), opened("INV-2")) == (D(0), D(90))
    shown = as_ilse("get", f"customers/{world.customer.pk}")
    assert [row["unused"] for row in shown["on_account"]] == ["50.00"]
    assert shown["standing"]["balance"] == "40.00"
    assert apart() == []


def test_what_settles_what_is_told_anew_in_place_of_before(world: World) -> None:
    take_in_changes([bill(1), bill(2, "INV-2"), paid(3, "120", {"INV-1": "120"})])
    take_in_changes([paid(4, "120", {"INV-2": "120"})])
    assert (opened("INV-1"), opened("INV-2")) == (D(120), D(0))
    take_in_changes([paid(3, "120", {"INV-1": "120"})])  # an older word, again
    assert opened("INV-2") == D(0)


def test_however_often_and_in_whichever_order_it_is_told_it_is_once(world: World) -> None:
    told = [bill(1), bill(2, "INV-2"), paid(3, "150", {"INV-1": "120", "INV-2": "30"})]
    for rows in (told[::-1], told, told[::-1]):
        take_in_changes(rows)
    assert (opened("INV-1"), opened("INV-2")) == (D(0), D(90))
    assert (Invoice.objects.count(), Payment.objects.count()) == (2, 1)
    assert set(SetAside.objects.values_list("state", flat=True)) == {TAKEN_IN}


def test_a_credit_note_settles_as_far_as_it_says(world: World, as_ilse: Caller) -> None:
    credit = bill(
        2,
        "CN-1",
        kind="credit",
        net="20.00",
        gross="24.00",
        settles=[{"invoice": "INV-1", "amount": "20.00"}],
    )
    take_in_changes([bill(1), credit])
    assert (opened("INV-1"), opened("CN-1")) == (D(100), D(4))
    row = Invoice.objects.get(number="INV-1")
    told = as_ilse("get", f"invoices/{row.pk}")
    assert [(each["kind"], each["amount"]) for each in told["payments"]] == [("credit", "20.00")]
    note = as_ilse("get", f"invoices/{Invoice.objects.get(number='CN-1').pk}")
    assert [each["number"] for each in note["settles"]] == ["INV-1"]


def test_a_hold_is_a_halt_at_once_and_its_end_too(world: World, as_ilse: Caller) -> None:
    def verdict() -> Any:
        return as_ilse("get", f"customers/{world.customer.pk}")["standing"]["verdict"]

    take_in_changes([account(1, True)])
    assert verdict() == "halt"
    take_in_changes([account(2, False)])
    assert verdict() != "halt"


def test_a_discount_is_taken_by_the_payment_that_is_in_time(world: World) -> None:
    early = {"percent": "2", "until": "2026-10-20"}
    take_in_changes([bill(1, early=early), paid(2, "117.60", {"INV-1": "117.60"})])
    row = Invoice.objects.get()
    assert (row.discount, row.open_amount) == (D("2.40"), D(0))


@pytest.mark.parametrize(
    ("wrong", "what"),
    [
        (bill(2, "X", customer="C-99"), "unknown_customer"),
        (bill(2, "X", order_number="O-99"), "unknown_order_number"),
        (bill(2, "X", gross="1e3"), "unreadable"),
        (bill(2, "X", gross="90.00"), "unreadable"),
        (bill(2, "X", due_on="2026-09-30"), "unreadable"),
        (bill(2, "X", dues=[{"on": "2026-10-31", "amount": "119.99"}]), "unreadable"),
        (bill(2, "X", settles=[{"invoice": "INV-1", "amount": "1"}]), "unreadable"),
        (bill(2, "X", lines=[{"line": 0, "text": "x", "net": "1"}]), "unreadable"),
        (bill(2, gross="130.00"), "booked_otherwise"),
        (paid(2, "50", {"INV-9": "50"}), "unknown_invoice"),
        (paid(2, "50", {"INV-1": "51"}), "unreadable"),
        (paid(2, "500", {"INV-1": "121"}), "paid_too_much"),
        (paid(2, "50", {"INV-1": "50"}, currency="GBP"), "other_currency"),
        (account(2, "yes"), "unreadable"),
    ],
)
def test_what_does_not_fit_is_set_aside_with_its_reason_and_the_rest_goes_on(
    world: World, wrong: dict[str, Any], what: str
) -> None:
    take_in_changes([bill(1), wrong, bill(3, "INV-3")])
    assert apart() == [what]
    assert set(Invoice.objects.values_list("number", flat=True)) == {"INV-1", "INV-3"}
    assert not Payment.objects.exists()


def test_a_customer_who_comes_later_brings_what_waited(world: World) -> None:
    take_in_changes([bill(1, customer="C-9")])
    assert apart() == ["unknown_customer"]
    CustomerFactory(number="C-9", owner=world.ilse)
    take_in_changes([account(2, False)])
    assert apart() == []
    assert Invoice.objects.get().customer.number == "C-9"


def test_who_became_another_is_the_other(world: World) -> None:
    other = CustomerFactory(number="C-9", owner=world.ilse)
    merge_customers(world.ilse, other.pk, world.customer.pk, (1, 1), (), now=timezone.now())
    take_in_changes([bill(1)])
    assert Invoice.objects.get().customer_id == other.pk


def test_a_hold_of_the_one_is_not_ended_by_the_others_release(world: World) -> None:
    other = CustomerFactory(number="C-9", owner=world.ilse)
    merge = merge_customers(world.ilse, other.pk, world.customer.pk, (1, 1), (), now=timezone.now())

    def told(turn: int, number: str, held: bool) -> bool:
        data = {"customer": number, "held": held}
        take_in_changes([change(turn, "account", number, data)])
        return bool(Customer.objects.get(pk=other.pk).held)

    assert told(1, "C-9", True)
    assert told(2, "C-1", False)  # the record that went says nothing of the other
    assert told(3, "C-1", True)
    assert told(4, "C-9", False)
    undo_merge(world.ilse, merge.pk, now=timezone.now())
    held = dict(Customer.objects.values_list("number", "held"))
    assert (held["C-9"], held["C-1"]) == (False, True)


def test_an_order_told_by_its_account_first_is_what_left_and_its_event_adds_nothing(
    world: World, issued: Revision
) -> None:
    order = write_order(
        *(world.ilse, issued.pk, issued.version),
        today=world.today,
        now=timezone.now(),
        close_deal=False,
    )
    posts = order.lines.get(item=world.post)
    left = Delivery.objects.create(order=order, number="DN-1", on=world.today)
    DeliveryLine.objects.create(delivery=left, order_line=posts, quantity=5)
    lines = [{"line": posts.position, "text": posts.text, "net": "100.00"}]
    take_in_changes([bill(1, order_number=order.number, lines=lines)])
    assert apart() == []
    found = bought([world.customer.pk], world.today - timedelta(days=400), world.today, "EUR")
    assert [row.quantity for row in found[world.post.pk].purchases] == [5]
    take_in_changes([bill(2, "X", order_number=order.number, customer="C-9")])
    CustomerFactory(number="C-9", owner=world.ilse)
    take_in_changes([account(3, False)])
    assert apart() == ["other_customer"]


def test_what_settles_many_takes_as_many_queries_as_what_settles_few(
    world: World, queries_of: Callable[[Callable[[], object]], int]
) -> None:
    take_in_changes([bill(n, f"I-{n}") for n in range(1, 21)])
    few = {f"I-{n}": "1.00" for n in range(1, 3)}
    many = {f"I-{n}": "1.00" for n in range(1, 21)}
    cost = queries_of(lambda: take_in_changes([paid(30, "2", few, "P-1")]))
    assert queries_of(lambda: take_in_changes([paid(31, "20", many, "P-2")])) == cost


def test_a_feed_that_counts_anew_is_believed_again(world: World) -> None:
    take_in_changes([account(50, True), bill(51)])
    move_on(0, epoch="new", last=1, now=timezone.now(), anew=True)
    take_in_changes([account(1, False), bill(2)])
    assert not Customer.objects.get(pk=world.customer.pk).held
    assert Invoice.objects.get().change == 2


def test_an_allocation_goes_only_when_it_is_told_anew(world: World) -> None:
    take_in_changes([bill(1), paid(2, "50", {"INV-1": "50"})])
    with pytest.raises(DatabaseError), connection.cursor() as cursor:
        cursor.execute("SAVEPOINT s")
        try:
            Allocation.objects.all().delete()
        finally:
            cursor.execute("ROLLBACK TO SAVEPOINT s")


# ---- with the real stand-in -------------------------------------------------------------------


def test_an_order_and_its_account_are_told_on_both_ways_and_are_one(
    world: World, issued: Revision, office: Office
) -> None:
    order = write_order(
        *(world.ilse, issued.pk, issued.version),
        today=world.today,
        now=timezone.now(),
        close_deal=False,
    )
    hand_over(world.ilse, order.pk, order.version, now=timezone.now())

    def rounds() -> None:
        for _ in range(4):
            go_round(office.client, "test", timezone.now)
        account = Account.objects.get(customer=world.customer)
        assert account.checked_at
        assert account.differs_since is None

    rounds()
    entry = Order.objects.get(pk=order.pk)
    for _ in range(2):  # shipped, invoiced
        office.press("step", number=entry.backoffice_number)
    rounds()
    invoice = Invoice.objects.get(order=order, kind="invoice")
    assert invoice.gross == order.payable
    office.press("pay-half", number="C-1")
    office.press("on-account", number="C-1")
    office.press("credit", number=invoice.number)
    rounds()
    invoice.refresh_from_db()
    half = (order.payable / 2).quantize(D("0.01"))
    tenth = (order.payable / 10).quantize(D("0.01"))
    assert abs(invoice.open_amount - (order.payable - half - tenth)) <= D("0.01")
    assert Payment.objects.filter(unused=250).exists()
    office.press("step", number=entry.backoffice_number)  # the rest is paid
    office.press("hold-customer", number="C-1")
    rounds()
    order.refresh_from_db()
    assert (order.paid, Invoice.objects.get(pk=invoice.pk).open_amount) == (True, D(0))
    assert Customer.objects.get(pk=world.customer.pk).held
    known = SetAside.objects.filter(state=APART, kind__in=("account", "invoice", "payment"))
    assert not known.exists()


def test_an_invoice_that_is_asked_for_anew_is_still_known_when_its_event_comes(
    world: World, issued: Revision, office: Office
) -> None:
    order = write_order(
        *(world.ilse, issued.pk, issued.version),
        today=world.today,
        now=timezone.now(),
        close_deal=False,
    )
    hand_over(world.ilse, order.pk, order.version, now=timezone.now())
    for _ in range(4):
        go_round(office.client, "test", timezone.now)
    number = Order.objects.get(pk=order.pk).backoffice_number
    for _ in range(2):  # shipped, invoiced
        office.press("step", number=number)
    read_changes(office.client, timezone.now)
    assert Invoice.objects.get(order=order).change > 0
    resync(world.joren, "invoice", now=timezone.now())
    read_feed(office.client, timezone.now)
    assert not BackOfficeEvent.objects.exclude(state=APPLIED).exists()
    read_kinds_anew(office.client)
    assert Invoice.objects.get(order=order).change > 0
