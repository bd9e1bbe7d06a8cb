"""What the core says exactly stays exact in the database: call-offs, limits, figures' age."""

from collections.abc import Callable
from datetime import timedelta
from typing import Any

from django.utils import timezone
import pytest

from apps.catalogue.models import ItemUnit, Unit
from apps.handover.intake import note_read
from apps.handover.models import FeedPosition
from apps.handover.queries import figures_age_hours
from apps.orders.flows import write_order
from apps.orders.models import OrderLine
from apps.papers.words import ENGLISH, GERMAN
from apps.prices.models import Agreement, Limit
from apps.prices.queries import price_book, with_remaining
from apps.quotes.flows.issuing import issue_revision
from apps.quotes.models import Revision
from demo.factories import InvoiceFactory
from routecore.dates import Terms
from routecore.payment import EarlyPayment, Part, PaymentTerms
from tests.server.conftest import Caller, D, World, as_seen
from tests.server.test_quotes import body_of


def ordered(world: World, call: Caller, quantity: str) -> str:
    """A quote of so many posts, issued and ordered; the source of its price."""
    quote = call("post", "quotes", {"customer_id": world.customer.pk})
    line = {"key": "k", "item_id": world.post.pk, "quantity": quantity, "unit": "H87"}
    body = {"version": quote["version"], "valid_until": quote["valid_until"], "lines": [line]}
    saved = call("put", f"revisions/{quote['id']}", body)
    now = timezone.now()
    done = issue_revision(world.ilse, quote["id"], saved["version"], today=world.today, now=now)
    write_order(world.ilse, done.pk, done.version, today=world.today, now=now, close_deal=False)
    return str(saved["priced"]["lines"][0]["source"])


@pytest.fixture
def in_sevens(world: World) -> Agreement:
    """An agreement of two boxes of seven."""
    Unit.objects.create(code="BX", name="box")
    ItemUnit.objects.create(item=world.post, unit_id="BX", factor=D(7))
    return Agreement.objects.create(
        number="FA-7",
        customer=world.customer,
        item=world.post,
        unit_id="BX",
        currency="EUR",
        price=D(200),
        quantity=D(2),
        valid_from=world.today - timedelta(days=9),
        valid_to=world.today + timedelta(days=9),
    )


def test_orders_use_an_agreement_up_to_the_last_piece_whatever_its_unit(
    world: World, as_ilse: Caller, in_sevens: Agreement
) -> None:
    """3 + 3 + 8 pieces are two boxes of seven; in sevenths to six decimals, they would not be."""
    sources = [ordered(world, as_ilse, quantity) for quantity in ("3", "3", "8", "1")]
    assert sources[:3] == ["agreement:FA-7"] * 3
    assert not sources[3].startswith("agreement")
    assert sum(row.called_off or D(0) for row in OrderLine.objects.all()) == D(14)
    left = with_remaining(Agreement.objects.all()).get()
    assert (left.called_off, left.remaining) == (D(2), D(0))


def test_a_case_of_a_quote_carries_what_was_called_off(
    world: World, as_ilse: Caller, in_sevens: Agreement
) -> None:
    ordered(world, as_ilse, "3")
    [agreement] = price_book(world.customer, [world.post.pk], world.today).agreements(
        world.post.code
    )
    assert (agreement.remaining, agreement.called_off) == (D(2), D(3))


@pytest.fixture
def credit(world: World) -> Limit:
    world.customer.credit_limit = D(500)
    world.customer.save()
    row, _ = Limit.objects.get_or_create(role="rep", group="")
    row.credit = D(100)
    row.save()
    return row


def test_beyond_a_roles_credit_a_quote_asks_for_a_sign_off(
    world: World, as_ilse: Caller, drafted: Revision, credit: Limit
) -> None:
    InvoiceFactory.create(customer=world.customer, gross=D(100))
    saved = as_ilse("put", f"revisions/{drafted.pk}", body_of(drafted))
    payable = D(saved["priced"]["totals"]["payable"])
    over = payable + 100 - 500
    assert over > 100
    [excess] = [row for row in saved["excesses"] if row["code"] == "credit"]
    assert (D(excess["found"]), excess["limit"]) == (over, "100")
    refused = as_ilse.ask("post", f"revisions/{drafted.pk}/issue", as_seen(saved))
    assert refused.json()["code"] == "sign_off_needed"
    world.customer.credit_limit = D(5000)
    world.customer.save()
    saved = as_ilse(
        "put", f"revisions/{drafted.pk}", {**body_of(drafted), "version": saved["version"]}
    )
    assert [row for row in saved["excesses"] if row["code"] == "credit"] == []


