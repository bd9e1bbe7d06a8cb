"""Customers kept whole: changed, retired, recognised, two records made one and one two again."""

from collections.abc import Callable
from datetime import timedelta
from decimal import Decimal
from typing import Any

from django.db import connection
from django.db.utils import DatabaseError
from django.utils import timezone
import pytest

from apps.customers.marks import Described, likely_each, likely_same, refresh_marks
from apps.customers.merging import merge_customers, relations, undo_merge
from apps.customers.models import Contact, Customer, Mark, Merge
from apps.deals.models import Deal
from apps.errors import FlowError, Refused
from apps.handover.flows import hand_over
from apps.journal.models import Change
from apps.ledger.models import Invoice
from apps.orders.flows import write_order
from apps.orders.models import Order
from apps.prices.models import CustomerPrice
from apps.quotes.models import Quote, Revision
from demo.factories import (
    AllocationFactory,
    ContactFactory,
    CustomerFactory,
    DealFactory,
    InvoiceFactory,
    PaymentFactory,
)
from tests.server.conftest import Caller, World
from tests.server.test_handover import at_once

D = Decimal


@pytest.fixture
def other(world: World) -> Customer:
    """The same customer under another number, with a contact of its own."""
    row = CustomerFactory(
        name="Orchards Hazelmor Ltd", owner=world.ilse, number="C-2", tax_number="QF 7", kind="farm"
    )
    ContactFactory(customer=row, name="Jory Pell", email="jory@hazelmoor.example", phone="01632 9")
    refresh_marks([world.customer.pk, row.pk])
    return row


def fields(caller: Caller, customer: Customer) -> Any:
    return caller("get", f"customers/{customer.pk}/fields")


# ---- changing ------------------------------------------------------------------------------


def test_a_rep_changes_the_name_and_it_is_recorded(world: World, as_ilse: Caller) -> None:
    path = f"customers/{world.customer.pk}/fields"
    shown = as_ilse("patch", path, {"version": 1, "name": "  Hazelmoor  Fruit ", "kind": "grower"})
    assert (shown["name"], shown["version"]) == ("Hazelmoor Fruit", 2)
    rows = Change.objects.filter(what="customer", record=world.customer.pk)
    assert {(row.field, row.before, row.after, row.who) for row in rows} == {
        ("name", "Hazelmoor Orchards", "Hazelmoor Fruit", world.ilse),
        ("kind", "", "grower", world.ilse),
    }
    assert as_ilse("get", f"customers/{world.customer.pk}/changes")[0]["who"] == world.ilse.name


def test_an_older_state_changes_nothing(world: World, as_ilse: Caller) -> None:
    path = f"customers/{world.customer.pk}/fields"
    as_ilse("patch", path, {"version": 1, "kind": "grower"})
    assert as_ilse("patch", path, {"version": 1, "kind": "estate"})["code"] == "stale"
    world.customer.refresh_from_db()
    assert world.customer.kind == "grower"


@pytest.mark.parametrize(
    ("body", "code", "path"),
    [
        ({"name": "  "}, "required", "name"),
        ({"tax_number": "ATU13585626"}, "tax_number_wrong", "tax_number"),
        ({"language": "fr"}, "invalid", "language"),
    ],
)
def test_what_cannot_be_is_refused_at_its_field(
    world: World, as_ilse: Caller, body: dict[str, str], code: str, path: str
) -> None:
    told = as_ilse("patch", f"customers/{world.customer.pk}/fields", {"version": 1, **body})
    assert (told["code"], told["path"]) == (code, path)
    assert not Change.objects.exists()


def test_a_tax_number_with_right_check_digits_is_taken(world: World, as_ilse: Caller) -> None:
    path = f"customers/{world.customer.pk}/fields"
    shown = as_ilse("patch", path, {"version": 1, "tax_number": "ATU 1358 5627"})
    assert shown["tax_number_right"] is True
    assert fields(as_ilse, world.customer)["price_lists"] == []


def test_terms_are_the_leads_to_change(world: World, as_ilse: Caller) -> None:
    path = f"customers/{world.customer.pk}/terms"
    body = {"version": 1, "terms_days": 10, "credit_limit": "5000"}
    assert as_ilse.status("patch", path, body) == 403
    shown = world.call(world.petra)("patch", path, body)
    assert (shown["terms_days"], shown["credit_limit"]) == (10, "5000.00")
    assert set(Change.objects.values_list("field", flat=True)) == {"terms_days", "credit_limit"}


