"""Every list: constant queries, however many rows; paged; filtered in SQL; exported as seen."""

from collections.abc import Callable
from datetime import timedelta
from io import BytesIO
from typing import Any

from django.utils import timezone
from openpyxl import load_workbook
import pytest

from apps.handover.flows import hand_over
from apps.orders.flows import write_order
from apps.orders.queries import STATES
from apps.quotes.flows.issuing import issue_revision
from apps.quotes.flows.saving import save_draft
from apps.quotes.flows.starting import start_quote
from apps.quotes.quick import forget
from apps.words import state_words
from demo.factories import (
    AddressFactory,
    AllocationFactory,
    ContactFactory,
    CustomerFactory,
    DealFactory,
    InvoiceFactory,
    ItemFactory,
    PaymentFactory,
)
from tests.server.conftest import Caller, World, draft


@pytest.fixture(autouse=True)
def _without_paper(monkeypatch: pytest.MonkeyPatch) -> None:
    """Setting a document takes a tenth of a second; lists do not show it."""
    monkeypatch.setattr("apps.quotes.flows.issuing.make_pdf", lambda *_: b"%PDF")


def grow(world: World, count: int) -> None:
    """So many more customers, each with a deal, a quote, an order, an invoice and a payment."""
    now = timezone.now()
    for _ in range(count):
        customer = CustomerFactory(owner=world.ilse)
        ContactFactory(customer=customer)
        AddressFactory(customer=customer)
        ItemFactory()
        deal = DealFactory(customer=customer)
        made = start_quote(world.ilse, today=world.today, deal_id=deal.pk)
        saved = save_draft(world.ilse, made.pk, made.version, draft(world), today=world.today)
        done = issue_revision(world.ilse, saved.pk, saved.version, today=world.today, now=now)
        order = write_order(
            world.ilse, done.pk, done.version, today=world.today, now=now, close_deal=False
        )
        hand_over(world.ilse, order.pk, order.version, now=now)
        invoice = InvoiceFactory(customer=customer)
        AllocationFactory(invoice=invoice, payment=PaymentFactory(customer=customer, amount=50))


LISTS = [
    "deals", "timetable", "customers", "quotes", "orders", "items", "forecast", "today", "stages",
    "invoices", "invoices.csv", "backlog", "backlog.csv", "forecast/revenue",
    "views?place=quotes", "go?words=o", "deals.csv", "customers.csv", "quotes.csv", "orders.csv",
]  # fmt: skip


def test_a_list_takes_a_constant_number_of_queries(
    world: World, as_ilse: Caller, queries_of: Callable[[Any], int]
) -> None:
    def asked() -> dict[str, int]:
        taken = {}
        for path in LISTS:
            forget()
            taken[path] = queries_of(lambda path=path: as_ilse.status("get", path))
        return taken

    grow(world, 3)
    few = asked()
    grow(world, 12)
    many = asked()
    assert {path: count for path, count in many.items() if count > few[path]} == {}
    assert min(few.values()) > 1


@pytest.mark.parametrize("kind", ["deals", "customers", "revisions", "orders"])
def test_a_record_takes_a_constant_number_of_queries(
    world: World, as_ilse: Caller, kind: str, queries_of: Callable[[Any], int]
) -> None:
    grow(world, 1)
    start_quote(world.ilse, today=world.today, deal_id=world.deal.pk)
    path = {
        "deals": lambda: f"deals/{world.deal.pk}",
        "customers": lambda: f"customers/{world.customer.pk}",
        "revisions": lambda: f"revisions/{as_ilse('get', 'quotes')['rows'][0]['revision_id']}",
        "orders": lambda: f"orders/{as_ilse('get', 'orders')['rows'][0]['id']}",
    }[kind]()
    few = queries_of(lambda: as_ilse.status("get", path))
    for _ in range(8):
        DealFactory(customer=world.customer)
        start_quote(world.ilse, today=world.today, deal_id=world.deal.pk)
        InvoiceFactory(customer=world.customer)
    assert queries_of(lambda: as_ilse.status("get", path)) <= few


def test_quotes_are_filtered_by_what_people_ask(world: World, as_ilse: Caller) -> None:
    grow(world, 1)
    soon = draft(world)
    made = start_quote(world.ilse, today=world.today, deal_id=world.deal.pk)
    saved = save_draft(world.ilse, made.pk, made.version, soon, today=world.today)
    counts = {
        state: as_ilse("get", "quotes", state=state)["count"]
        for state in ("", "draft", "issued", "lapsing", "lapsed", "ordered")
    }
    assert counts == {"": 2, "draft": 1, "issued": 0, "lapsing": 0, "lapsed": 0, "ordered": 1}
    issue_revision(world.ilse, saved.pk, saved.version, today=world.today, now=timezone.now())
    assert as_ilse("get", "quotes", state="issued")["sums"] == {"EUR": "888.25"}


