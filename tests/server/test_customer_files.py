"""Customers from a file and into one: each whole or not at all, doubles told, the same file twice is once."""

from collections.abc import Callable
import csv
import io
from typing import Any

from openpyxl import Workbook, load_workbook
import pytest

from apps.customers import filing
from apps.customers.filing import BATCH
from apps.customers.marks import refresh_marks
from apps.customers.models import Address, Contact, Customer
from apps.journal.models import Change
from tests.server.conftest import Caller, World

HEAD = "Number,Name,Kind,Tax number,Language,Contact,Role,Mail,Phone,Place for,Known as,Street,Postcode,Town,Country"


def sheet(*rows: str, head: str = HEAD) -> bytes:
    return "\r\n".join((head, *rows)).encode()


def book(rows: list[list[object]]) -> bytes:
    made = Workbook()
    for row in rows:
        made.active.append(row)  # type: ignore[union-attr]
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


ONE = ",Sable Farm,grower,,en,Ines Corrow,manager,ines@sable.example,+44 1632 960 7,delivery,Barn,1 Lane,QF1,Sable,QF"


def test_a_trial_changes_nothing_and_says_what_would_come(as_ilse: Caller) -> None:
    told = as_ilse.send("customer-files", "c.csv", sheet(ONE), keep=False)
    assert told["counts"] == {"new": 1, "changed": 0, "same": 0, "double": 0, "refused": 0}
    row = told["told"][0]
    assert (row["state"], row["name"], row["people"], row["places"]) == ("new", "Sable Farm", 1, 1)
    assert not Customer.objects.filter(name="Sable Farm").exists()


def test_a_customer_comes_with_everybody_and_every_place(world: World, as_ilse: Caller) -> None:
    more = ",Sable Farm,,,,Jago Trew,,,,invoice,,2 Street,,Sable,"
    told = as_ilse.send("customer-files", "c.csv", sheet(ONE, more))
    row = Customer.objects.get(name="Sable Farm")
    assert told["told"][0]["id"] == row.pk
    assert (row.owner, row.currency, row.town) == (world.ilse, "EUR", "Sable")
    assert {p.name for p in row.contacts.all()} == {"Ines Corrow", "Jago Trew"}
    assert {(a.kind, a.country) for a in row.addresses.all()} == {
        ("delivery", "QF"),
        ("invoice", "QF"),
    }
    assert Change.objects.get(record=row.pk).reason == "file"


def test_the_same_file_twice_is_once(as_ilse: Caller) -> None:
    as_ilse.send("customer-files", "c.csv", sheet(ONE))
    told = as_ilse.send("customer-files", "c.csv", sheet(ONE))
    assert told["counts"]["same"] == 1
    assert Customer.objects.filter(name="Sable Farm").count() == 1
    assert Contact.objects.filter(name="Ines Corrow").count() == 1
    assert Address.objects.filter(street="1 Lane").count() == 1


def test_what_is_there_is_changed_by_its_number(world: World, as_ilse: Caller) -> None:
    person = world.customer.contacts.get()
    rows = f"C-1,Hazelmoor Fruit,estate,,de,{person.name},owner,{person.email},+44 1632 960 9,,,,,,"
    told = as_ilse.send("customer-files", "c.csv", sheet(rows))
    assert told["counts"]["changed"] == 1
    world.customer.refresh_from_db()
    assert (world.customer.name, world.customer.language) == ("Hazelmoor Fruit", "de")
    assert world.customer.version == 2
    person.refresh_from_db()
    assert (person.role, person.version) == ("owner", 2)
    fields = set(Change.objects.filter(record=world.customer.pk).values_list("field", flat=True))
    assert fields == {"name", "kind", "language"}


def test_a_likely_double_waits_for_a_word(world: World, as_ilse: Caller) -> None:
    refresh_marks([world.customer.pk])
    rows = sheet(",Orchards Hazelmoor Ltd,,,,,,,,,,,,,", ONE)
    told = as_ilse.send("customer-files", "c.csv", rows)
    assert (told["counts"]["new"], told["counts"]["double"]) == (1, 1)
    double = told["told"][0]
    assert (double["state"], double["row"]) == ("double", 2)
    assert [(row["number"], row["why"]) for row in double["likely"]] == [("C-1", ["name_same"])]
    told = as_ilse.send("customer-files?anyway=2&keep=true&x=", "c.csv", rows)
    assert (told["counts"]["new"], told["counts"]["same"]) == (1, 1)
    assert Customer.objects.filter(name="Orchards Hazelmoor Ltd").exists()


