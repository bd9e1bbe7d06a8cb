"""The whole customer, as a rep works with it: a visit prepared, a call noted, doubles recognised, merged and taken back."""

from collections.abc import Callable
from pathlib import Path
import re

from playwright.sync_api import Page, expect
import pytest

from ops.faults import ask_database
from ops.stack import Stack
from tests.browser.desk import cell, choose, go_to, number_of, place, saved, write
from tests.browser.test_customers import open_customer

pytestmark = pytest.mark.browser
VINEYARD = "Saltmarsh Vineyards"


def test_a_visit_is_prepared_and_every_figure_opens_what_it_sums(
    sign_in: Callable[[str], Page],
) -> None:
    page = sign_in("tomas")
    open_customer(page, VINEYARD)
    open_items = page.locator("#open-items")
    expect(open_items).to_contain_text(re.compile(r"2 % less if paid by .+: 87\.60 off"))
    expect(page.get_by_role("region", name="How they pay")).to_contain_text("days")
    expect(page.get_by_role("region", name="Framework agreements")).to_contain_text("Behind")
    expect(page.get_by_role("region", name="What they buy most")).to_contain_text("Galvanised wire")

    # The open invoices of the exposure open themselves; a word of a line finds its documents.
    documents = page.locator("#documents")
    expect(documents.locator("tbody tr").first).to_be_visible()
    before = documents.locator("tbody tr").count()
    page.get_by_role("region", name="What weighs on the limit").get_by_role("link").first.click()
    expect(documents.locator("tbody tr")).not_to_have_count(before)
    expect(documents.locator("tbody tr").first).to_contain_text("Open")
    find = documents.get_by_label("Number, title or text of a line")
    find.click()
    page.keyboard.type("nothing like it")
    page.keyboard.press("Enter")
    expect(documents).to_contain_text("No document matches")
    documents.get_by_role("button", name="Show all").click()
    expect(documents.locator("tbody tr")).to_have_count(before)

    # An invoice, its payment, and Back to where one was.
    open_items.get_by_role("link").first.click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Invoice INV-")
    expect(page.get_by_text("2 % less if paid by", exact=False)).to_be_visible()
    page.go_back()
    expect(page.get_by_role("heading", level=1, name=VINEYARD)).to_be_visible()


