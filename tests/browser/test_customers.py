"""Before a visit: what a customer usually buys, by keyboard onto a quote, and into one that is open."""

from collections.abc import Callable
import re

from playwright.sync_api import Page, expect
import pytest

from tests.browser.desk import cell, expect_sums, place, saved

pytestmark = pytest.mark.browser
FARM = "Stonebeck Farm"


def open_customer(page: Page, name: str) -> None:
    """A customer's page, by the list."""
    place(page, "Customers")
    page.get_by_label("Find by name, number, contact or town").click()
    page.keyboard.type(name)
    page.keyboard.press("Enter")
    page.get_by_role("link", name=name).click()
    expect(page.get_by_role("heading", level=1, name=name)).to_be_visible()


def test_regulars_are_typed_down_the_sheet_and_go_onto_a_quote(
    sign_in: Callable[[str], Page],
) -> None:
    page = sign_in("ilse")
    open_customer(page, FARM)
    page.get_by_role("link", name="Regulars").click()
    sheet = page.locator("table.regulars")
    expect(sheet.locator("tbody tr").first).to_contain_text("weeks late")
    expect(sheet).to_contain_text("none for 8 months")
    first = sheet.locator("tbody tr").first
    last = first.locator("td").nth(5).inner_text()

    # "=" takes the last quantity and goes on; what is no number stays, with its reason.
    expect(sheet.locator("input.order").first).to_be_focused()
    page.keyboard.press("=")
    page.keyboard.type("150")
    page.keyboard.press("Enter")
    page.keyboard.type("4x")
    expect(page.get_by_role("alert").filter(has_text="This is no number.")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Put 2 lines on"))).to_be_disabled()
    expect(page.get_by_text(re.compile("^Cannot be read: "))).to_be_visible()
    page.keyboard.press("Backspace")
    expect(page.get_by_role("button", name=re.compile("^Put 3 lines on"))).to_be_enabled()
    expect_sums(page, Net="1 947.20", Lines="3")

    # What was typed is there again after Back and another filter.
    page.go_back()
    expect(page.get_by_role("heading", level=1, name=FARM)).to_be_visible()
    page.get_by_role("link", name="Regulars").click()
    page.get_by_text("All items", exact=True).click()
    expect(page.get_by_role("button", name=re.compile("^Put 3 lines on"))).to_be_visible()

    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("navigation", name="The Route")).to_be_visible()
    expect(cell(page, 0, 2)).to_have_text(last.strip())
    expect(cell(page, 1, 2)).to_have_text("150")
    expect_sums(page, Net="1 947.20")

    # The same into the quote at hand; Ctrl Enter is the panel's while it is open.
    page.keyboard.press("Alt+r")
    expect(page.locator("table.regulars input.order").first).to_be_focused()
    for _ in range(3):
        page.keyboard.press("ArrowDown")
    page.keyboard.press("=")
    page.keyboard.press("Control+Enter")
    expect(page.locator("table.regulars")).to_have_count(0)
    expect(cell(page, 3, 0)).to_have_text("WIR-025")
    saved(page)
    page.keyboard.press("Control+z")
    expect(cell(page, 3, 0)).not_to_have_text("WIR-025")
    saved(page)