def test_a_margin_floor_is_not_passed_unseen(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    Limit.objects.update_or_create(role="rep", group="", defaults={"margin_floor": D(10)})
    body = body_of(drafted, discount_percent=None)
    body["lines"][0]["discount_percent"] = "100"
    saved = as_ilse("put", f"revisions/{drafted.pk}", body)
    found = [(row["code"], row["found"]) for row in saved["excesses"]]
    assert ("free_line", None) in found or ("unknown_cost", None) in found


def test_figures_that_the_back_office_did_not_renew_for_a_day_are_stale(
    world: World, as_ilse: Caller
) -> None:
    def codes() -> list[str]:
        standing: Any = as_ilse("get", f"customers/{world.customer.pk}")["standing"]
        return [reason["code"] for reason in standing["reasons"]]

    assert "stale" not in codes()  # never asked: nothing is known of an age
    note_read(timezone.now() - timedelta(hours=50))
    assert "stale" in codes()
    note_read(timezone.now())
    assert "stale" not in codes()


def test_that_the_back_office_answered_is_written_once_a_minute(world: World) -> None:
    now = timezone.now()
    note_read(now)
    note_read(now + timedelta(seconds=30))
    assert FeedPosition.objects.get().read_at == now
    note_read(now + timedelta(seconds=90))
    assert figures_age_hours(now + timedelta(hours=3, seconds=91)) == 3


def test_a_discount_that_the_lines_cannot_bear_is_said_and_not_issued(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    freight = {"name": "Freight", "amount": "50", "tax_category": "standard"}
    body = body_of(drafted, discount_percent="100", discount_on="gross", charges=[freight])
    saved = as_ilse("put", f"revisions/{drafted.pk}", body)
    [problem] = [row for row in saved["problems"] if row["code"] == "discount_not_reached"]
    assert saved["checks"]["prices"] == "halt"
    refused = as_ilse.ask("post", f"revisions/{drafted.pk}/issue", as_seen(saved))
    assert (refused.status_code, refused.json()["facts"]["fault"]["code"]) == (
        409,
        "discount_not_reached",
    )
    assert problem["facts"]["reached"] in refused.json()["message"]


def test_a_line_solved_for_a_margin_keeps_it_after_the_discount_on_the_whole(
    world: World, drafted: Revision, queries_of: Callable[[Callable[[], object]], int]
) -> None:
    world.post.cost = D(20)
    world.post.save()
    call = world.call(world.petra)
    body = {"target": "line_margin", "value": "30", "line": drafted.lines.first().key}  # type: ignore[union-attr]
    found = call("post", f"revisions/{drafted.pk}/solve", body)
    assert (found["reached"], found["exact"]) == ("30.0", True)


def test_readings_of_pasted_rows_come_with_their_items(world: World, as_ilse: Caller) -> None:
    code = world.post.code
    [row] = as_ilse("post", "items/match", {"text": f"{code},20,41,50"})
    assert (row["item"]["code"], row["quantity"], row["price"]) == (code, "20", "41.50")
    assert set(row["doubts"]) == {"quantity", "price"}
    [first, *_] = row["others"]
    assert (first["item"]["code"], first["quantity"], first["why"]) == (
        code,
        "20.41",
        "decimal_comma",
    )


def test_a_number_that_the_catalogue_knows_is_a_code(world: World, as_ilse: Caller) -> None:
    world.post.code = "1001"
    world.post.save()
    [row] = as_ilse("post", "items/match", {"text": "1001\t20\t41.50"})
    assert (row["item"]["code"], row["quantity"], row["doubts"]) == ("1001", "20", [])


def test_a_key_given_twice_in_a_kept_case_is_refused(world: World) -> None:
    from apps.errors import Invalid
    from apps.prices.keeping import keep_file

    with pytest.raises(Invalid, match="is given twice"):
        keep_file(world.admin, b'{"document": {}, "document": {}}')


def test_payment_terms_are_said_in_the_buyers_language() -> None:
    early = PaymentTerms(terms=Terms(fixed_day=10), early=EarlyPayment(percent=D("2.5"), days=10))
    parts = PaymentTerms(
        instalments=(
            Part(percent=D("33.3"), terms=Terms(days=0)),
            Part(percent=D("66.7"), terms=Terms(days=60)),
        )
    )
    assert GERMAN.terms(early) == ("2,5 % Skonto innerhalb von 10 Tagen, am 10. des Folgemonats")
    assert GERMAN.terms(parts) == "33,3 % 0 Tage netto, 66,7 % 60 Tage netto"
    assert ENGLISH.terms(early) == "2.5 % off within 10 days, on day 10 of the next month"
