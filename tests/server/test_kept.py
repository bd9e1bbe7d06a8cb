"""Figures that are kept where they are read: always those that follow from the rows."""

from datetime import date, datetime, timedelta
from decimal import Decimal
from io import StringIO

from django.apps import apps
from django.core.management import call_command
from django.core.management.base import CommandError
from django.core.management.sql import emit_post_migrate_signal, emit_pre_migrate_signal
from django.db import connection
from django.db.migrations import Migration
from django.utils import timezone
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase
import pytest

from apps.catalogue.models import PriceEntry
from apps.customers.flows import add_address, add_contact
from apps.customers.models import Customer
from apps.deals.flows import change_deal
from apps.deals.models import LIKELY, STRETCH, SURE, Deal, Stage
from apps.deals.queries import by_confidence, by_month, for_forecast, weighted
from apps.handover.flows import hand_over
from apps.handover.intake import take_in
from apps.kept.figures import DECLARED, later, mend_figures, wrong_figures
from apps.kept.models import Proof
from apps.kept.proving import is_due, prove
from apps.ledger.models import Allocation, Invoice, Payment
from apps.listing import Ordered, count
from apps.orders.flows import write_order
from apps.orders.models import Order
from apps.orders.queries import state_of
from apps.quotes.flows.ending import decline, discard_draft
from apps.quotes.flows.issuing import issue_revision
from apps.quotes.flows.starting import revise
from apps.quotes.models import Quote, Revision
from demo.factories import AllocationFactory, DealFactory, InvoiceFactory, PaymentFactory
from routecore.forecast import Cell, ForecastDeal, forecast_deals, forecast_groups
from tests.server.conftest import World
from tests.server.test_handover import story

D = Decimal
LISTED = ("confidence", "amount", weighted())


def test_every_kept_column_is_a_field_that_nobody_else_writes() -> None:
    models = {model._meta.db_table: model for model in apps.get_models()}
    for kept in DECLARED:
        for column in kept.figures:
            field = models[kept.table]._meta.get_field(column.strip("`"))
            assert not field.editable, (kept.table, column)


def front(quote_id: int) -> tuple[object, ...]:
    quote = Quote.objects.get(pk=quote_id)
    return quote.letter, quote.net, quote.issued_at is not None, quote.order_number


def test_no_figure_follows_from_rows_that_two_conditions_find() -> None:
    """With OR the database proves a figure by reading a whole table for each row: hours in a big house."""
    for kept in DECLARED:
        for column, rule in kept.figures.items():
            assert " OR " not in rule.upper(), f"{kept.table}.{column}"


def test_a_quote_shows_its_newest_revision_through_its_whole_life(
    world: World, drafted: Revision
) -> None:
    now, quote = timezone.now(), drafted.quote_id
    assert front(quote) == ("A", drafted.net, False, None)
    assert Quote.objects.get(pk=quote).customer_name == "Hazelmoor Orchards"
    issue_revision(world.ilse, drafted.pk, drafted.version, today=world.today, now=now)
    assert front(quote) == ("A", drafted.net, True, None)
    second = revise(world.ilse, quote, today=world.today)
    assert front(quote) == ("B", second.net, False, None)
    discard_draft(world.ilse, second.pk, second.version, today=world.today)
    assert front(quote) == ("A", drafted.net, True, None)
    decline(world.ilse, quote, reason="no", today=world.today, now=now)
    third = revise(world.ilse, quote, today=world.today)
    issued = issue_revision(world.ilse, third.pk, third.version, today=world.today, now=now)
    order = write_order(
        world.ilse, issued.pk, issued.version, today=world.today, now=now, close_deal=True
    )
    assert front(quote) == ("B", issued.net, True, order.number)
    assert wrong_figures() == {}


def test_an_order_tells_how_far_it_has_come_after_each_piece_of_news(
    world: World, issued: Revision
) -> None:
    now = timezone.now()
    order = write_order(
        world.ilse, issued.pk, issued.version, today=world.today, now=now, close_deal=False
    )
    entry = hand_over(world.ilse, order.pk, order.version, now=now)
    seen = [state_of(Order.objects.get(pk=order.pk))]
    for piece in story(entry):
        take_in([piece])
        seen.append(state_of(Order.objects.get(pk=order.pk)))
        assert wrong_figures() == {}
    assert seen == ["waiting", "taken", "shipped", "invoiced", "paid"]
    invoice, payment = Invoice.objects.get(), Payment.objects.get()
    assert (invoice.open_amount, payment.unused) == (0, 0)
    assert Order.objects.filter(paid=True, billed=True).count() == 1


