"""A list as a lead works with it: found, sorted, with the columns of choice, kept as a view."""

from collections.abc import Callable
import re

from playwright.sync_api import Page, expect
import pytest

from ops.stack import Stack
from tests.browser.desk import place

pytestmark = pytest.mark.browser


def figures(page: Page, column: int) -> list[float]:
    """A column of numbers, as shown."""
    cells = page.locator(f"table.list tbody td:nth-child({column})").all_inner_texts()
    return [float(re.sub(r"[^\d.]", "", cell)) for cell in cells]


def test_a_view_keeps_filter_order_and_columns_and_the_file_has_what_is_seen(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("petra")
    place(page, "Quotes")
    page.get_by_text("Declined", exact=True).first.click()
    for column in ("Date", "Valid until", "Net", "Currency", "Order", "Rep", "State"):
        page.get_by_role("button", name="Columns").click()
        page.locator(".popup").get_by_text(column, exact=True).locator("visible=true").click()
        page.keyboard.press("Escape")
    payable = page.get_by_role("columnheader", name="Payable")
    payable.get_by_role("button").click()
    with page.expect_response(re.compile("sort=-payable")):
        payable.get_by_role("button").click()
    expect(payable).to_have_attribute("aria-sort", "descending")
    expect(page).to_have_url(re.compile("sort=-payable"))
    page.wait_for_timeout(300)
    shown = figures(page, 3)
    assert len(shown) == 50
    assert shown == sorted(shown, reverse=True)

    page.get_by_role("button", name="Views").click()
    page.get_by_label("Keep what is seen as").fill("Declined, dearest first")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Kept as “Declined, dearest first”.")).to_be_visible()
    with page.expect_download() as download:
        page.get_by_role("link", name="CSV").click()
    lines = download.value.path().read_text("utf-8-sig").splitlines()
    assert lines[0] == "Quote,Revision,Customer,Payable"
    assert len(lines) > 51

    place(page, "Quotes")
    page.get_by_role("button", name="Columns").click()
    page.get_by_role("button", name="The usual ones").click()
    expect(page.get_by_role("columnheader", name="Valid until")).to_be_visible()
    page.get_by_role("button", name="Views").click()
    page.get_by_role("button", name="Declined, dearest first", exact=True).click()
    expect(page.get_by_role("columnheader")).to_have_text(["Quote", "Customer", "Payable ↓"])

    page.get_by_role("button", name="Views").click()
    page.get_by_role("button", name="Let Declined, dearest first go").click()
    page.get_by_role("button", name="Undo").click()
    page.get_by_role("button", name="Views").click()
    expect(page.get_by_role("button", name="Declined, dearest first", exact=True)).to_be_visible()