def test_a_call_is_noted_by_the_keyboard_and_a_person_who_left_comes_back(
    sign_in: Callable[[str], Page],
) -> None:
    page = sign_in("tomas")
    open_customer(page, VINEYARD)
    page.get_by_role("button", name="Note a call with Ida Wren").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_label("What did Ida Wren say?")).to_be_focused()
    page.keyboard.type("Wants wire by Friday")
    page.keyboard.press("Enter")
    expect(
        page.locator("li", has_text="Wants wire by Friday").filter(has_text="Ida Wren")
    ).to_be_visible()

    page.get_by_role("button", name="Change Ida Wren").click()
    page.get_by_role("button", name="Has left").click()
    expect(page.get_by_role("button", name="Change Ida Wren")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Change Ida Wren")).to_be_visible()


def test_a_double_is_seen_before_it_is_made_then_merged_and_taken_back(
    sign_in: Callable[[str], Page],
) -> None:
    page = sign_in("tomas")
    place(page, "Deals")
    page.get_by_role("link", name="New deal").click()
    customer = page.get_by_role("combobox", name="Customer", exact=True)
    customer.click()
    page.keyboard.type("Saltmarch Vineyard Ltd")
    page.get_by_role("option", name=re.compile("new customer")).click()
    likely = page.get_by_text("Perhaps they are here already:").locator("..")
    expect(likely).to_contain_text(VINEYARD)
    expect(likely).to_contain_text("a similar name")
    write(page, "What it is about", "Wire by mistake")
    page.get_by_role("button", name="Make the deal").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Wire by mistake")

    # The page of the one names the other; everything moves, and moves back.
    open_customer(page, VINEYARD)
    page.get_by_role("link", name="Compare and merge").click()
    expect(page.get_by_text("1 deal")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Make C-.+ part of C-")).click()
    expect(page.get_by_role("heading", level=1, name=VINEYARD)).to_be_visible()
    expect(page.get_by_role("link", name="Wire by mistake")).to_be_visible()
    page.get_by_role("button", name="Take it back").click()
    expect(page.get_by_role("link", name="Wire by mistake")).to_have_count(0)
    expect(page.get_by_role("link", name="Compare and merge")).to_be_visible()


def test_a_file_is_tried_a_double_decided_and_taken_in(
    sign_in: Callable[[str], Page], tmp_path: Path, stack: Stack
) -> None:
    file = tmp_path / "fair.csv"
    file.write_text(
        "Name,Contact,Mail,Place for,Street,Town\r\n"
        "Quillgate Hops,Ada Quill,ada@quillgate.example,delivery,1 Hop Lane,Quillgate\r\n"
        "Hazelmor Orchard,,,,,\r\n"
        "Nobody,Jo,no mail,,,\r\n"
    )
    page = sign_in("ilse")
    place(page, "Customers")
    page.get_by_role("link", name="From a file…").click()
    page.locator("input[type=file]").set_input_files(file)
    expect(page.get_by_text("1 perhaps there already")).to_be_visible()
    expect(page.get_by_role("row", name=re.compile("^4 Nobody"))).to_contain_text(
        "no e-mail address"
    )
    page.get_by_role("button", name="Take in 1 customer").click()
    expect(page.get_by_text("1 customer taken in.")).to_be_visible()
    page.get_by_role("link", name="Quillgate Hops").click()
    expect(page.get_by_role("link", name="ada@quillgate.example")).to_be_visible()
    names = ask_database(stack, "SELECT name FROM customers_customer WHERE name LIKE 'Hazelmor O%'")
    assert list(names) == []


def test_on_halt_the_lead_signs_and_the_rep_hands_over(sign_in: Callable[[str], Page]) -> None:
    page = sign_in("petra")
    page.get_by_role("link", name=re.compile("^Sign off O-")).click()
    expect(page.get_by_text("stands on Halt", exact=False)).to_be_visible()
    expect(page.get_by_role("button", name="Hand over")).to_be_disabled()
    page.get_by_label("A word to the rep").click()
    page.keyboard.type("Go on")
    page.get_by_role("button", name="Sign off", exact=True).click()
    expect(page.get_by_text("Signed off by Petra Vashti")).to_be_visible()
    page.get_by_role("button", name="Hand over").click()
    expect(page.get_by_role("button", name="Hand over")).to_have_count(0)


def test_somebody_new_is_chosen_without_leaving_the_quote(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    go_to(page, number_of(stack, "New frost line, north field"))
    quote = page.url
    cell(page, 0, 2).click()
    choose(page, "Contact", "Somebody new")
    expect(page.get_by_label("Name", exact=True)).to_be_focused()
    page.keyboard.type("Odo Thwaite")
    write(page, "Mail", "odo@hazelmoor.example")
    page.get_by_label("Mail", exact=True).press("Enter")
    contact = page.get_by_role("combobox", name="Contact", exact=True)
    expect(contact).to_have_attribute("aria-description", "Odo Thwaite")
    saved(page)
    page.reload()
    expect(contact).to_have_attribute("aria-description", "Odo Thwaite")
    assert page.url == quote


def test_a_customer_is_made_from_the_list_where_no_double_is_taken(
    sign_in: Callable[[str], Page],
) -> None:
    page = sign_in("ilse")
    place(page, "Customers")
    page.get_by_role("button", name="New customer").click()
    name = page.get_by_label("Name of the customer")
    name.click()
    page.keyboard.type("Hazelmor Orchard")
    likely = page.get_by_role("status").filter(has_text="Perhaps they are here already")
    expect(likely).to_contain_text("a similar name")
    likely.get_by_role("button", name="Take this one").click()
    expect(page.get_by_role("heading", level=1, name="Hazelmoor Orchards")).to_be_visible()
    page.go_back()
    page.get_by_role("button", name="New customer").click()
    write(page, "Name of the customer", "Quillbeck Walnuts")
    write(page, "First person there", "Una Sefton")
    page.get_by_label("Phone", exact=True).press("Enter")
    expect(page.get_by_role("heading", level=1, name="Quillbeck Walnuts")).to_be_visible()
    expect(page.get_by_text("Una Sefton").first).to_be_visible()