def test_a_quote_lapses_by_date(
    world: World, as_ilse: Caller, issued: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("api.quotes.lists.today", lambda: issued.valid_until)
    assert as_ilse("get", "quotes", state="lapsing")["count"] == 1
    monkeypatch.setattr("api.quotes.lists.today", lambda: issued.valid_until + timedelta(days=1))
    assert as_ilse("get", "quotes", state="lapsing")["count"] == 0
    assert as_ilse("get", "quotes")["rows"][0]["state"] == "lapsed"


def test_a_page_beyond_the_end_is_the_last(world: World, as_ilse: Caller) -> None:
    assert as_ilse("get", "customers", page=99)["page"] == 1


@pytest.mark.django_db(transaction=True)
def test_the_export_holds_what_the_filter_lets_through(world: World, as_ilse: Caller) -> None:
    grow(world, 2)
    answer = as_ilse.ask("get", "customers.xlsx", words="Hazelmoor")
    sheet = load_workbook(BytesIO(answer.content)).active
    rows = list(sheet.iter_rows(values_only=True))
    assert [row[1] for row in rows] == ["Customer", "Hazelmoor Orchards"]


def test_the_export_has_the_columns_that_are_seen_in_their_order(
    world: World, as_ilse: Caller
) -> None:
    answer = as_ilse.ask("get", "customers.csv", columns="name,number,nonsense")
    assert answer.content.decode("utf-8-sig").splitlines() == [
        "Customer,Number",
        "Hazelmoor Orchards,C-1",
    ]


def test_the_export_says_a_state_in_the_words_of_the_screen(world: World, as_ilse: Caller) -> None:
    grow(world, 2)
    for row in as_ilse("get", "quotes")["rows"]:
        said = state_words()["quote"][row["state"]]
        answer = as_ilse.ask("get", "quotes.csv", columns="number,letter,state")
        assert f"{row['number']},{row['letter']},{said}" in answer.content.decode().splitlines()


def test_every_state_has_its_words() -> None:
    assert set(STATES) == set(state_words()["order"])


@pytest.mark.parametrize(
    ("path", "field", "keys"),
    [
        ("quotes", "number", ["number", "customer", "date", "valid", "net", "payable", "deal"]),
        ("orders", "number", ["number", "customer", "accepted", "wanted", "payable", "owner"]),
        ("customers", "number", ["name", "number", "kind", "town", "limit", "owner"]),
        ("deals", "id", ["decision", "amount", "customer", "title", "stage", "probability"]),
    ],
)
def test_a_list_is_sorted_by_each_of_its_headings_both_ways(
    world: World, as_ilse: Caller, path: str, field: str, keys: list[str]
) -> None:
    grow(world, 3)
    for key in keys:
        up = [row[field] for row in as_ilse("get", path, sort=key)["rows"]]
        down = [row[field] for row in as_ilse("get", path, sort=f"-{key}")["rows"]]
        assert sorted(up) == sorted(down)
        assert len(set(up)) >= 3


def test_the_dearest_comes_first_and_empty_values_last(world: World, as_ilse: Caller) -> None:
    for name, limit in (("Low", 1000), ("None set", None), ("High", 90_000)):
        CustomerFactory(owner=world.ilse, name=name, credit_limit=limit)
    names = [row["name"] for row in as_ilse("get", "customers", sort="-limit")["rows"]]
    assert names == ["High", "Hazelmoor Orchards", "Low", "None set"]
    names = [row["name"] for row in as_ilse("get", "customers", sort="limit")["rows"]]
    assert names == ["Low", "Hazelmoor Orchards", "High", "None set"]


def test_a_sort_that_is_none_falls_back_to_the_usual_one(world: World, as_ilse: Caller) -> None:
    grow(world, 2)
    usual = as_ilse("get", "quotes")["rows"]
    assert as_ilse("get", "quotes", sort="colour")["rows"] == usual
    assert as_ilse.status("get", "quotes", sort="number; DROP TABLE") == 422


def test_quotes_are_found_by_the_days_they_are_of(
    world: World, as_ilse: Caller, drafted: Any
) -> None:
    day = world.today
    counts = [
        as_ilse("get", "quotes", **given)["count"]
        for given in (
            {"since": day},
            {"since": day + timedelta(days=1)},
            {"until": day - timedelta(days=1)},
            {"since": day, "until": day},
        )
    ]
    assert counts == [1, 0, 0, 1]
