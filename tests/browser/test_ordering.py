"""A quote is ordered in parts: by keys, with two tabs, and with what was typed kept."""

from collections.abc import Callable
import re

from playwright.sync_api import Page, expect
import pytest

from tests.browser.desk import expect_sums, fill_line, start

pytestmark = pytest.mark.browser


def offered(page: Page, title: str) -> None:
    """A quote with 90 posts and two days of work, issued."""
    start(page, title)
    fill_line(page, "chestnut 250", "90")
    fill_line(page, "installation", "2")
    expect_sums(page, Lines="2 680.00", Payable="3 216.00")
    page.keyboard.press("Control+Enter")
    page.get_by_role("button", name="Issue revision A", exact=True).click()
    expect(page.get_by_role("link", name="Write the order…")).to_be_visible()


def quantity(page: Page, item: str) -> None:
    """The field for how much is ordered now, and nothing in it."""
    page.get_by_label(f"Order now: {item}").first.click()
    page.keyboard.press("Control+a")


def test_a_part_is_ordered_by_keys_and_the_rest_later(sign_in: Callable[[str], Page]) -> None:
    page = sign_in("ilse")
    offered(page, "Posts in two loads")
    quote = page.url
    page.keyboard.press("Control+Enter")

    # All that is left stands there; the first quantity has the keyboard.
    expect(page.get_by_text("Nothing stays open").first).to_be_visible()
    expect_sums(page, Payable="3 216.00")
    expect(page.locator("input.order").first).to_be_focused()
    page.keyboard.type("40")
    page.keyboard.press("Enter")
    page.keyboard.press("Delete")
    expect_sums(page, Lines="400.00", Payable="480.00")
    expect(page.get_by_text("2 lines stay open").first).to_be_visible()

    # It is kept in the browser, and what is missing is said.
    page.reload()
    expect(page.locator("input.order").first).to_have_value("40")
    expect_sums(page, Payable="480.00")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text("Choose one: is the deal won with this?").first).to_be_visible()
    page.get_by_text("stays open", exact=True).click()
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text("To hand over")).to_be_visible()
    expect(page.get_by_text("(more of it is open)")).to_be_visible()
    expect_sums(page, Payable="480.00")

    # The rest: one step on the quote, and more than was offered is said first.
    page.get_by_role("link", name=re.compile("^quote Q")).click()
    expect(page.get_by_text("ordered in part")).to_be_visible()
    page.get_by_role("link", name="Order the rest…").click()
    expect(page.locator("input.order").first).to_have_value("50")
    quantity(page, "Chestnut post")
    page.keyboard.type("60")
    expect(page.get_by_text("more than the 50 that are left")).to_be_visible()
    page.get_by_text("is won: close it").click()
    page.get_by_role("button", name="Write the order").click()
    expect(page.get_by_role("alert").filter(has_text="say that it is meant")).to_be_visible()
    quantity(page, "Chestnut post")
    page.keyboard.press("=")
    expect_sums(page, Payable="2 736.00")
    page.get_by_role("button", name="Write the order").click()
    expect(page.get_by_text("To hand over")).to_be_visible()
    page.goto(quote)
    orders = page.locator("p.orders").get_by_role("link")
    expect(orders).to_have_count(2)
    expect(page.get_by_role("link", name="Order the rest…")).to_have_count(0)


def test_two_tabs_do_not_order_the_same_twice(
    sign_in: Callable[[str], Page], faults: list[str]
) -> None:
    page = sign_in("ilse")
    offered(page, "Posts ordered twice")
    page.get_by_role("link", name="Write the order…").click()
    expect_sums(page, Payable="3 216.00")
    page.get_by_text("stays open", exact=True).click()
    other = page.context.new_page()
    other.goto(page.url)
    expect_sums(other, Payable="3 216.00")
    other.get_by_text("stays open", exact=True).click()
    other.get_by_role("button", name="Write the order").click()
    expect(other.get_by_text("To hand over")).to_be_visible()
    other.close()
    page.get_by_role("button", name="Write the order").click()
    expect(page.get_by_text(re.compile("ordered whole already|became order")).first).to_be_visible()
    assert all("409" in fault for fault in faults)
    faults.clear()


def test_a_draft_is_ordered_without_a_quote(sign_in: Callable[[str], Page]) -> None:
    page = sign_in("ilse")
    start(page, "Ordered by phone")
    fill_line(page, "chestnut 250", "10")
    page.get_by_role("button", name="More", exact=True).click()
    page.get_by_role("menuitem", name="Order it without a quote…").click()
    page.get_by_label("The buyer’s order number").fill("By phone")
    page.get_by_text("is won: close it").click()
    page.get_by_role("button", name="Write the order", exact=True).click()
    expect(page.get_by_text("To hand over")).to_be_visible()
    expect(page.get_by_text("their number By phone")).to_be_visible()
