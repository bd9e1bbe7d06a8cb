"""What the tests do at the quote desk, as a person does it: by keys, and by what is on the screen."""

import re

from playwright.sync_api import Locator, Page, expect

from ops.faults import ask_database
from ops.stack import Stack


def cell(page: Page, row: int, col: int) -> Locator:
    """A cell of the lines; the row after the last line is where a new one begins."""
    return page.locator("tr[data-row]").nth(row).locator(f"[data-col='{col}']")


def saved(page: Page) -> None:
    """The desk says that everything is saved."""
    expect(page.get_by_role("status").filter(has_text="saved")).to_have_text(
        re.compile(r"^, saved \d")
    )


def choose(page: Page, label: str, option: str) -> None:
    """One of the choices of a field."""
    page.get_by_role("combobox", name=label, exact=True).click(force=True)
    # Of this field's own list: another one may be closing still.
    page.get_by_role("listbox", name=label, exact=True).get_by_role("option", name=option).click()


def place(page: Page, name: str) -> None:
    """One of the places at the top, by its link."""
    page.get_by_role("link", name=name, exact=True).click()
    expect(page.get_by_role("heading", level=1, name=name)).to_be_visible()


def number_of(stack: Stack, title: str) -> str:
    """The number of the demo's quote for a deal; it follows from the day on which the demo was made."""
    [[number]] = ask_database(
        stack, f"SELECT number FROM quotes_quote WHERE deal_title = '{title}'"
    )
    return str(number)


def go_to(page: Page, letters: str) -> None:
    """The first that is found by these letters, from anywhere."""
    page.keyboard.press("Control+k")
    page.keyboard.type(letters)
    expect(page.get_by_role("option").first).to_contain_text(letters)
    page.keyboard.press("Enter")
    expect(page.get_by_role("navigation", name="The Route")).to_be_visible()


def timetable(page: Page) -> None:
    """The Timetable, by way of the deals."""
    place(page, "Deals")
    page.get_by_role("link", name=re.compile("^Timetable")).click()
    expect(page.get_by_role("heading", level=1, name="Timetable")).to_be_visible()


def menu(page: Page, button: str, entry: str) -> None:
    """An entry of a menu."""
    page.get_by_role("button", name=button, exact=True).click()
    page.get_by_role("menuitem", name=entry).click()


def write(page: Page, label: str, text: str) -> None:
    """Type into a field in place of what stands there, key by key, and leave it."""
    field = page.get_by_label(label, exact=True)
    field.click()
    field.press("Control+a")
    page.keyboard.type(text)
    page.keyboard.press("Tab")


def fill_line(page: Page, letters: str, quantity: str) -> None:
    """Type letters of an item, Enter, quantity, Enter: the keyboard is now on the next line."""
    page.keyboard.type(letters)
    hits = page.get_by_role("listbox", name="Items").get_by_role("option")
    expect(hits.first).to_contain_text(letters.split(maxsplit=1)[0], ignore_case=True)
    page.keyboard.press("Enter")
    expect(page.get_by_role("textbox", name="Quantity")).to_be_focused()
    page.keyboard.type(quantity)
    page.keyboard.press("Enter")


def figure(page: Page, label: str) -> Locator:
    """A figure of the sum bar."""
    return page.locator("footer dl > div", has_text=label).locator("dd").first


def settled(page: Page, label: str) -> str:
    """A figure of the sum bar once it stays as it is: what was typed last is in it."""
    before = ""
    for _ in range(20):
        now = figure(page, label).inner_text()
        if now == before:
            return now
        before = now
        page.wait_for_timeout(1500)
    raise AssertionError(f"{label} does not settle: {before}")


def expect_sums(page: Page, **sums: str) -> None:
    """The sum bar comes to these figures; spaces group the thousands."""
    for label, value in sums.items():
        expect(figure(page, label)).to_have_text(value.replace(" ", "\xa0"))


def make_deal(page: Page, title: str, customer: str) -> None:
    """A deal for a customer that is there."""
    page.get_by_role("button", name="New", exact=True).click()
    page.get_by_role("menuitem", name="Deal", exact=True).click()
    page.get_by_role("combobox", name="Customer", exact=True).click()
    page.keyboard.type(customer)
    page.get_by_role("option", name=customer).first.click()
    write(page, "What it is about", title)
    write(page, "Estimate EUR", "4000")
    page.get_by_role("button", name="Make the deal").click()
    expect(page.get_by_role("heading", name=title)).to_be_visible()


def start(page: Page, title: str, customer: str = "Stonebeck Farm") -> None:
    """A deal with an empty draft, the keyboard on its first line."""
    make_deal(page, title, customer)
    page.get_by_role("button", name="Start a quote").click()
    expect(cell(page, 0, 0)).to_be_focused()