def test_terms_that_cannot_be_change_nothing(world: World) -> None:
    path = f"customers/{world.customer.pk}/terms"
    early = {"early": {"percent": "2", "days": 40}, "instalments": []}
    told = world.call(world.petra)("patch", path, {"version": 1, "terms_more": early, "tier": "x"})
    assert told["code"] == "not_early"
    world.customer.refresh_from_db()
    assert (world.customer.tier, world.customer.version) == ("", 1)


def test_a_group_has_one_level(world: World, other: Customer) -> None:
    lead = world.call(world.petra)
    parent = {"version": 1, "parent_id": world.customer.pk}
    assert lead("patch", f"customers/{other.pk}/terms", parent)["parent"] == world.customer.name
    turned = {"version": 1, "parent_id": other.pk}
    for body in (turned, {"version": 1, "parent_id": world.customer.pk}):
        told = lead("patch", f"customers/{world.customer.pk}/terms", body)
        assert told["code"] == "no_such_group"


def test_a_person_who_left_is_offered_to_nobody_new(world: World, as_ilse: Caller) -> None:
    person = world.customer.contacts.get()
    left = as_ilse("patch", f"contacts/{person.pk}", {"version": 1, "retired": True})
    assert as_ilse("get", f"customers/{world.customer.pk}")["contacts"] == []
    deal = as_ilse("get", f"deals/{world.deal.pk}")
    assert [each["name"] for each in deal["contacts"]] == [person.name]  # it names them
    back = {"version": left["version"], "retired": False, "phone": "+44 1632 960 300"}
    assert as_ilse("patch", f"contacts/{person.pk}", back)["phone"] == "+44 1632 960 300"
    assert as_ilse("get", f"customers/{world.customer.pk}")["contacts"] != []


def test_a_retired_place_is_not_delivered_to(world: World, as_ilse: Caller) -> None:
    place = world.customer.addresses.get()
    as_ilse("patch", f"addresses/{place.pk}", {"version": 1, "retired": True})
    shown = as_ilse("get", f"customers/{world.customer.pk}")
    assert shown["addresses"] == []
    world.customer.refresh_from_db()
    assert world.customer.town == ""  # what lists show of them follows


def test_somebody_elses_people_are_not_there(world: World) -> None:
    person = world.customer.contacts.get()
    body = {"version": 1, "name": "Mine"}
    assert world.call(world.tomas).status("patch", f"contacts/{person.pk}", body) == 404
    assert world.call(world.joren).status("patch", f"contacts/{person.pk}", body) == 403


# ---- retiring ------------------------------------------------------------------------------


def test_a_customer_with_something_open_is_not_retired(world: World, as_ilse: Caller) -> None:
    path = f"customers/{world.customer.pk}/retire"
    told = as_ilse("post", path, {"version": 1, "retired": True})
    assert (told["code"], told["facts"]) == ("still_open", {"what": "deals", "count": 1})
    Deal.objects.update(outcome="lost", closed_at=timezone.now())
    InvoiceFactory(customer=world.customer)
    told = as_ilse("post", path, {"version": 1, "retired": True})
    assert told["facts"]["what"] in ("deals", "invoices")


def test_a_retired_customer_is_found_apart_and_comes_back(as_ilse: Caller, other: Customer) -> None:
    path = f"customers/{other.pk}/retire"
    gone = as_ilse("post", path, {"version": 1, "retired": True})
    names = [row["name"] for row in as_ilse("get", "customers")["rows"]]
    apart = [row["name"] for row in as_ilse("get", "customers", day="retired")["rows"]]
    assert other.name not in names and apart == [other.name]
    assert as_ilse.status("post", "quotes", {"customer_id": other.pk}) == 404
    body = {"version": gone["version"], "name": "X"}
    assert as_ilse("patch", f"customers/{other.pk}/fields", body)["code"] == "retired"
    as_ilse("post", path, {"version": gone["version"], "retired": False})
    assert as_ilse.status("post", "quotes", {"customer_id": other.pk}) == 201


# ---- recognising ---------------------------------------------------------------------------


