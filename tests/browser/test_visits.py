"""A day's visits are planned, put in order by keys, and one of them is made."""

from collections.abc import Callable
import re

from playwright.sync_api import Page, expect
import pytest

pytestmark = pytest.mark.browser


def plan(page: Page, letters: str, customer: str, text: str) -> None:
    page.get_by_role("combobox", name="Customer", exact=True).click()
    page.keyboard.type(letters)
    page.get_by_role("option", name=re.compile(customer)).click()
    page.get_by_role("textbox", name="What it is for").click()
    page.keyboard.type(text)
    page.keyboard.press("Enter")
    expect(page.get_by_role("listitem").filter(has_text=text)).to_be_visible()


def test_visits_are_planned_put_in_order_and_made(sign_in: Callable[[str], Page]) -> None:
    page = sign_in("tomas")
    page.get_by_role("link", name="Visits of the day").click()
    expect(page.get_by_role("heading", level=1, name="Visits of the day")).to_be_visible()
    # A day on which nothing is planned yet.
    page.get_by_role("button", name="The day after").press("Enter")
    expect(page).to_have_url(re.compile("day="))
    expect(page.get_by_text("No visit is planned for this day")).to_be_visible()
    plan(page, "fell", "Fellgate Orchards", "Walk the four hectares")
    plan(page, "salt", "Saltmarsh Vineyards", "Look at the end posts")
    rows = page.locator("[data-visit]")
    expect(rows.nth(0)).to_contain_text("Fellgate Orchards")
    expect(rows.nth(0)).to_contain_text("Ask for")
    # By keys, and by its button back again.
    rows.nth(1).focus()
    page.keyboard.press("Alt+ArrowUp")
    expect(rows.nth(0)).to_contain_text("Saltmarsh Vineyards")
    expect(rows.nth(0)).to_be_focused()
    page.get_by_role("button", name="Later: Saltmarsh Vineyards").press("Enter")
    expect(rows.nth(0)).to_contain_text("Fellgate Orchards")
    # Away and back: the day is the same, and so is the order.
    rows.nth(0).get_by_role("link", name="Fellgate Orchards").click()
    expect(page.get_by_role("heading", level=1, name="Fellgate Orchards")).to_be_visible()
    page.go_back()
    expect(rows.nth(1)).to_contain_text("Saltmarsh Vineyards")
    page.get_by_role("button", name="Done: Fellgate Orchards").press("Enter")
    expect(page.get_by_role("button", name="Done: Fellgate Orchards")).to_have_count(0)
    page.get_by_role("button", name="Undo").press("Enter")
    expect(page.get_by_role("button", name="Done: Fellgate Orchards")).to_be_visible()
