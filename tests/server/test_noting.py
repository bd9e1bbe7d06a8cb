"""What is noted at a quote, an order, an invoice, and the files that lie with it."""

from collections.abc import Callable
from datetime import timedelta
from typing import Any

import pytest

from apps.deals.models import Helper
from apps.diary.models import Activity
from apps.quotes.models import Revision
from demo.factories import InvoiceFactory
from tests.server.conftest import Caller, World, accepting
from tests.server.test_kept_files import add, names

pytestmark = pytest.mark.usefixtures("files_aside")


def note(caller: Caller, about: str, record: int, **more: object) -> dict[str, Any]:
    body = {"kind": "call", "text": "Asked about the wire", "about": about, "record": record}
    made: dict[str, Any] = caller("post", "activities", {**body, **more})
    return made


def at(caller: Caller, about: str, record: int) -> list[str]:
    return [row["text"] for row in caller("get", f"activities/{about}/{record}")]


def test_what_is_noted_at_a_quote_stands_there_on_its_deal_and_its_customer(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    quote = drafted.quote
    made = note(as_ilse, "quote", quote.pk)
    assert (made["document"], made["to"]) == (quote.number, f"/quotes/{drafted.pk}")
    row = Activity.objects.get()
    assert (row.customer, row.deal) == (quote.customer, quote.deal)
    assert at(as_ilse, "quote", quote.pk) == ["Asked about the wire"]
    (told,) = as_ilse("get", f"customers/{quote.customer_id}")["activities"]
    assert (told["document"], told["to"]) == (quote.number, f"/quotes/{drafted.pk}")
    (shown,) = as_ilse("get", "diary")["rows"]
    assert (shown["document"], shown["to"]) == (quote.number, f"/quotes/{drafted.pk}")
    assert quote.number in as_ilse.ask("get", "diary.csv").content.decode()


def test_what_is_noted_at_an_order_and_an_invoice_stands_at_each_alone(
    world: World, as_ilse: Caller, made: Any
) -> None:
    invoice = InvoiceFactory(customer=world.customer)
    note(as_ilse, "order", made["id"], text="Wants it on Friday")
    note(as_ilse, "invoice", invoice.pk, text="Pays on the tenth")
    assert at(as_ilse, "order", made["id"]) == ["Wants it on Friday"]
    assert at(as_ilse, "invoice", invoice.pk) == ["Pays on the tenth"]
    said = as_ilse("get", f"customers/{world.customer.pk}")["activities"]
    places = {row["text"]: row["to"] for row in said}
    assert places["Wants it on Friday"] == f"/orders/{made['id']}"
    assert places["Pays on the tenth"] == f"/invoices/{invoice.pk}"


def test_what_comes_next_after_a_call_is_noted_at_the_same_document(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    then = {"text": "Send the sample", "due_on": f"{world.today + timedelta(days=2)}"}
    note(as_ilse, "quote", drafted.quote_id, then=then)
    assert set(at(as_ilse, "quote", drafted.quote_id)) == {"Asked about the wire", then["text"]}


def test_only_what_asks_about_the_quote_is_done_when_it_is_answered(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    due = f"{world.today + timedelta(days=9)}"
    note(
        as_ilse, "quote", issued.quote_id, kind="follow_up", text="Bring the tool back", due_on=due
    )
    as_ilse("post", "orders", accepting(issued))
    done = dict(Activity.objects.values_list("text", "done_at"))
    assert done["Bring the tool back"] is None
    assert [text for text, when in done.items() if when] == [
        f"Ask about quote {issued.quote.number} A"
    ]


@pytest.mark.parametrize("about", ["quote", "order", "invoice"])
def test_a_document_of_a_colleague_takes_no_note_and_tells_none(
    world: World, as_ilse: Caller, made: Any, about: str
) -> None:
    invoice = InvoiceFactory(customer=world.customer)
    quote = Revision.objects.get().quote_id
    record = {"quote": quote, "order": made["id"], "invoice": invoice.pk}[about]
    note(as_ilse, about, record)
    before = Activity.objects.count()
    as_tomas, as_joren = world.call(world.tomas), world.call(world.joren)
    body = {"kind": "note", "text": "Mine now", "about": about, "record": record}
    assert as_tomas.status("get", f"activities/{about}/{record}") == 404
    assert as_tomas.status("post", "activities", body) == 404
    assert as_joren.status("get", f"activities/{about}/{record}") == 403
    assert as_joren.status("post", "activities", body) == 403
    assert Activity.objects.count() == before
    assert at(world.call(world.petra), about, record)[0] == "Asked about the wire"


def test_a_document_says_with_whom_it_is_whatever_else_is_sent(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    note(as_ilse, "quote", drafted.quote_id, customer_id=999_999, deal_id=999_999)
    assert Activity.objects.get().customer == drafted.quote.customer
    body = {"kind": "note", "text": "Where?", "about": "quote"}
    assert as_ilse.status("post", "activities", body) == 404
    assert as_ilse.status("post", "activities", {**body, "about": "party", "record": 1}) == 422


def test_files_lie_with_an_activity_until_they_are_taken_away(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    made = note(as_ilse, "quote", drafted.quote_id)
    assert add(as_ilse, f"activity/{made['id']}", "slope.pdf").status_code == 201
    assert names(as_ilse, f"activity/{made['id']}") == ["slope.pdf"]
    (row,) = as_ilse("get", f"activities/quote/{drafted.quote_id}")
    (file,) = row["files"]
    assert file["name"] == "slope.pdf"
    assert as_ilse.status("get", f"kept-files/{file['id']}") == 200
    assert [each["name"] for each in as_ilse("get", "diary")["rows"][0]["files"]] == ["slope.pdf"]
    (kept,) = as_ilse("get", f"files/activity/{made['id']}")
    as_ilse("post", f"kept-files/{file['id']}/removed", {"version": kept["version"]})
    assert as_ilse("get", f"activities/quote/{drafted.quote_id}")[0]["files"] == []


def test_a_colleague_s_activity_shows_and_takes_no_file(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    made = note(as_ilse, "quote", drafted.quote_id)
    add(as_ilse, f"activity/{made['id']}")
    (file,) = as_ilse("get", f"files/activity/{made['id']}")
    as_tomas = world.call(world.tomas)
    assert as_tomas.status("get", f"files/activity/{made['id']}") == 404
    assert add(as_tomas, f"activity/{made['id']}").status_code == 404
    assert as_tomas.status("get", f"kept-files/{file['id']}") == 404
    asked = {"version": file["version"]}
    assert as_tomas.status("post", f"kept-files/{file['id']}/removed", asked) == 404


def test_one_s_own_task_at_a_colleague_s_customer_keeps_files_for_both(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    due = f"{world.today + timedelta(days=2)}"
    made = note(
        as_ilse,
        "quote",
        drafted.quote_id,
        kind="follow_up",
        due_on=due,
        owner_id=world.tomas.pk,
    )
    as_tomas = world.call(world.tomas)
    assert add(as_tomas, f"activity/{made['id']}", "measured.pdf").status_code == 201
    assert names(as_ilse, f"activity/{made['id']}") == ["measured.pdf"]
    # The quote itself is not his: its number is told, and leads nowhere.
    (row,) = as_tomas("get", "diary")["rows"]
    assert (row["document"], row["to"]) == (drafted.quote.number, "")


def test_who_only_helps_with_a_deal_reads_the_document_s_number_and_is_led_nowhere(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    note(as_ilse, "quote", drafted.quote_id)
    Helper.objects.create(deal=world.deal, person=world.tomas)
    (told,) = world.call(world.tomas)("get", f"deals/{world.deal.pk}")["activities"]
    assert (told["document"], told["to"]) == (drafted.quote.number, "")
    (own,) = as_ilse("get", f"deals/{world.deal.pk}")["activities"]
    assert own["to"] == f"/quotes/{drafted.pk}"


def test_a_document_s_notes_cost_the_same_queries_for_one_and_for_many(
    world: World,
    as_ilse: Caller,
    drafted: Revision,
    queries_of: Callable[[Callable[[], object]], int],
) -> None:
    first = note(as_ilse, "quote", drafted.quote_id)
    add(as_ilse, f"activity/{first['id']}")
    few = queries_of(lambda: at(as_ilse, "quote", drafted.quote_id))
    for n in range(6):
        more = note(as_ilse, "quote", drafted.quote_id, text=f"Call {n}")
        add(as_ilse, f"activity/{more['id']}", f"{n}.pdf")
    assert queries_of(lambda: at(as_ilse, "quote", drafted.quote_id)) == few