def test_a_double_is_recognised_by_each_of_its_marks(world: World, other: Customer) -> None:
    def found(**given: Any) -> list[tuple[str, list[str]]]:
        return [(each.name, each.why) for each in likely_same(Described(**given))]

    assert found(name="Hazelmor Orchards")[0] == (other.name, ["name_same"])
    assert (world.customer.name, ["name_near"]) in found(name="Hazelmor Orchards")
    assert found(name="Quite Else", tax_number="qf-7") == [(other.name, ["tax"])]
    assert found(name="Quite Else", mails=("x@HAZELMOOR.example",))[0][1] == ["domain"]
    assert found(name="Quite Else") == []


def test_a_domain_that_many_share_tells_nothing(world: World) -> None:
    for n in range(6):
        row = CustomerFactory(name=f"Grower {n} of {'abcdef'[n]}", owner=world.ilse)
        ContactFactory(customer=row, email=f"grower{n}@post.example")
        refresh_marks([row.pk])
    assert likely_same(Described(name="Quite Else", mails=("new@post.example",))) == []


def test_recognising_many_takes_as_many_queries_as_one(
    other: Customer, queries_of: Callable[[Callable[[], object]], int]
) -> None:
    one = queries_of(lambda: likely_same(Described(name="Hazelmor Orchards")))
    many = {n: Described(name=f"Hazelmoor Orchards {n}") for n in range(40)}
    assert queries_of(lambda: likely_each(many)) == one <= 3


def test_somebody_elses_double_is_named_and_not_opened(world: World, other: Customer) -> None:
    shown = world.call(world.tomas)("get", "likely-customers", name="Hazelmoor Orchards")
    assert {row["id"] for row in shown} == {None}
    assert {row["owner"] for row in shown} == {world.ilse.name}


def test_marks_follow_what_is_changed(world: World, as_ilse: Caller, other: Customer) -> None:
    as_ilse("patch", f"customers/{other.pk}/fields", {"version": 1, "name": "Sable Farm"})
    assert not Mark.objects.filter(customer=other, kind="name", key__startswith="h").exists()
    assert as_ilse("get", "likely-customers", name="Sabel Farm")[0]["why"] == ["name_near"]


# ---- two records become one ----------------------------------------------------------------


@pytest.fixture
def handed(world: World, issued: Revision) -> Order:
    """An order of the customer that was handed over, with its paid invoice."""
    order = write_order(
        *(world.ilse, issued.pk, issued.version),
        today=world.today,
        now=timezone.now(),
        close_deal=False,
    )
    hand_over(world.ilse, order.pk, order.version, now=timezone.now())
    invoice = InvoiceFactory(customer=world.customer, order=order, gross=D(500))
    payment = PaymentFactory(customer=world.customer, amount=D(500))
    AllocationFactory(invoice=invoice, payment=payment)
    return order


def merged(world: World, other: Customer, take: tuple[str, ...] = ()) -> Merge:
    """The customer with everything becomes part of the other."""
    rows = Customer.objects.in_bulk([world.customer.pk, other.pk])
    versions = rows[other.pk].version, rows[world.customer.pk].version
    return merge_customers(
        world.ilse, other.pk, world.customer.pk, versions, take, now=timezone.now()
    )


def owners_of_everything() -> dict[str, list[tuple[int, int | None]]]:
    """Every row that refers to a customer, and which."""
    return {
        f"{model._meta.label}.{column}": sorted(
            model._base_manager.exclude(**{column: None}).values_list("pk", f"{column}_id")
        )
        for model, column in relations()
    }


def test_everything_moves_even_what_is_booked_and_comes_back(
    world: World, other: Customer, handed: Order
) -> None:
    before = owners_of_everything()
    merge = merged(world, other, ("name",))
    moved = owners_of_everything()
    gone = [name for name, rows in moved.items() for _, pk in rows if pk == world.customer.pk]
    assert gone == []
    assert {row.customer_id for row in (*Order.objects.all(), *Invoice.objects.all())} == {other.pk}
    handed.refresh_from_db()
    assert handed.customer_name == "Hazelmoor Orchards"  # whose name was taken
    undo_merge(world.ilse, merge.pk, now=timezone.now())
    after = owners_of_everything()
    assert after == before
    rows = Customer.objects.in_bulk([world.customer.pk, other.pk])
    assert rows[other.pk].name == "Orchards Hazelmor Ltd"
    assert {row.retired_at for row in rows.values()} == {None}


def test_what_is_booked_changes_its_customer_by_nothing_else(
    world: World, other: Customer, handed: Order
) -> None:
    merged(world, other)
    for rows in (Invoice.objects.all(), Order.objects.all()):
        with pytest.raises(DatabaseError), connection.cursor() as cursor:
            cursor.execute("SAVEPOINT s")
            try:
                rows.update(customer=world.customer)
            finally:
                cursor.execute("ROLLBACK TO SAVEPOINT s")


