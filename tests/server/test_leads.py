"""Leads: taken down, brought in from files, qualified into what is wanted, let go and taken up again."""

from datetime import timedelta
from typing import Any

from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
import pytest

from apps.customers.models import Contact, Customer
from apps.deals.models import Deal
from apps.diary.models import Activity
from apps.journal.models import Change
from apps.leads.flows import add_lead
from apps.leads.models import Lead
from demo.factories import ContactFactory
from tests.server.conftest import Caller, World


@pytest.fixture
def as_petra(world: World) -> Caller:
    return world.call(world.petra)


@pytest.fixture
def lead(world: World) -> Lead:
    """An open lead of Ilse's."""
    return add_lead(
        world.ilse, name="Odette Farrow", company="Lark Hill Pears", topic="Frost line",
        need="Lost the blossom twice", email="odette@larkhill.example", phone="+44 1632 960 211",
        source="fair", next_step="Call about the slope",
        next_on=world.today + timedelta(days=2),
    )  # fmt: skip


def wanted(lead: Lead, **more: object) -> dict[str, object]:
    return {"version": lead.version, **more}


def test_a_name_or_a_company_is_enough(world: World, as_ilse: Caller) -> None:
    assert as_ilse.status("post", "leads", {"company": "Sorrel & Sons"}) == 201
    assert as_ilse.status("post", "leads", {"name": "Mab Kestrel"}) == 201
    refused = as_ilse.ask("post", "leads", {"topic": "Bark", "name": "  "})
    assert (refused.status_code, refused.json()["path"]) == (422, "name")


def test_a_lead_becomes_customer_contact_and_deal_and_all_that_was_written_goes_along(
    world: World, as_ilse: Caller, as_petra: Caller, lead: Lead
) -> None:
    as_petra("post", f"leads/{lead.pk}/notes", {"text": "Her brother farms nearby"})
    told = as_ilse(
        "post", f"leads/{lead.pk}/qualify",
        wanted(
            lead, new_customer="Lark Hill Pears", new_contact="Odette Farrow", deal="Frost line, 3 ha",
            decision_on=f"{world.today + timedelta(days=30)}", estimate="9000",
        ),
    )  # fmt: skip
    assert told["state"] == "qualified"
    assert (told["became"]["customer"], told["became"]["contact"]) == (
        "Lark Hill Pears",
        "Odette Farrow",
    )
    deal = Deal.objects.get(pk=told["became"]["deal_id"])
    assert (deal.title, deal.estimate, deal.contact.email) == ("Frost line, 3 ha", 9000, lead.email)  # type: ignore[union-attr]
    notes = {(row.text, row.owner_id, row.kind) for row in Activity.objects.filter(deal=deal)}
    assert notes == {
        ("Lost the blossom twice", world.ilse.pk, "note"),
        ("Her brother farms nearby", world.petra.pk, "note"),
        ("Call about the slope", world.ilse.pk, "follow_up"),
    }
    written = Activity.objects.get(deal=deal, text="Lost the blossom twice")
    assert written.created_at == lead.created_at
    # It stays readable, and is the first stop of the deal's Route, drawn whole as well.
    assert [note["text"] for note in told["notes"]] == ["Her brother farms nearby"]
    route = as_ilse("get", f"deals/{deal.pk}")["route"]
    assert [stop["kind"] for stop in route[:2]] == ["lead", "deal"]
    assert route[0]["to"] == f"/leads/{lead.pk}"
    whole = as_ilse("get", f"route/deal/{deal.pk}")
    (node,) = [each for each in whole["nodes"] if each["kind"] == "deal"]
    assert (whole["columns"][0], node["origins"]) == ("lead", [f"lead{lead.pk}"])


def test_what_is_there_already_is_taken(world: World, as_ilse: Caller, lead: Lead) -> None:
    known = ContactFactory(customer=world.customer, name="Odette Farrow")
    customers, contacts = Customer.objects.count(), Contact.objects.count()
    told = as_ilse(
        "post", f"leads/{lead.pk}/qualify",
        wanted(lead, customer_id=world.customer.pk, contact_id=known.pk),
    )  # fmt: skip
    assert (told["became"]["customer"], told["became"]["deal_id"]) == (world.customer.name, None)
    assert (Customer.objects.count(), Contact.objects.count()) == (customers, contacts)
    assert (
        Activity.objects.filter(customer=world.customer, deal=None, kind="follow_up").count() == 1
    )


