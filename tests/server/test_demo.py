"""The demo data: loaded once, it has to add up like the real thing."""

from collections.abc import Iterator
from decimal import Decimal

from django.db import connection
from django.db.models import F, Sum
from django.utils import timezone
import pytest
from pytest_django.plugin import DjangoDbBlocker

from apps.catalogue.models import ItemGroup
from apps.customers.models import Customer
from apps.deals.models import Deal
from apps.handover.gateway import Page
from apps.handover.models import APPLIED, BackOfficeEvent
from apps.handover.worker import go_round
from apps.kept.figures import wrong_figures
from apps.ledger.models import Allocation, Invoice, Payment
from apps.orders.models import Order
from apps.orders.queries import state_of
from apps.quotes.models import QuoteLine, Revision
from apps.stock.models import Reservation, SetAside
from demo.books import write_books
from ops import prepared
from routecore.casefile import differences, price_case
from tests.conftest import turn_to
from tests.server.office import Office

SAMPLE = 40


@pytest.fixture(scope="module")
def demo(django_db_setup: None, django_db_blocker: DjangoDbBlocker) -> Iterator[None]:
    """The demo data, in a database beside the tests' own."""
    own = connection.settings_dict["NAME"]
    beside = f"{own}_demo"
    prepared.demo_into(beside)
    with django_db_blocker.unblock():
        turn_to(beside)
        yield
        turn_to(own)
        with connection.cursor() as cursor:
            cursor.execute(f"DROP DATABASE `{beside}`")


pytestmark = [pytest.mark.django_db, pytest.mark.usefixtures("demo")]


def test_the_past_reaches_back_two_and_a_half_years_in_every_group() -> None:
    first = Revision.objects.order_by("on")[0].on
    assert (timezone.localdate() - first).days > 850
    sold = QuoteLine.objects.exclude(price=None).values_list("item__group__code", flat=True)
    assert set(sold.distinct()) == set(ItemGroup.objects.values_list("code", flat=True))


def test_every_past_deal_is_decided_and_its_order_paid() -> None:
    past = Deal.objects.filter(closed_at__lt=timezone.now() - timezone.timedelta(days=100))
    outcomes = set(past.values_list("stage__outcome", flat=True))
    assert outcomes == {"won", "lost"}
    orders = Order.objects.filter(deal__in=past)
    assert {state_of(order) for order in orders} == {"paid"}


def test_the_lines_of_an_order_and_of_its_invoice_add_up_to_their_sums() -> None:
    orders = Order.objects.annotate(sum=Sum(F("lines__net") - F("lines__discount_share")))
    assert orders.count() > 300
    for order in orders:
        charged = sum((Decimal(row["amount"]) for row in order.charges), Decimal(0))
        assert order.sum + charged == order.net, order.number  # type: ignore[attr-defined]
        assert order.gross + order.payable_rounding == order.payable
    for invoice in Invoice.objects.exclude(order=None).annotate(sum=Sum("lines__net")):
        assert invoice.sum == invoice.net, invoice.number  # type: ignore[attr-defined]


def test_no_invoice_is_paid_beyond_what_it_comes_to() -> None:
    paid = Allocation.objects.values("invoice").annotate(sum=Sum("amount"))
    beyond = paid.filter(sum__gt=F("invoice__gross"))
    assert not beyond.exists()


def test_an_issued_quote_prices_again_from_its_case_to_what_was_offered() -> None:
    issued = list(Revision.objects.exclude(issued_at=None).order_by("pk"))
    for revision in issued[:: len(issued) // SAMPLE]:
        case = revision.case
        assert case is not None
        again = price_case(case)
        assert not list(differences(case["expect"], again))
        # The reason of a tax is told in words by the case alone: stored answers are worded when shown.
        found = differences(revision.priced["totals"], again["totals"])
        assert not [each for each in found if not each.path.endswith(".reason")]


def test_all_news_of_the_back_office_fits() -> None:
    apart = BackOfficeEvent.objects.exclude(state=APPLIED)
    assert list(apart.values_list("kind", "facts")) == []
    states = {state_of(order) for order in Order.objects.all()}
    assert {"refused", "held", "part_shipped", "part_paid", "paid"} <= states


def test_kept_figures_are_those_of_the_rows() -> None:
    assert wrong_figures() == {}


def test_the_back_office_begins_with_books_that_say_what_is_known(office: Office) -> None:
    before = balances()
    write_books(office.folder / "opening.json")
    rounds(office)
    assert not SetAside.objects.filter(kind__in=("account", "invoice", "payment")).exists()
    open_ones = Invoice.objects.exclude(open_amount=0)
    assert open_ones.exists()
    assert not open_ones.filter(change=0).exists()
    assert balances() == before

    # What is at work is kept for its orders, and goes on there.
    known = Order.objects.filter(handover_state__in=("taken", "held"), to_ship=True)
    assert set(
        Reservation.objects.exclude(order_number="").values_list("order_number", flat=True)
    ) == set(known.values_list("number", flat=True))
    order = known.filter(handover_state="taken", shipped_quantity=0)[0]
    for _ in range(2):  # shipped, invoiced
        office.press("step", number=order.backoffice_number)
    rounds(office)
    order.refresh_from_db()
    assert (order.shipped_quantity, order.invoiced) == (order.goods_quantity, order.payable)
    assert not BackOfficeEvent.objects.exclude(state=APPLIED).exists()

    # Its clerk books a payment of one of them; the next books begin another count.
    customer = open_ones.order_by("pk")[0].customer
    office.press("pay-all", number=customer.number)
    rounds(office)
    assert not Invoice.objects.filter(customer=customer, open_amount__gt=0).exists()
    told = office.client.changes(0)
    assert isinstance(told, Page)
    write_books(office.folder / "opening.json")
    anew = office.client.changes(0)
    assert isinstance(anew, Page)
    assert anew.epoch != told.epoch
    rounds(office)
    assert not SetAside.objects.filter(kind__in=("account", "invoice", "payment")).exists()


def rounds(office: Office) -> None:
    while go_round(office.client, "test", timezone.now):
        pass


def balances() -> dict[str, tuple[Decimal, Decimal, bool]]:
    """By customer: what is open, what stands on account, whether held."""
    unused = dict(Payment.objects.values_list("customer").annotate(Sum("unused")))
    return {
        row.number: (row.left or Decimal(0), unused.get(row.pk, Decimal(0)), row.held)
        for row in Customer.objects.annotate(left=Sum("invoices__open_amount"))
    }