def test_a_file_that_holds_a_customer_twice_says_so_and_makes_one(as_ilse: Caller) -> None:
    other = ",Farms Sable Ltd,,,,,,,,,,,,,"
    more = [f",Quill{n}beck {n}ursery,,,,Jo {n},,jo{n}@mailhouse.example,,,,,,," for n in range(6)]
    body = sheet(ONE, other, *more)
    tried = as_ilse.send("customer-files", "c.csv", body, keep=False)
    assert (tried["counts"]["new"], tried["counts"]["double"]) == (7, 1)
    double = tried["told"][0]
    assert (double["row"], double["likely"]) == (3, [])
    assert double["again"] == [{"row": 2, "name": "Sable Farm", "why": ["name_near"]}]
    kept = as_ilse.send("customer-files", "c.csv", body)
    assert kept["counts"] == tried["counts"]
    assert not Customer.objects.filter(name="Farms Sable Ltd").exists()
    own = as_ilse.send("customer-files?keep=true&anyway=3&x=", "c.csv", body)
    assert own["counts"]["new"] == 1
    assert Customer.objects.filter(name="Farms Sable Ltd").exists()


@pytest.mark.parametrize(
    ("row", "field", "code"),
    [
        (",,,,,Ines,,,,,,,,,", "name", "required"),
        ("C-77,,,,,,,,,,,,,,", "number", "unknown"),
        (",X Farm,,ATU13585626,,,,,,,,,,,", "tax_number", "tax_number_wrong"),
        (",X Farm,,,fr,,,,,,,,,,", "language", "unknown_choice"),
        (",X Farm,,,,Ines,,nobody,,,,,,,", "email", "mail_wrong"),
        (",X Farm,,,,,,a@b.example,,,,,,,", "contact", "required"),
        (",X Farm,,,,,,,,barn,,1 Lane,,Sable,", "place", "unknown_choice"),
        (",X Farm,,,,,,,,delivery,,1 Lane,,,", "town", "required"),
        (",X Farm,,,,,,,,delivery,,1 Lane,,Sable,Austria", "country", "too_long"),
        (f",{'x' * 121},,,,,,,,,,,,,", "name", "too_long"),
        (",=cmd|x,,,,,,,,,,,,,", "name", "formula"),
    ],
)
def test_a_faulty_row_refuses_its_customer_and_no_other(
    as_ilse: Caller, row: str, field: str, code: str
) -> None:
    told = as_ilse.send("customer-files", "c.csv", sheet(row, ONE))
    assert [(f["row"], f["field"], f["fault"]["code"]) for f in told["faults"]] == [
        (2, field, code)
    ]
    assert (told["counts"]["refused"], told["counts"]["new"]) == (1, 1)


def test_one_faulty_row_of_three_keeps_the_whole_customer_out(as_ilse: Caller) -> None:
    rows = sheet(ONE, ",Sable Farm,,,,Jago,,no mail,,,,,,,", ",Sable Farm,barn,,,,,,,,,,,,")
    told = as_ilse.send("customer-files", "c.csv", rows)
    assert {(f["row"], f["fault"]["code"]) for f in told["faults"]} == {
        (3, "mail_wrong"),
        (4, "disagree"),
    }
    assert not Customer.objects.filter(name="Sable Farm").exists()


def test_terms_in_a_file_are_the_leads(world: World, as_ilse: Caller) -> None:
    rows = sheet("Sable Farm,10,tomas", head="Name,Days net,Rep")
    told = as_ilse.send("customer-files", "c.csv", rows)
    assert told["faults"][0]["fault"]["code"] == "not_for_role"
    lead = world.call(world.petra)
    lead.send("customer-files", "c.csv", rows)
    made = Customer.objects.get(name="Sable Farm")
    assert (made.terms_days, made.owner) == (10, world.tomas)
    told = lead.send("customer-files", "c.csv", sheet("New,stranger", head="Name,Rep"))
    assert told["faults"][0]["field"] == "rep"


def test_the_back_office_takes_no_file_in(world: World) -> None:
    told = world.call(world.joren).send("customer-files", "c.csv", sheet(ONE))
    assert told["code"] == "not_for_role"


def test_a_file_without_its_headings_is_refused(as_ilse: Caller) -> None:
    told = as_ilse.send("customer-files", "c.csv", b"Something,Else\r\n1,2")
    assert told["code"] == "no_heading"


def test_what_goes_out_comes_in_as_it_is(world: World, as_ilse: Caller) -> None:
    Contact.objects.update(phone="+44 1632 960 201")  # a sign that a spreadsheet would run
    as_ilse.send("customer-files", "c.csv", sheet(ONE))
    for kind in ("csv", "xlsx"):
        out = as_ilse.ask("get", f"customer-files/all.{kind}")
        body = b"".join(out) if out.streaming else out.content
        told = as_ilse.send("customer-files", f"c.{kind}", body)
        assert told["counts"] == {"new": 0, "changed": 0, "same": 2, "double": 0, "refused": 0}