def test_who_is_known_at_the_customer_is_found_however_they_are_written(
    world: World, as_ilse: Caller
) -> None:
    customer = world.customer
    tam = ContactFactory(
        customer=customer, name="Tam Ruddock", email="tam@x.example", phone="01632 960221"
    )
    ContactFactory(customer=customer, name="Ada Finch", email="ada@x.example", phone="")
    path = f"customers/{customer.pk}/likely-contacts"
    found = as_ilse("get", path, name="Ruddock, Tam", mail="TAM@x.example")
    assert found == [{"id": tam.pk, "name": "Tam Ruddock", "why": ["mail", "name_same"]}]
    assert as_ilse("get", path, phone="+44 1632 960 221")[0]["why"] == ["phone"]
    assert as_ilse("get", path, name="Nobody Known") == []
    assert world.call(world.tomas).status("get", path, name="Tam") == 404
    tam.retired_at = timezone.now()
    tam.save()
    assert as_ilse("get", path, mail="tam@x.example") == []


def test_each_part_is_optional_but_a_deal_is_a_customers(
    world: World, as_ilse: Caller, lead: Lead
) -> None:
    deal = wanted(lead, deal="Frost line", decision_on=f"{world.today}")
    assert as_ilse.status("post", f"leads/{lead.pk}/qualify", deal) == 422
    told = as_ilse("post", f"leads/{lead.pk}/qualify", wanted(lead))
    assert (told["state"], told["became"]) == ("qualified", None)
    # One that became nothing is taken up again.
    again = as_ilse("post", f"leads/{lead.pk}/reopen", {"version": told["version"]})
    assert again["state"] == "open"


def test_a_part_that_is_refused_leaves_nothing_behind(
    world: World, as_ilse: Caller, lead: Lead
) -> None:
    before = Customer.objects.count()
    gone = f"{world.today - timedelta(days=1)}"
    body = wanted(lead, new_customer="Lark Hill", deal="Frost line", decision_on=gone)
    assert as_ilse.status("post", f"leads/{lead.pk}/qualify", body) == 422
    assert Customer.objects.count() == before
    assert Lead.objects.get(pk=lead.pk).state == "open"


def test_it_is_let_go_for_a_reason_and_taken_up_again(
    world: World, as_ilse: Caller, lead: Lead
) -> None:
    path = f"leads/{lead.pk}"
    assert as_ilse.status("post", f"{path}/disqualify", wanted(lead, reason=" ")) == 422
    gone = as_ilse("post", f"{path}/disqualify", wanted(lead, reason="Golf courses"))
    assert (gone["state"], gone["reason"]) == ("disqualified", "Golf courses")
    assert as_ilse.status("patch", path, {"version": gone["version"], "name": "X"}) == 409
    back = as_ilse("post", f"{path}/reopen", {"version": gone["version"]})
    assert (back["state"], back["reason"]) == ("open", "")
    states = Change.objects.filter(what="lead", record=lead.pk, field="state").order_by("pk")
    assert list(states.values_list("after", flat=True)) == ["open", "disqualified", "open"]


def test_what_became_something_is_not_taken_up_again(
    world: World, as_ilse: Caller, lead: Lead
) -> None:
    body = wanted(lead, customer_id=world.customer.pk)
    told = as_ilse("post", f"leads/{lead.pk}/qualify", body)
    version = {"version": told["version"]}
    assert as_ilse.status("post", f"leads/{lead.pk}/reopen", version) == 409
    assert as_ilse.status("post", f"leads/{lead.pk}/qualify", {**body, **version}) == 409
    assert as_ilse.status("post", f"leads/{lead.pk}/notes", {"text": "late"}) == 409


def test_two_people_at_one_lead_do_not_lose_each_others_words(
    world: World, as_ilse: Caller, as_petra: Caller, lead: Lead
) -> None:
    as_petra("patch", f"leads/{lead.pk}", {"version": 1, "topic": "Frost fan"})
    assert as_ilse.status("patch", f"leads/{lead.pk}", {"version": 1, "topic": "Wire"}) == 409
    assert as_ilse("get", f"leads/{lead.pk}")["topic"] == "Frost fan"


def test_leads_are_ones_own_and_the_teams(world: World, as_petra: Caller, lead: Lead) -> None:
    assert as_petra.status("get", f"leads/{lead.pk}") == 200
    for person in (world.tomas, world.stranger):
        caller = world.call(person)
        assert caller.status("get", f"leads/{lead.pk}") == 404
        assert caller.status("patch", f"leads/{lead.pk}", {"version": 1, "name": "X"}) == 404
        assert caller.status("post", f"leads/{lead.pk}/qualify", wanted(lead)) == 404
        assert caller("get", "leads")["count"] == 0
    assert world.call(world.joren).status("get", "leads") == 403