def test_the_one_that_went_leads_to_the_one_that_stayed(
    world: World, as_ilse: Caller, other: Customer
) -> None:
    merged(world, other)
    shown = as_ilse("get", f"customers/{world.customer.pk}")
    assert shown["merged_into_id"] == other.pk
    path = f"customers/{world.customer.pk}/retire"
    body = {"version": shown["version"], "retired": False}
    assert as_ilse("post", path, body)["code"] == "merged_away"


def test_a_price_that_both_have_stays_where_it_is(world: World, other: Customer) -> None:
    for customer, price in ((world.customer, 30), (other, 31)):
        CustomerPrice.objects.create(
            customer=customer, item=world.post, unit_id="H87", currency="EUR", price=price
        )
    CustomerPrice.objects.create(
        customer=world.customer, item=world.wire, unit_id="MTR", currency="EUR", price=1
    )
    merged(world, other)
    left = CustomerPrice.objects.filter(customer=world.customer)
    assert [row.price for row in left] == [30]
    assert CustomerPrice.objects.filter(customer=other).count() == 2


def test_a_member_that_becomes_its_parent_is_no_parent_of_itself(
    world: World, other: Customer
) -> None:
    Customer.objects.filter(pk=other.pk).update(parent=world.customer)
    merge = merged(world, other)
    other.refresh_from_db()
    assert other.parent_id is None
    undo_merge(world.ilse, merge.pk, now=timezone.now())
    other.refresh_from_db()
    assert other.parent_id == world.customer.pk


def test_a_field_that_was_changed_since_stays_when_a_merge_is_taken_back(
    world: World, as_ilse: Caller, other: Customer
) -> None:
    merge = merged(world, other, ("name", "kind"))
    shown = fields(as_ilse, other)
    path = f"customers/{other.pk}/fields"
    as_ilse("patch", path, {"version": shown["version"], "name": "Hazelmoor & Daughters"})
    late = ContactFactory(customer=other, name="Came Later")
    undo_merge(world.ilse, merge.pk, now=timezone.now())
    other.refresh_from_db()
    assert (other.name, other.kind) == ("Hazelmoor & Daughters", "farm")
    assert Contact.objects.get(pk=late.pk).customer_id == other.pk


def test_a_hold_of_either_is_a_hold_of_both(world: World, other: Customer) -> None:
    Customer.objects.filter(pk=world.customer.pk).update(held=True, held_itself=True)
    merge = merged(world, other)
    assert Customer.objects.get(pk=other.pk).held
    undo_merge(world.ilse, merge.pk, now=timezone.now())
    assert not Customer.objects.get(pk=other.pk).held


def test_whether_deliveries_come_in_parts_and_whose_promises_hold_is_chosen_as_well(
    world: World, as_ilse: Caller, other: Customer
) -> None:
    Customer.objects.filter(pk=world.customer.pk).update(partial_deliveries=False, priority=True)
    body = {"version": 1, "other": world.customer.pk, "other_version": 1, "take": ["priority"]}
    assert as_ilse.status("post", f"customers/{other.pk}/merge", body) == 403
    merge = merged(world, other, ("partial_deliveries",))
    other.refresh_from_db()
    assert (other.partial_deliveries, other.priority) == (False, False)
    undo_merge(world.ilse, merge.pk, now=timezone.now())
    other.refresh_from_db()
    assert (other.partial_deliveries, other.priority) == (True, False)


def test_what_only_a_lead_changes_only_a_lead_takes(
    world: World, as_ilse: Caller, other: Customer
) -> None:
    Customer.objects.filter(pk=world.customer.pk).update(credit_limit=D(9000))
    body = {"version": 1, "other": world.customer.pk, "other_version": 1, "take": ["credit_limit"]}
    assert as_ilse.status("post", f"customers/{other.pk}/merge", body) == 403
    world.call(world.petra)("post", f"customers/{other.pk}/merge", body)
    other.refresh_from_db()
    assert other.credit_limit == D(9000)