def test_the_template_holds_every_column(as_ilse: Caller) -> None:
    columns = [row["heading"] for row in as_ilse("get", "customer-files")]
    out = as_ilse.ask("get", "customer-files/template.csv").content.decode("utf-8-sig")
    assert next(csv.reader(io.StringIO(out))) == columns
    workbook = load_workbook(io.BytesIO(as_ilse.ask("get", "customer-files/template.xlsx").content))
    assert [cell.value for cell in workbook.active[1]] == columns  # type: ignore[index]


def test_cards_bring_people_to_the_customer_they_name(world: World, as_ilse: Caller) -> None:
    cards = (
        b"BEGIN:VCARD\r\nVERSION:4.0\r\nFN:Jory Pell\r\nORG:Hazelmoor Orchards\r\n"
        b"EMAIL:jory@hazelmoor.example\r\nEND:VCARD\r\n"
        b"BEGIN:VCARD\r\nVERSION:3.0\r\nFN;CHARSET=klingon:?\r\nEND:VCARD\r\n"
    )
    told = as_ilse.send("customer-files", "people.vcf", cards)
    assert told["counts"]["changed"] == 1
    assert world.customer.contacts.filter(name="Jory Pell").exists()
    assert told["faults"][0]["fault"]["facts"] == {"what": "charset"}


def test_people_go_out_as_cards_that_come_in_as_they_are(world: World, as_ilse: Caller) -> None:
    out = as_ilse.ask("get", "customer-files/all.vcf")
    body = b"".join(out)
    assert body.startswith(b"BEGIN:VCARD\r\nVERSION:4.0\r\n")
    assert as_ilse.send("customer-files", "people.vcf", body)["counts"]["refused"] == 0
    person = world.customer.contacts.get()
    card = as_ilse.ask("get", f"contacts/{person.pk}/card")
    assert f"FN:{person.name}\r\n".encode() in card.content
    assert world.call(world.tomas).status("get", f"contacts/{person.pk}/card") == 404


def test_a_batch_costs_the_same_however_many(
    as_ilse: Caller, queries_of: Callable[[Callable[[], object]], int]
) -> None:
    def rows(start: int, many: int) -> bytes:
        return sheet(
            *(
                f",Farm {'abcdefghij'[n % 10]}{n:x}{n * 7919 % 977:x},,,,P {n},,p{n}@f{n}.example,,,,,,,"
                for n in range(start, start + many)
            )
        )

    few = queries_of(lambda: as_ilse.send("customer-files", "c.csv", rows(0, 5)))
    many = queries_of(lambda: as_ilse.send("customer-files", "c.csv", rows(5, BATCH)))
    assert many <= few + 4


def test_a_book_is_read_as_its_sheet(as_ilse: Caller) -> None:
    body = book(
        [["Name", "Kind", "Postcode", "Street", "Town"], ["Sable Farm", None, 1010, "1 L", "S"]]
    )
    told: Any = as_ilse.send("customer-files", "c.xlsx", body)
    assert told["counts"]["new"] == 1
    assert Address.objects.get(street="1 L").postcode == "1010"


def test_what_was_tried_is_what_comes(as_ilse: Caller) -> None:
    """Two rows of one file that are alike are one answer, whether it is tried or taken in."""
    rows = sheet(
        ONE,
        *(f",Grower {n} Sable Farms,,,,,,,,,,,,," for n in range(BATCH)),
        ",Sabel Farm,,,,,,,,,,,,,",
    )
    tried = as_ilse.send("customer-files", "c.csv", rows, keep=False)["counts"]
    assert as_ilse.send("customer-files", "c.csv", rows)["counts"] == tried


def test_whoever_was_faster_keeps_what_they_wrote(
    world: World, as_ilse: Caller, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A hold that comes while a file is read stays; a name that somebody changed meanwhile refuses the row."""
    inserted = filing.next_customer_numbers

    def meanwhile(many: int) -> list[str]:
        rows = Customer.objects.filter(pk=world.customer.pk)
        rows.update(held=True, **({"version": 9} if faster else {}))
        return inserted(many)

    monkeypatch.setattr(filing, "next_customer_numbers", meanwhile)
    faster = False
    as_ilse.send("customer-files", "c.csv", sheet("C-1,Hazelmoor Fruit,,,,,,,,,,,,,"))
    world.customer.refresh_from_db()
    assert (world.customer.name, world.customer.held) == ("Hazelmoor Fruit", True)
    faster = True
    told = as_ilse.send("customer-files", "c.csv", sheet("C-1,Hazelmoor Pears,,,,,,,,,,,,,"))
    assert told["faults"][0]["fault"]["code"] == "stale"
    world.customer.refresh_from_db()
    assert world.customer.name == "Hazelmoor Fruit"