def test_what_is_called_otherwise_is_called_so_everywhere(world: World, issued: Revision) -> None:
    order = write_order(
        *(world.ilse, issued.pk, issued.version),
        today=world.today,
        now=timezone.now(),
        close_deal=False,
    )
    deal = Deal.objects.get(pk=world.deal.pk)
    change_deal(world.ilse, deal.pk, deal.version, now=timezone.now(), title="Nine new rows")
    Customer.objects.filter(pk=world.customer.pk).update(name="Hazelmoor & Sons")
    quote = Quote.objects.get(pk=issued.quote_id)
    assert (quote.customer_name, quote.deal_title) == ("Hazelmoor & Sons", "Nine new rows")
    assert Order.objects.get(pk=order.pk).customer_name == "Hazelmoor & Sons"
    assert Deal.objects.get(pk=deal.pk).customer_name == "Hazelmoor & Sons"
    add_contact(world.ilse, world.customer.pk, name="Bram Oake")
    add_address(
        *(world.ilse, world.customer.pk),
        kind="delivery",
        street="x",
        postcode="",
        town="Dunmere",
        country="QF",
    )
    customer = Customer.objects.get(pk=world.customer.pk)
    assert "Bram Oake" in customer.people
    assert (customer.town, customer.towns) == ("Dunmere", "Marrow Vale Dunmere")
    assert wrong_figures() == {}


def test_a_deal_has_the_outcome_of_its_stage(world: World) -> None:
    deal = Deal.objects.get(pk=world.deal.pk)
    won = Stage.objects.get(outcome="won")
    change_deal(world.ilse, deal.pk, deal.version, now=timezone.now(), stage=won.code)
    assert Deal.objects.get(pk=deal.pk).outcome == "won"
    assert deal not in Deal.objects.all().open()
    Stage.objects.filter(pk=won.pk).update(outcome="lost")
    assert Deal.objects.get(pk=deal.pk).outcome == "lost"


@pytest.mark.parametrize(
    ("table", "change"),
    [
        ("quotes_quote", "net = 999999, letter = 'Z', order_number = 'O-1'"),
        ("orders_order", "settled = 999999, handover_state = 'taken'"),
        ("ledger_invoice", "settled = 999999"),
        ("ledger_payment", "used = 999999"),
        ("deals_deal", "outcome = 'won', customer_name = 'x'"),
        ("customers_customer", "people = 'x'"),
        ("catalogue_priceentry", "item_code = 'x'"),
    ],
)
def test_nobody_sets_a_kept_figure_by_hand(
    world: World, issued: Revision, table: str, change: str
) -> None:
    write_order(
        *(world.ilse, issued.pk, issued.version),
        today=world.today,
        now=timezone.now(),
        close_deal=False,
    )
    invoice = InvoiceFactory(customer=world.customer)
    AllocationFactory(
        invoice=invoice, payment=PaymentFactory(customer=world.customer, amount=D(20))
    )
    with connection.cursor() as cursor:
        cursor.execute(f"UPDATE {table} SET {change}")
    assert wrong_figures() == {}


def test_what_a_payment_settles_is_taken_from_what_is_open(world: World) -> None:
    invoice = InvoiceFactory(customer=world.customer, gross=D(120))
    payment = PaymentFactory(customer=world.customer, amount=D(100))
    made = AllocationFactory(invoice=invoice, payment=payment, amount=D("70.50"))
    fresh = Invoice.objects.get(pk=invoice.pk), Payment.objects.get(pk=payment.pk)
    assert (fresh[0].open_amount, fresh[1].unused) == (D("49.50"), D("29.50"))
    assert Allocation.objects.get(pk=made.pk).amount == D("70.50")


def test_much_that_is_written_at_once_is_right_at_the_end(world: World) -> None:
    with later():
        InvoiceFactory.create_batch(3, customer=world.customer)
        quote = Quote.objects.create(number="Q-1", customer=world.customer, owner=world.ilse)
        assert quote.customer_name == ""
    assert wrong_figures() == {}
    assert Quote.objects.get(pk=quote.pk).customer_name == "Hazelmoor Orchards"


@pytest.mark.django_db(transaction=True)
def test_a_migration_meets_no_trigger_and_figures_are_set_after_it(
    world: World, drafted: Revision
) -> None:
    facts = {"verbosity": 0, "interactive": False, "db": "default"}
    emit_pre_migrate_signal(**facts, plan=[])
    assert triggers() > 30, "nothing migrates: they stay"
    emit_pre_migrate_signal(**facts, plan=[(Migration("0099_any", "kept"), False)])
    try:
        assert triggers() == 0
        Quote.objects.filter(pk=drafted.quote_id).update(net=D("0"))
    finally:
        emit_post_migrate_signal(**facts)
    assert triggers() > 30
    assert wrong_figures() == {}
    assert Quote.objects.get(pk=drafted.quote_id).net == drafted.net != 0


def triggers() -> int:
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT COUNT(*) FROM information_schema.TRIGGERS "
            "WHERE TRIGGER_SCHEMA = DATABASE() AND TRIGGER_NAME LIKE 'kept\\_%'"
        )
        return int(cursor.fetchone()[0])