@pytest.mark.parametrize(
    ("change", "status", "code"),
    [
        ({"other": 0}, 422, "invalid"),
        ({"other_version": 7}, 409, "stale"),
        ({"version": 7}, 409, "stale"),
        ({"take": ["held"]}, 422, "unknown_choice"),
        ({"other": 10**9}, 404, "not_found"),
    ],
)
def test_a_merge_that_cannot_be_changes_nothing(
    world: World, as_ilse: Caller, other: Customer, change: Any, status: int, code: str
) -> None:
    before = owners_of_everything()
    body = {"version": 1, "other": world.customer.pk, "other_version": 1, "take": [], **change}
    told = as_ilse.ask("post", f"customers/{other.pk}/merge", body)
    assert (told.status_code, told.json()["code"]) == (status, code)
    assert owners_of_everything() == before


def test_nobody_merges_a_customer_with_itself(as_ilse: Caller, other: Customer) -> None:
    body = {"version": 1, "other": other.pk, "other_version": 1}
    told = as_ilse("post", f"customers/{other.pk}/merge", body)
    assert told["code"] == "merge_with_itself"


def test_after_a_day_a_merge_stays(world: World, other: Customer) -> None:
    merge = merged(world, other)
    with pytest.raises(Refused, match="24 hours"):
        undo_merge(world.ilse, merge.pk, now=timezone.now() + timedelta(hours=24, minutes=1))
    undo_merge(world.ilse, merge.pk, now=timezone.now() + timedelta(hours=23))
    with pytest.raises(Refused, match="already"):
        undo_merge(world.ilse, merge.pk, now=timezone.now())


def test_two_merges_at_once_make_one(transactional_db: None, world: World) -> None:
    other = CustomerFactory(name="Hazelmoor", owner=world.ilse, number="C-2")
    DealFactory(customer=other, owner=world.ilse, stage=world.deal.stage)
    one, two = world.customer.pk, other.pk

    def act(kept: int, gone: int) -> Callable[[], Merge]:
        return lambda: merge_customers(world.ilse, kept, gone, (1, 1), (), now=timezone.now())

    results = at_once([act(one, two), act(two, one), act(one, two)])
    assert sum(isinstance(result, Merge) for result in results) == 1
    assert all(isinstance(result, Merge | FlowError) for result in results)
    kept = Merge.objects.get().kept_id
    assert set(Deal.objects.values_list("customer_id", flat=True)) == {kept}
    assert Customer.objects.filter(retired_at__isnull=True).count() == 1


# ---- made where one is at work ------------------------------------------------------------------


def test_a_customer_is_made_with_the_first_person_there_or_not_at_all(
    world: World, as_ilse: Caller
) -> None:
    body = {
        "name": "  Beckside   Nursery ",
        "contact": "Odo Thwaite",
        "email": "odo@beckside.example",
    }
    made = as_ilse("post", "customers", body)
    row = Customer.objects.get(pk=made["id"])
    assert (row.name, row.owner, row.contacts.get().name) == (
        "Beckside Nursery",
        world.ilse,
        "Odo Thwaite",
    )
    before = Customer.objects.count()
    again = as_ilse.ask("post", "customers", body)
    assert (again.status_code, again.json()["path"]) == (422, "customer.name")
    nobody = as_ilse.ask("post", "customers", {"name": "Farside", "phone": "01632 9601"})
    assert (nobody.status_code, nobody.json()["path"]) == (422, "contact.name")
    assert Caller(world.joren).ask("post", "customers", {"name": "Farside"}).status_code == 403
    assert Customer.objects.count() == before


def test_a_quote_is_copied_for_a_customer_made_on_the_way(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    path = f"revisions/{issued.pk}/copy"
    made = as_ilse("post", path, {"new_customer": "Beckside Nursery"})
    assert (made["customer"], made["state"]) == ("Beckside Nursery", "draft")
    assert len(made["lines"]) == issued.lines.count()
    quotes = Quote.objects.count()
    refused = as_ilse.ask("post", path, {"new_customer": world.customer.name})
    assert (refused.status_code, Quote.objects.count()) == (422, quotes)
    assert as_ilse.ask("post", path, {}).status_code == 422


def test_what_is_no_mail_address_is_said_so_at_its_field(world: World, as_ilse: Caller) -> None:
    body = {"name": "Odo Thwaite", "email": "odo at hazelmoor"}
    refused = as_ilse.ask("post", f"customers/{world.customer.pk}/contacts", body)
    told = refused.json()
    assert (refused.status_code, told["code"], told["path"]) == (422, "mail_wrong", "email")
    assert not Contact.objects.filter(name="Odo Thwaite").exists()
