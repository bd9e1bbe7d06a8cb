"""Before a visit: what a customer usually buys, by keyboard onto a quote, and into one that is open."""

from collections.abc import Callable
import re

from playwright.sync_api import Page, expect
import pytest

from ops.faults import ask_database
from ops.stack import Stack
from tests.browser.desk import (
    cell,
    choose,
    expect_sums,
    figure,
    fill_line,
    place,
    saved,
    settled,
    start,
    write,
)

pytestmark = pytest.mark.browser
FARM = "Stonebeck Farm"


def open_customer(page: Page, name: str) -> None:
    """A customer's page, by the list."""
    place(page, "Customers")
    page.get_by_label("Find by name, number, contact or town").click()
    page.keyboard.type(name)
    page.keyboard.press("Enter")
    # The list that was there still shows until the answer is: its rows move under the pointer.
    expect(page.get_by_text("1 customer", exact=True)).to_be_visible()
    page.get_by_role("link", name=name).click()
    expect(page.get_by_role("heading", level=1, name=name)).to_be_visible()


def test_regulars_are_typed_down_the_sheet_and_go_onto_a_quote(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    start(page, "Begun before the visit")
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
    # Which items are the latest depends on the day; what they come to is the same on the quote.
    expect_sums(page, Lines="3")
    expect(figure(page, "Net")).to_have_text(re.compile(r"^[\d\xa0]+\.\d\d$"))
    net = settled(page, "Net")

    # The promise is of what is typed, from the depot that is chosen; all of it leaves from there.
    promise = first.locator("td.promised")
    expect(promise).to_contain_text(re.compile("In stock|Coming|Short"))
    usual = promise.inner_text()
    choose(page, "Depot that goods leave from", "from Saltmarsh")
    expect(promise).not_to_have_text(usual)

    # What was typed is there again after Back and another filter.
    page.go_back()
    expect(page.get_by_role("heading", level=1, name=FARM)).to_be_visible()
    page.get_by_role("link", name="Regulars").click()
    page.get_by_text("All items", exact=True).click()
    expect(page.get_by_role("button", name=re.compile("^Put 3 lines on"))).to_be_visible()

    # They have a draft, and go onto a new quote all the same.
    page.get_by_role("button", name="On another quote").press("Enter")
    page.get_by_role("menuitem", name="On a new quote").press("Enter")
    expect(page.get_by_role("navigation", name="The Route")).to_be_visible()
    expect(cell(page, 0, 2)).to_have_text(last.strip())
    expect(cell(page, 1, 2)).to_have_text("150")
    expect_sums(page, Net=net)
    depots = ask_database(
        stack,
        "SELECT d.name FROM quotes_quoteline l LEFT JOIN stock_depot d ON d.id = l.depot_id"
        " ORDER BY l.id DESC LIMIT 3",
    )
    assert [name for (name,) in depots] == ["Saltmarsh"] * 3

    # The same into the quote at hand; Ctrl Enter is the panel's while it is open.
    page.keyboard.press("Alt+r")
    expect(page.locator("table.regulars input.order").first).to_be_focused()
    for _ in range(3):
        page.keyboard.press("ArrowDown")
    # Which one is the fourth depends on the day.
    here = page.locator("table.regulars tr", has=page.locator("input.order:focus"))
    code = here.locator("td.code").inner_text()
    page.keyboard.press("=")
    page.keyboard.press("Control+Enter")
    expect(page.locator("table.regulars")).to_have_count(0)
    expect(cell(page, 3, 0)).to_have_text(code)
    saved(page)
    page.keyboard.press("Control+z")
    expect(cell(page, 3, 0)).not_to_have_text(code)
    saved(page)


def test_a_shortage_is_met_by_a_split_with_one_key(sign_in: Callable[[str], Page]) -> None:
    page = sign_in("ilse")
    start(page, "Nets for the new rows")
    fill_line(page, "NET-730", "30")
    line = page.locator("tr[data-row]").first
    expect(line).to_contain_text("Coming")
    page.get_by_role("button", name=re.compile("coming")).click()
    fold = page.locator(".reasons")
    expect(fold).to_contain_text("It comes with a receipt")
    expect(fold.get_by_role("button", name=re.compile("^In parts: 6 by"))).to_be_visible()

    # From the line itself: the soonest of what could be done.
    cell(page, 0, 2).click()
    page.keyboard.press("Alt+p")
    expect(cell(page, 0, 2)).to_have_text("6")
    expect(cell(page, 1, 2)).to_have_text("24")
    expect(line).to_contain_text("In stock")
    saved(page)
    page.get_by_role("button", name="Undo").click()
    expect(cell(page, 0, 2)).to_have_text("30")
    saved(page)

    # Who has what of it: the item's page, and back.
    cell(page, 0, 2).click()
    page.keyboard.press("Alt+ArrowDown")
    page.get_by_role("link", name="All promises of the item").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Hail net, black, 7 × 30 m")
    expect(page.locator("ol.departures")).to_contain_text("Quince House Estate 18")
    expect(page.locator("ol.departures")).to_contain_text("a colleague’s order 22")
    page.keyboard.press("t")
    expect(page.get_by_role("columnheader", name="Free by then")).to_be_visible()
    # What it costs the customer at hand, and a dozen of it.
    price = page.get_by_role("region", name="Price for a customer")
    expect(price).to_contain_text("for Stonebeck Farm")
    write(page, "Quantity", "12")
    expect(price.locator(".price b").first).not_to_have_text("312.00")
    page.go_back()
    expect(cell(page, 0, 2)).to_have_text("30")


def test_what_would_move_is_told_before_a_promise_is_moved(sign_in: Callable[[str], Page]) -> None:
    page = sign_in("petra")
    place(page, "Orders")
    page.locator("tr", has_text="Quince House Estate").get_by_role("link").first.click()
    page.locator("td.promised").get_by_role("link").first.click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Hail net, black, 7 × 30 m")
    page.keyboard.press("m")
    panel = page.get_by_role("form", name="Move a promise, Northgate")
    expect(panel.get_by_role("button", name="Move it")).to_be_disabled()
    choose(page, "Who gives their place", "Quince House Estate")
    choose(page, "Who takes it", "Bright Acre Trust")
    moves = panel.get_by_role("row")
    expect(moves.filter(has_text="Quince House Estate")).to_contain_text("late")
    expect(moves.filter(has_text="Bright Acre Trust")).not_to_contain_text("late")
    panel.get_by_role("button", name="Move it").click()
    expect(page.get_by_text("The back office has moved it.")).to_be_visible()
    expect(panel).to_have_count(0)
    riders = page.locator("ol.departures .part")
    expect(riders).to_have_text(
        [re.compile("Bright Acre Trust"), re.compile("Quince House Estate")]
    )
    page.go_back()
    expect(page.locator("td.promised").first).to_be_visible()
