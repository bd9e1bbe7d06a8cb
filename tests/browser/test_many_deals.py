"""Several deals are moved together, seen first, and taken back."""

from collections.abc import Callable
import re

from playwright.sync_api import Page, expect
import pytest

from tests.browser.desk import place

pytestmark = pytest.mark.browser


def test_several_deals_move_by_days_and_back(sign_in: Callable[[str], Page]) -> None:
    page = sign_in("tomas")
    place(page, "Deals")
    boxes = page.get_by_role("checkbox", name=re.compile("^Choose (?!all)"))
    expect(boxes.first).to_be_visible()
    titles = page.locator("table.list tbody tr td:nth-child(3)")
    before = titles.all_inner_texts()
    for n in (1, 2):
        boxes.nth(n).press("Space")
    panel = page.get_by_role("region", name="2 deals chosen")
    shift = panel.get_by_role("spinbutton")
    shift.press("Control+a")
    page.keyboard.type("60")
    page.keyboard.press("Tab")
    expect(panel.get_by_role("columnheader", name="Then", exact=True)).to_be_visible()
    panel.get_by_role("button", name="Change 2 deals").press("Enter")
    expect(page.get_by_text("2 deals are changed.").first).to_be_visible()
    expect(panel).to_have_count(0)
    page.get_by_role("button", name="Undo").first.press("Enter")
    expect(page.get_by_text("It is as it was.").first).to_be_visible()
    expect(titles).to_have_text(before)
