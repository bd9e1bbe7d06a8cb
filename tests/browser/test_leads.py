"""A lead is taken down on a phone, worked on, and becomes a customer and a deal; others come from a file."""

from collections.abc import Callable
from pathlib import Path
import re

from playwright.sync_api import Page, expect
import pytest

from tests.browser.desk import place

pytestmark = pytest.mark.browser


def new_lead(page: Page, *texts: str) -> None:
    """By keys alone: name, company, topic, phone."""
    page.get_by_role("button", name="New", exact=True).click()
    page.get_by_role("menuitem", name="Lead", exact=True).click()
    expect(page.get_by_role("textbox", name="Name", exact=True)).to_be_focused()
    for text in texts:
        page.keyboard.type(text)
        page.keyboard.press("Tab")


def test_a_lead_is_taken_down_by_keys_and_becomes_a_deal(sign_in: Callable[[str], Page]) -> None:
    page = sign_in("amara")
    page.set_viewport_size({"width": 390, "height": 844})
    new_lead(page, "Runa Holt", "Holt Cider Press", "Crates for the press", "+44 1632 960 265")
    # Away and back: what was typed is there.
    page.get_by_role("link", name="Not yet").click()
    expect(page.get_by_role("heading", name="Leads", exact=True)).to_be_visible()
    page.go_back()
    expect(page.get_by_role("textbox", name="Company")).to_have_value("Holt Cider Press")
    page.get_by_role("textbox", name="Phone").press("Enter")
    expect(page.get_by_role("heading", name="Holt Cider Press, Runa Holt")).to_be_visible()

    page.set_viewport_size({"width": 1280, "height": 800})
    page.get_by_role("textbox", name="What was said").click()
    page.keyboard.type("Presses for eleven neighbours")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Presses for eleven neighbours")).to_be_visible()
    need = page.get_by_role("textbox", name="Need")
    need.click()
    page.keyboard.type("400 crates by March")
    page.keyboard.press("Tab")

    page.get_by_role("button", name="Qualify…").press("Enter")
    form = page.get_by_role("form", name=re.compile("^What becomes of"))
    expect(form.get_by_role("textbox", name="What it is about")).to_have_value(
        "Crates for the press"
    )
    form.get_by_role("button", name="Qualify").press("Enter")
    expect(page.get_by_role("heading", name="Crates for the press")).to_be_visible()
    for text in ("Presses for eleven neighbours", "400 crates by March"):
        expect(page.get_by_text(text)).to_be_visible()
    # The lead is the first stop of the Route, and still there to be read.
    page.get_by_role("link", name=re.compile("^Lead")).first.click()
    expect(page.get_by_text(re.compile("^Qualified on"))).to_be_visible()
    expect(page.get_by_role("button", name="Qualify…")).to_have_count(0)
    page.go_back()
    expect(page.get_by_role("heading", name="Crates for the press")).to_be_visible()


def test_a_lead_typed_while_the_line_is_away_is_kept_and_made_once(
    sign_in: Callable[[str], Page], faults: list[str]
) -> None:
    page = sign_in("amara")
    new_lead(page, "Ivo Brandt", "Brandt Hedges", "Shears for the long row")
    page.context.set_offline(True)
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert").first).to_be_visible()
    expect(page.get_by_role("textbox", name="Company")).to_have_value("Brandt Hedges")
    page.context.set_offline(False)
    page.get_by_role("textbox", name="Phone").press("Enter")
    expect(page.get_by_role("heading", name="Brandt Hedges, Ivo Brandt")).to_be_visible()
    place(page, "Deals")
    page.get_by_role("link", name="Leads", exact=True).click()
    expect(page.get_by_role("link", name="Brandt Hedges")).to_have_count(1)
    assert all("ERR_INTERNET_DISCONNECTED" in fault for fault in faults)
    faults.clear()


def test_a_lead_is_let_go_and_taken_up_again(sign_in: Callable[[str], Page]) -> None:
    page = sign_in("amara")
    new_lead(page, "Pelle Sund", "Sund Turf")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Sund Turf, Pelle Sund")).to_be_visible()
    page.get_by_role("button", name="Let go…").press("Enter")
    page.keyboard.type("Grows turf alone")
    page.keyboard.press("Enter")
    expect(page.get_by_text(re.compile("^Let go on .*: Grows turf alone"))).to_be_visible()
    place(page, "Deals")
    page.get_by_role("link", name="Leads", exact=True).click()
    expect(page.get_by_role("link", name="Sund Turf")).to_have_count(0)
    page.get_by_text("Let go", exact=True).click()
    page.get_by_role("link", name="Sund Turf").click()
    page.get_by_role("button", name="Take it up again").press("Enter")
    expect(page.get_by_role("button", name="Qualify…")).to_be_visible()
    page.go_back()
    expect(page).to_have_url(re.compile("state=disqualified"))


def test_leads_come_from_a_file_after_a_trial(
    sign_in: Callable[[str], Page], tmp_path: Path
) -> None:
    table = tmp_path / "fair.csv"
    table.write_text(
        "Company,Name,Mail\nMoss Orchard,Una,una@moss.example\nMoss Orchard,Una,\n,,x\n"
    )
    page = sign_in("amara")
    place(page, "Deals")
    page.get_by_role("link", name="Leads", exact=True).click()
    page.get_by_role("link", name="From a file").click()
    page.locator("input[type=file]").set_input_files(table)
    expect(page.get_by_text("1 new")).to_be_visible()
    expect(page.get_by_text("1 there already")).to_be_visible()
    expect(page.get_by_text("1 refused")).to_be_visible()
    page.get_by_role("button", name="Take 1 lead in").press("Enter")
    expect(page.get_by_text("1 lead is in.").first).to_be_visible()
    page.get_by_role("main").get_by_role("link", name="Leads", exact=True).click()
    expect(page.get_by_role("link", name="Moss Orchard")).to_be_visible()
