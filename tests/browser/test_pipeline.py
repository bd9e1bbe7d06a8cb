"""A deal that is lost says why; an administrator keeps the stages and reasons; a calendar reads what is next."""

from collections.abc import Callable
import re

from playwright.sync_api import Page, expect
import pytest

from tests.browser.desk import (
    cell,
    choose,
    fill_line,
    go_to,
    make_deal,
    menu,
    place,
    saved,
    start,
)

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


def issue(page: Page, quantity: str) -> None:
    """A quote of so many posts, issued from an empty draft."""
    expect(cell(page, 0, 0)).to_be_focused()
    fill_line(page, "POS-300", quantity)
    saved(page)
    page.keyboard.press("Control+Enter")
    page.get_by_role("button", name="Issue revision A", exact=True).press("Enter")
    expect(page.get_by_role("link", name="Write the order…")).to_be_visible()


def test_of_two_quotes_the_one_that_is_chosen_is_the_deals_amount(
    sign_in: Callable[[str], Page],
) -> None:
    page = sign_in("ilse")
    start(page, "Two ways to fence it")
    issue(page, "20")
    page.get_by_role("navigation", name="The Route").get_by_role(
        "link", name=re.compile("^Deal")
    ).click()
    expect(page.get_by_role("heading", name="Two ways to fence it")).to_be_visible()
    expect(page.locator(".sum")).to_contain_text("the issued quote")
    small = page.locator(".sum").inner_text()
    page.get_by_role("button", name="Start a quote").press("Enter")
    issue(page, "40")
    page.get_by_role("navigation", name="The Route").get_by_role(
        "link", name=re.compile("^Deal")
    ).click()
    # The one that was issued last counts, until another is chosen.
    expect(page.locator(".sum")).not_to_have_text(small)
    large = page.locator(".sum").inner_text()
    other = page.get_by_role("button", name=re.compile("^Let Q.* count for the deal"))
    expect(other).to_have_count(1)
    other.press("Enter")
    expect(page.get_by_text("The deal’s amount follows it.").first).to_be_visible()
    expect(page.locator(".sum")).to_have_text(small, use_inner_text=True)
    page.reload()
    expect(page.locator(".sum")).to_have_text(small, use_inner_text=True)
    page.get_by_role("button", name=re.compile("^Let Q.* count for the deal")).press("Enter")
    expect(page.locator(".sum")).to_have_text(large, use_inner_text=True)


def test_a_colleague_in_the_team_reads_the_deal_and_notes_what_was_done(
    sign_in: Callable[[str], Page],
) -> None:
    page = sign_in("ilse")
    make_deal(page, "Drip lines up the bank", "Stonebeck Farm")
    team = page.get_by_role("region", name="Team")
    choose(page, "A colleague", "Tomas Quell")
    team.get_by_role("textbox", name="What they do").click()
    page.keyboard.type("Plans the drip lines")
    page.keyboard.press("Enter")
    expect(team.get_by_text("Plans the drip lines")).to_be_visible()
    menu(page, "Ilse Brandvold", "Sign out")
    page.get_by_label("Name").wait_for()

    sign_in("tomas")
    place(page, "Deals")
    page.get_by_role("checkbox", name="In whose team I am").press("Space")
    page.get_by_role("link", name="Drip lines up the bank").click()
    expect(page.get_by_text("A deal of Ilse Brandvold, in whose team you are")).to_be_visible()
    expect(page.get_by_role("button", name="Start a quote")).to_have_count(0)
    page.get_by_role("textbox", name="Note").click()
    page.keyboard.type("Measured: 11 m of rise")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Measured: 11 m of rise")).to_be_visible()
    page.go_back()
    expect(page.get_by_role("checkbox", name="In whose team I am")).to_be_checked()
    menu(page, "Tomas Quell", "Sign out")
    page.get_by_label("Name").wait_for()

    sign_in("ilse")
    go_to(page, "Drip lines up the bank")
    expect(page.get_by_text("Measured: 11 m of rise")).to_be_visible()
    page.get_by_role("button", name="Take Tomas Quell out of the team").press("Enter")
    expect(team.get_by_text("Plans the drip lines")).to_have_count(0)
    page.get_by_role("button", name="Undo").first.press("Enter")
    expect(team.get_by_text("Plans the drip lines")).to_be_visible()


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