def test_the_command_names_what_is_wrong_and_mends_it(world: World, drafted: Revision) -> None:
    out = StringIO()
    call_command("check_figures", stdout=out)
    assert "equal their rows" in out.getvalue()
    with connection.cursor() as cursor:
        cursor.execute("SET @kept_later = 1")
        cursor.execute("UPDATE quotes_quote SET net = net + 1")
        cursor.execute("SET @kept_later = NULL")
    assert wrong_figures() == {"quotes_quote": [drafted.quote_id]}
    with pytest.raises(CommandError):
        call_command("check_figures", stdout=out)
    assert f"quotes_quote: wrong in {drafted.quote_id}" in out.getvalue()
    call_command("check_figures", "--mend", stdout=out)
    assert wrong_figures() == {}


def test_entries_stand_by_list_and_item(world: World) -> None:
    found = PriceEntry.objects.order_by("list_code", "item_code", "from_quantity")
    assert [row.item_code for row in found] == ["POST-25", "POST-25", "WIRE-2"]
    mend_figures()
    assert wrong_figures() == {}


class TheDatabaseForecasts(TestCase):
    """Deals added up in the database are those that the core weighs one by one."""

    @given(
        rows=st.lists(
            st.tuples(
                st.decimals(0, 10**9, places=2),
                st.one_of(st.none(), st.decimals(0, 10**9, places=2)),
                st.one_of(st.none(), st.decimals(0, 100, places=4)),
                st.dates(date(2026, 6, 1), date(2027, 6, 1)),
                st.sampled_from([SURE, LIKELY, STRETCH]),
            ),
            max_size=8,
        )
    )
    @settings(deadline=None, max_examples=40)
    def test_as_the_core(self, rows: list[tuple[D, D | None, D | None, date, str]]) -> None:
        today = date(2026, 11, 26)
        deals = [
            DealFactory(
                estimate=estimate,
                quoted_amount=quoted,
                own_probability_percent=own,
                decision_on=day,
                confidence=confidence,
            )
            for estimate, quoted, own, day, confidence in rows
        ]
        ours = forecast_groups(for_forecast(Deal.objects.all(), today))
        expected = forecast_deals(
            [
                ForecastDeal(
                    amount=quoted if quoted is not None else estimate,
                    probability_percent=own if own is not None else deal.stage.probability_percent,
                    decision=day,
                    stage=deal.stage.code,
                    rep=str(deal.owner_id),
                    confidence=confidence,
                )
                for deal, (estimate, quoted, own, day, confidence) in zip(deals, rows, strict=True)
            ],
            today=today,
            currency="EUR",
        )
        assert ours == expected
        assert by_month(Deal.objects.all(), today) == expected.by_month
        listed = count(Ordered(Deal.objects.annotate(weighted=weighted()), ("pk",)), *LISTED)
        assert by_confidence(listed.values) == expected.by_confidence
        assert ours.total.count == len(rows)
        assert sum((cell.weighted for cell in ours.by_month.values()), D(0)) == (
            ours.total.weighted if rows else Cell().weighted
        )


def at_home(text: str) -> datetime:
    return datetime.fromisoformat(text).replace(tzinfo=timezone.get_default_timezone())


@pytest.mark.parametrize(
    ("last", "now", "due"),
    [
        (None, "2026-11-26 14:00", True),
        ("2026-11-25 02:10", "2026-11-26 01:59", False),
        ("2026-11-25 02:10", "2026-11-26 02:00", True),
        ("2026-11-26 02:00", "2026-11-26 03:00", False),
        ("2026-11-24 02:10", "2026-11-25 06:09", False),
        ("2026-11-24 02:10", "2026-11-25 06:11", True),
    ],
)
def test_figures_are_proved_once_a_night(last: str | None, now: str, due: bool) -> None:
    assert is_due(at_home(last) if last else None, at_home(now)) is due


def test_an_administrator_hears_of_figures_that_are_wrong(world: World, drafted: Revision) -> None:
    assert prove(timezone.now, 0).wrong == {}
    assert world.call(world.admin)("get", "today")["trouble"] == []
    with connection.cursor() as cursor:
        cursor.execute("SET @kept_later = 1")
        cursor.execute("UPDATE quotes_quote SET letter = 'Z'")
        cursor.execute("SET @kept_later = NULL")
    assert prove(timezone.now, 0).wrong == {"quotes_quote": [drafted.quote_id]}
    (stop,) = world.call(world.admin)("get", "today")["trouble"]
    assert stop["title"] == "figures"
    assert f"In quotes_quote, rows {drafted.quote_id}." in stop["detail"]
    assert world.call(world.petra)("get", "today")["trouble"] == []
    old = Proof.objects.create(at=timezone.now() - timedelta(days=90))
    mend_figures()
    prove(timezone.now, 0)
    assert not Proof.objects.filter(pk=old.pk).exists()
    assert world.call(world.admin)("get", "today")["trouble"] == []