def test_the_list_is_narrowed_and_takes_a_constant_number_of_queries(
    world: World, as_ilse: Caller, lead: Lead
) -> None:
    late = add_lead(world.ilse, name="Mab", source="called", next_on=world.today)
    for filters, found in (
        ({"due": True}, [late.pk]),
        ({"source": "fair"}, [lead.pk]),
        ({"state": "qualified"}, []),
        ({"sort": "next"}, [late.pk, lead.pk]),
        ({}, [late.pk, lead.pk]),
    ):
        assert [row["id"] for row in as_ilse("get", "leads", **filters)["rows"]] == found, filters

    def queries() -> int:
        with CaptureQueriesContext(connection) as caught:
            as_ilse("get", "leads", words="frost")
        return len(caught)

    few = queries()
    for n in range(12):
        add_lead(world.ilse, company=f"Frost {n}")
    assert queries() == few


def test_a_due_step_is_a_stop_of_today(world: World, as_ilse: Caller, lead: Lead) -> None:
    as_ilse("patch", f"leads/{lead.pk}", {"version": 1, "next_on": f"{world.today}"})
    stops = as_ilse("get", "today")["follow_ups"]
    (stop,) = [each for each in stops if each["kind"] == "lead_due"]
    assert (stop["title"], stop["to"]) == ("Call about the slope", f"/leads/{lead.pk}")


TABLE = """Company,Name,Mail,Came from,On
Rook Lane,Ivo,ivo@rook.example,fair,2030-01-05
Rook Lane,Ivo,,,
,,lonely@rook.example,,
Lark Hill Pears,Odette Farrow,,,
Sable,Greta,greta,,
Sable,Greta,,the moon,
Sable,Greta,,,yesterday
=1+1,Greta,,,
"""


def test_a_table_is_tried_first_and_every_row_is_told(
    world: World, as_ilse: Caller, lead: Lead
) -> None:
    tried = as_ilse.send("lead-files", "leads.csv", TABLE.encode(), keep=False)
    assert tried["counts"] == {"new": 1, "double": 2, "refused": 5}
    assert Lead.objects.count() == 1
    codes = [(row["row"], row["fault"] and row["fault"]["code"]) for row in tried["told"]]
    assert codes == [
        (3, None), (4, "required"), (5, None), (6, "mail_wrong"), (7, "unknown_choice"),
        (8, "unknown_choice"), (9, "formula"),
    ]  # fmt: skip
    as_ilse.send("lead-files", "leads.csv", TABLE.encode())
    made = Lead.objects.exclude(pk=lead.pk).get()
    assert (made.company, made.source, f"{made.next_on}") == ("Rook Lane", "fair", "2030-01-05")
    # The same file again makes nothing twice.
    assert as_ilse.send("lead-files", "leads.csv", TABLE.encode())["counts"]["new"] == 0


def test_vcards_are_leads(world: World, as_ilse: Caller) -> None:
    card = "BEGIN:VCARD\r\nVERSION:4.0\r\nFN:Ivo Penrose\r\nORG:Rook Lane\r\nTEL:+44 1\r\nEND:VCARD\r\n"
    assert as_ilse.send("lead-files", "ivo.vcf", card.encode())["counts"]["new"] == 1
    made = Lead.objects.get()
    assert (made.name, made.company, made.phone) == ("Ivo Penrose", "Rook Lane", "+44 1")


def test_a_rep_brings_in_leads_for_nobody_else(
    world: World, as_ilse: Caller, as_petra: Caller
) -> None:
    table = "Name,Rep\nIvo,tomas\n"
    refused = as_ilse.send("lead-files", "leads.csv", table.encode())
    assert refused["counts"]["refused"] == 1
    assert as_petra.send("lead-files", "leads.csv", table.encode())["counts"]["new"] == 1
    assert Lead.objects.get().owner == world.tomas


def test_many_rows_are_taken_in_few_queries(world: World, as_ilse: Caller) -> None:
    def taking(rows: int) -> int:
        table = "Name,Mail\n" + "".join(f"N{rows}-{n},n{rows}x{n}@x.example\n" for n in range(rows))
        with CaptureQueriesContext(connection) as caught:
            as_ilse.send("lead-files", "leads.csv", table.encode())
        return len(caught)

    assert taking(300) == taking(3)


def test_a_lead_that_became_a_customer_goes_along_with_a_merge(
    world: World, as_petra: Caller, as_ilse: Caller, lead: Lead
) -> None:
    told: Any = as_ilse(
        "post", f"leads/{lead.pk}/qualify", wanted(lead, new_customer="Hazelmoor Orchard")
    )
    other = world.customer
    gone = told["became"]["customer_id"]
    body = {"version": other.version, "other": gone, "other_version": 1, "take": []}
    assert as_petra.status("post", f"customers/{other.pk}/merge", body) == 200
    assert Lead.objects.get(pk=lead.pk).customer == other
