"""A deal that is lost says why; an administrator keeps the stages and reasons; a calendar reads what is next."""

from collections.abc import Callable
import re

from playwright.sync_api import Page, expect
import pytest

from tests.browser.desk import choose, make_deal, menu, place

pytestmark = pytest.mark.browser


def test_a_lost_deal_asks_why_and_stands_on_today_until_it_is_said(
    sign_in: Callable[[str], Page],
) -> None:
    page = sign_in("ilse")
    make_deal(page, "Wire for the slope", "Stonebeck Farm")
    choose(page, "Stage", "Lost")
    expect(page.get_by_text("Say why it is closed")).to_be_visible()
    there = page.url
    place(page, "Today")
    page.get_by_role("link", name="Wire for the slope", exact=True).click()
    expect(page).to_have_url(there)
    choose(page, "Lost because", "Delivery too late")
    to = page.get_by_role("textbox", name="Lost to")
    to.click()
    page.keyboard.type("Ostermann Netze")
    page.keyboard.press("Tab")
    expect(page.get_by_text("Say why it is closed")).to_have_count(0)
    place(page, "Today")
    expect(page.get_by_role("heading", name="Today")).to_be_visible()
    expect(page.get_by_role("link", name="Wire for the slope", exact=True)).to_have_count(0)
    page.go_back()
    expect(to).to_have_value("Ostermann Netze")


def test_a_stage_is_renamed_and_moved_by_keys_and_back(sign_in: Callable[[str], Page]) -> None:
    page = sign_in("admin")
    menu(page, "Wyn Hallory", "The pipeline")
    names = page.get_by_role("textbox", name=re.compile("^Name of stage"))
    expect(names.nth(1)).to_have_value("Talking")
    keep = page.get_by_role("button", name="Keep the pipeline")
    expect(keep).to_be_disabled()
    names.nth(1).press("Control+a")
    page.keyboard.type("In talks")
    page.get_by_role("button", name="Move In talks up").press("Enter")
    keep.press("Enter")
    expect(page.get_by_text("The pipeline is kept.").first).to_be_visible()
    expect(names.nth(0)).to_have_value("In talks")
    place(page, "Deals")
    page.go_back()
    names.nth(0).press("Control+a")
    page.keyboard.type("Talking")
    page.get_by_role("button", name="Move Talking down").press("Enter")
    keep.press("Enter")
    expect(keep).to_be_disabled()
    expect(names.nth(1)).to_have_value("Talking")


def test_a_calendar_reads_the_follow_ups_until_its_address_ends(
    sign_in: Callable[[str], Page],
) -> None:
    page = sign_in("amara")
    menu(page, "Amara Osei-Lund", "My account")
    card = page.get_by_role("region", name="Follow-ups in your calendar")
    card.get_by_role("button", name=re.compile("^Make")).press("Enter")
    address = card.get_by_role("textbox").input_value()
    calendar = page.context.browser.new_context() if page.context.browser else page.context
    read = calendar.request.get(address)
    assert (read.status, read.text().splitlines()[0]) == (200, "BEGIN:VCALENDAR")
    card.get_by_role("button", name="End it").press("Enter")
    expect(card.get_by_role("textbox")).to_have_count(0)
    assert calendar.request.get(address).status == 404
