"""What was agreed ahead: a standing order that asks, a call-off that is due, files that go with a quote."""

from collections.abc import Callable
import re

from playwright.sync_api import Page, expect
import pytest

from ops.stack import Stack
from tests.browser.desk import cell, menu, place

pytestmark = pytest.mark.browser
PDF = {"name": "plan of the field.pdf", "mimeType": "application/pdf", "buffer": b"%PDF-1.7 a plan"}
TIES = "Tree ties for the week's planting"


def test_a_standing_order_asks_and_is_begun_left_out_and_changed(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    page.get_by_role("link", name=TIES, exact=True).click()
    expect(page.get_by_role("heading", name=re.compile("It asks now"))).to_be_visible()
    page.get_by_role("button", name="Begin the quote").press("Enter")
    expect(cell(page, 0, 0)).to_have_text("TIE-100")
    expect(cell(page, 1, 2)).to_have_text("4")
    place(page, "Today")
    begun = page.locator("li.group", has_text="Begun, not ordered yet")
    expect(begun).to_be_visible()
    page.get_by_role("link", name=TIES, exact=True).first.click()
    expect(page.get_by_text("begun, not ordered yet")).to_be_visible()

    # The next day is left out, with a reason.
    page.get_by_role("button", name="Leave it out…").press("Enter")
    page.get_by_label("Why").press_sequentially("No planting")
    page.keyboard.press("Enter")
    expect(page.get_by_text("No planting")).to_be_visible()

    # A change that is typed survives Back.
    page.get_by_role("button", name="Change…").press("Enter")
    page.get_by_label("What it is for").press("End")
    page.get_by_label("What it is for").press_sequentially(", and posts")
    place(page, "Customers")
    page.go_back()
    page.get_by_role("button", name="Change…").press("Enter")
    expect(page.get_by_label("What it is for")).to_have_value(f"{TIES}, and posts")
    page.get_by_role("button", name="Keep it").press("Enter")
    expect(page.get_by_role("heading", level=1, name=f"{TIES}, and posts")).to_be_visible()


def test_a_call_off_becomes_a_quote_at_the_agreed_price(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    expect(page.get_by_role("link", name="Agreement FA-0022", exact=True)).to_be_visible()
    page.get_by_role("link", name="Agreement FA-0024", exact=True).click()
    expect(page.get_by_text(re.compile("^Behind: "))).to_be_visible()
    page.get_by_role("button", name="Call off…").press("Enter")
    page.get_by_label("Quantity (metre)").press_sequentially("500")
    page.get_by_role("button", name="Begin the quote").press("Enter")
    expect(cell(page, 0, 0)).to_have_text("WIR-025")
    expect(cell(page, 0, 2)).to_have_text("500")
    expect(cell(page, 0, 4)).to_contain_text("0.60")

    # A plan of the field goes with the paper, and can be taken away and brought back.
    menu(page, "More", "Files…")
    with page.expect_file_chooser() as chosen:
        page.get_by_role("button", name="Add a file").click()
    chosen.value.set_files([PDF])  # type: ignore[list-item]
    file = page.get_by_role("link", name="plan of the field.pdf", exact=True)
    expect(file).to_be_visible()
    page.get_by_text("Goes with the paper").click()
    expect(page.get_by_role("checkbox", name=re.compile("goes with the paper"))).to_be_checked()
    page.get_by_role("button", name="Take plan of the field.pdf away").click()
    expect(file).to_be_hidden()
    page.get_by_role("button", name="Undo").click()
    expect(file).to_be_visible()
