"""The rep's walk: a deal becomes a quote, an order and a paid invoice."""

from collections.abc import Callable
import re

from playwright.sync_api import Page, expect
import pytest

from ops.stack import Stack
from tests.browser.desk import (
    cell,
    expect_sums,
    figure,
    fill_line,
    make_deal,
    place,
    saved,
    start,
    timetable,
    write,
)

pytestmark = pytest.mark.browser
SLOW = 15_000


def open_office(page: Page, stack: Stack) -> Page:
    """The stand-in's page, signed in."""
    office = page.context.new_page()
    office.goto(stack.office_url)
    if office.get_by_label("Password").count():
        office.get_by_label("Password").fill("orchard-demo")
        office.get_by_role("button", name="Sign in").click()
    expect(office.get_by_role("button", name="by hand")).to_be_visible()
    return office


def press_in_office(page: Page, stack: Stack, order: str, button: str) -> None:
    """A clerk steps an order on, on the stand-in's own page."""
    office = open_office(page, stack)
    with office.expect_navigation():  # closing a page on its way somewhere can hang for ever
        office.get_by_role("row", name=order).get_by_role("button", name=button).click()
    office.close()


def test_a_deal_becomes_a_quote_an_order_and_a_paid_invoice(
    sign_in: Callable[[str], Page], stack: Stack, kill: Callable[[str], None]
) -> None:
    page = sign_in("ilse")
    make_deal(page, "Posts for the east slope", "Stonebeck Farm")
    deal_url = page.url
    expect(page.get_by_label("Standing", exact=True)).to_contain_text("Clear")

    page.get_by_text("Call", exact=True).click()
    page.get_by_role("textbox", name="Call").click()
    page.keyboard.type("Edda wants them before the frost")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Edda wants them before the frost")).to_be_visible()

    # The quote desk, by keyboard alone.
    page.get_by_role("button", name="Start a quote").click()
    expect(page.get_by_text("Type letters of an item")).to_be_visible()
    expect(cell(page, 0, 0)).to_be_focused()
    fill_line(page, "chestnut 250", "90")
    fill_line(page, "installation", "2")
    expect_sums(page, Lines="2 680.00", Payable="3 216.00")

    # The price trail folds out; the next break is one key away and taken back.
    page.keyboard.press("ArrowUp")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Alt+ArrowDown")
    expect(page.get_by_text("Base list 9.60 (ended")).to_be_visible()
    page.get_by_role("button", name=re.compile("Add 10 pieces: the whole then costs less")).click()
    expect(cell(page, 0, 2)).to_have_text("100")
    expect_sums(page, Net="2 630.00")
    cell(page, 0, 2).click()
    page.keyboard.press("Control+z")
    expect(cell(page, 0, 2)).to_have_text("90")

    # A line discount and one on the whole.
    cell(page, 0, 5).click()
    page.keyboard.type("5")
    page.keyboard.press("Enter")
    write(page, "Discount", "2")
    expect_sums(page, Discount="−52.70", Payable="3 098.76")

    # A closed page loses nothing.
    saved(page)
    page.reload()
    expect(cell(page, 0, 5)).to_have_text("5 %")
    expect_sums(page, Payable="3 098.76")

    # Issue A: frozen, with its paper; the deal's amount follows.
    page.keyboard.press("Control+Enter")
    page.get_by_role("button", name="Issue revision A", exact=True).click()
    expect(page.get_by_role("link", name="Write the order…")).to_be_visible()
    with page.context.expect_event("response", lambda a: a.url.endswith("/pdf")) as answered:
        page.get_by_role("link", name="PDF").click()
    assert answered.value.ok
    assert answered.value.headers["content-type"] == "application/pdf"
    for other in page.context.pages[1:]:
        other.close()
    page.goto(deal_url)
    expect(page.locator(".sum")).to_contain_text("2\xa0582.30")
    expect(page.get_by_text(re.compile("^Ask about quote"))).to_be_visible()
    page.go_back()

    # Revision B, with A kept beside it.
    page.get_by_role("button", name="Revise").click()
    expect(page.get_by_text(re.compile("Quote Q.*revision B"))).to_be_visible()
    cell(page, 0, 2).click()
    page.keyboard.type("100")
    page.keyboard.press("Enter")
    saved(page)
    page.get_by_role("button", name="Issue revision B…").click()
    page.get_by_role("button", name="Issue revision B", exact=True).click()
    expect(page.get_by_role("navigation", name="The Route")).to_contain_text("A, ")

    # Accept: the rep chooses here that the deal is won.
    page.get_by_role("link", name="Write the order…").click()
    expect(page.get_by_text("Nothing stays open").first).to_be_visible()
    page.get_by_label("The buyer’s order number").fill("PO 4711")
    page.get_by_text("is won: close it").click()
    page.get_by_role("button", name="Write the order", exact=True).click()
    expect(page.get_by_text("To hand over")).to_be_visible()
    number = re.search(r"O-\d\d-\d{4}", page.locator("main").inner_text())
    assert number
    expect_sums(page, Payable="3 042.90")

    # The back office is dead when the order is handed over; it arrives once when it is back.
    kill("backoffice")
    page.get_by_role("button", name="Hand over").click()
    expect(page.get_by_text("The back office does not answer.")).to_be_visible(timeout=SLOW)
    stack.start("backoffice")
    expect(page.get_by_text(re.compile(r"Taken as BO-\d+"))).to_be_visible(timeout=SLOW)
    office = open_office(page, stack)
    expect(office.get_by_role("row", name=number[0])).to_have_count(1)
    office.close()

    # Each step there appears here without a reload.
    for button, state in (("Ship", "Shipped"), ("Invoice", "Invoiced"), ("Book payment", "Paid")):
        press_in_office(page, stack, number[0], button)
        expect(page.get_by_text(state, exact=True).first).to_be_visible(timeout=SLOW)
    paid = re.compile("Payment, PAY-B.*, 3.042.90 EUR, reached")
    expect(page.get_by_role("link", name=paid)).to_be_visible()
    page.goto(deal_url)
    expect(page.get_by_role("navigation", name="The Route")).to_contain_text("Won")


def test_orders_run_by_themselves_when_told_to(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    page.goto(f"{stack.url}/orders?state=ready")
    page.get_by_role("link", name=re.compile("O-")).first.click()
    office = open_office(page, stack)
    office.get_by_role("button", name="by themselves").click()
    page.get_by_role("button", name="Hand over").click()
    expect(page.get_by_text("Paid", exact=True).first).to_be_visible(timeout=40_000)
    with office.expect_navigation():  # closing a page on its way somewhere can hang for ever
        office.get_by_role("button", name="by hand").click()
    office.close()


def test_a_customer_in_arrears_shows_at_once_and_its_documents_are_all_there(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    page.keyboard.press("Control+k")
    page.keyboard.type("hazelm")
    expect(page.get_by_role("option", name=re.compile("Hazelmoor Orchards C-1002"))).to_be_visible()
    page.keyboard.press("Enter")
    standing = page.get_by_label("Standing", exact=True)
    expect(standing).to_contain_text("Caution")
    # Thirteen where midnight has passed since the demo was loaded.
    overdue = re.compile("1\xa0180\\.00 EUR overdue, the oldest by 1[23] days")
    expect(standing).to_contain_text(overdue)
    expect(page.get_by_role("region", name="Documents")).to_contain_text("Quote Q-")
    expect(page.get_by_text("Maren Holt").first).to_be_visible()


def test_the_timetable_moves_a_chip_by_key_and_takes_it_back(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("tomas")
    timetable(page)
    chip = page.get_by_role("button", name=re.compile("Wire and anchors, 4 ha"))
    before = chip.get_attribute("aria-label")
    assert before
    chip.focus()
    page.keyboard.press("ArrowDown")
    expect(chip).to_have_attribute("aria-label", re.compile("Quoted"))
    expect(chip).to_be_focused()
    page.keyboard.press("ArrowRight")
    expect(chip).not_to_have_attribute("aria-label", re.compile(before.split(", ")[-2]))
    page.keyboard.press("Control+z")
    expect(chip).to_have_attribute("aria-label", before.replace("Shaping", "Quoted"))
    page.keyboard.press("Control+z")
    expect(chip).to_have_attribute("aria-label", before)


def test_the_timetable_moves_a_chip_by_pointer(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("tomas")
    timetable(page)
    chip = page.get_by_role("button", name=re.compile("End posts, east slope"))
    target = page.locator("tbody tr").nth(1).locator("td").nth(2)
    chip.drag_to(target)
    expect(chip).to_have_attribute("aria-label", re.compile("Talking"))


def test_several_chips_move_together_and_the_months_are_told_before(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("amara")
    timetable(page)
    names = ("Trellis for the new block", "Orchard bins")
    chips = [page.get_by_role("button", name=re.compile(name)) for name in names]
    before = [chip.get_attribute("aria-label") or "" for chip in chips]
    for chip in chips:
        chip.focus()
        page.keyboard.press("Space")
        expect(chip).to_have_attribute("aria-label", re.compile("; chosen$"))
    panel = page.get_by_role("region", name="2 deals chosen")
    days = panel.get_by_role("spinbutton", name=re.compile("^Days later"))
    days.press("Control+a")
    page.keyboard.type("75")
    page.keyboard.press("Tab")
    expect(panel.get_by_role("columnheader", name="All then")).to_be_visible()
    # By an arrow key all that are chosen move a week, as one; as one they are taken back.
    chips[0].focus()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_text("2 deals are changed.")).to_be_visible()
    for chip, words in zip(chips, before, strict=True):
        expect(chip).not_to_have_attribute("aria-label", re.compile(words.split(", ")[-2]))
    page.get_by_role("button", name="Undo").press("Enter")
    expect(page.get_by_text("It is as it was.")).to_be_visible()
    for chip, words in zip(chips, before, strict=True):
        expect(chip).to_have_attribute("aria-label", f"{words}; chosen")
    panel.get_by_role("button", name="Choose none").press("Enter")
    # One alone, by choice: what the months become is told before it moves.
    chips[0].focus()
    page.keyboard.press("m")
    decided = page.get_by_role("combobox", name="Expected decision")
    decided.press("Control+a")
    page.keyboard.type("+80")
    page.keyboard.press("Enter")
    expect(page.get_by_role("list", name="Weighted by month")).to_contain_text("becomes")
    page.keyboard.press("Escape")
    expect(page.get_by_role("list", name="Weighted by month")).not_to_contain_text("becomes")
    # What is seen is kept as a view, and is there again.
    page.get_by_role("checkbox", name="Nobody looks after").press("Space")
    expect(page).to_have_url(re.compile("stale=true"))
    page.get_by_role("button", name="Views").click()
    page.get_by_role("textbox", name="Keep what is seen as").click()
    page.keyboard.type("Neglected")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Kept as “Neglected”")).to_be_visible()


def test_every_forecast_figure_opens_the_deals_it_sums(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("petra")
    place(page, "Forecast")
    expect(figure(page, "Weighted")).to_be_visible()
    total = figure(page, "Weighted").inner_text()
    months = (
        page.get_by_role("table")
        .filter(has=page.get_by_role("columnheader", name="Month"))
        .filter(has=page.get_by_role("columnheader", name="Weighted", exact=True))
    )
    month = months.locator("tbody tr").nth(1)
    weighted = month.locator("td").last.inner_text()
    month.locator("td").last.click()
    page.wait_for_url(re.compile(r"/deals\?.*month="))
    expect(figure(page, "Weighted")).to_have_text(weighted)
    place(page, "Deals")
    expect(figure(page, "Weighted")).to_have_text(total)


def test_today_opens_its_records_and_a_done_follow_up_can_be_taken_back(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    stop = page.get_by_role("link", name="Ask Piers for the trial results")
    expect(stop).to_be_visible()
    page.get_by_role("button", name="Done: Ask Piers").click()
    expect(stop).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(stop).to_be_visible()
    stop.click()
    expect(page.get_by_role("heading", name="Replace the drip lines")).to_be_visible()
    page.go_back()
    page.get_by_role("link", name=re.compile("Open pipeline")).click()
    page.wait_for_url(re.compile("/deals"))


def test_two_people_on_one_draft_are_told_and_lose_nothing(
    sign_in: Callable[[str], Page], stack: Stack, faults: list[str]
) -> None:
    page = sign_in("ilse")
    page.goto(f"{stack.url}/quotes?state=draft&words=Hazelmoor")
    page.get_by_role("link", name=re.compile("Q-")).first.click()
    expect(cell(page, 0, 2)).to_be_visible()
    other = page.context.new_page()
    other.goto(page.url)
    expect(cell(other, 0, 2)).to_be_visible()
    cell(other, 0, 2).click()
    other.keyboard.type("721")
    other.keyboard.press("Enter")
    saved(other)
    cell(page, 1, 2).click()
    page.keyboard.type("95")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Somebody else changed this draft")
    expect(cell(page, 1, 2)).to_have_text("95")
    page.get_by_role("button", name="Show theirs").click()
    expect(cell(page, 0, 2)).to_have_text("721")
    cell(page, 0, 2).click()
    page.keyboard.press("Control+z")
    expect(cell(page, 1, 2)).to_have_text("95")
    other.close()
    assert all("409" in fault for fault in faults)
    faults.clear()


def test_a_draft_left_behind_is_not_lost_when_somebody_else_saved_since(
    sign_in: Callable[[str], Page], stack: Stack, faults: list[str]
) -> None:
    page = sign_in("ilse")
    page.goto(f"{stack.url}/quotes?state=draft&words=Hazelmoor")
    page.get_by_role("link", name=re.compile("Q-")).first.click()
    expect(cell(page, 2, 2)).to_be_visible()
    page.route("**/api/revisions/*", lambda route: route.abort())  # the road goes into the hills
    cell(page, 2, 2).click()
    page.keyboard.type("14")
    page.keyboard.press("Enter")
    expect(page.get_by_text("not saved: the server does not answer")).to_be_visible()
    address = page.url
    page.on("dialog", lambda dialog: dialog.accept())
    page.goto(f"{stack.url}/today")
    page.unroute("**/api/revisions/*")

    other = page.context.browser.new_context().new_page()  # type: ignore[union-attr]
    other.goto(stack.url)
    other.get_by_label("Name").fill("petra")
    other.get_by_label("Password").fill("orchard-demo")
    other.keyboard.press("Enter")
    other.wait_for_url(f"{stack.url}/today")
    other.goto(address)
    cell(other, 3, 2).click()
    other.keyboard.type("50")
    other.keyboard.press("Enter")
    saved(other)
    other.close()

    page.goto(address)
    expect(page.get_by_role("alert")).to_contain_text("Nothing of yours is lost")
    expect(cell(page, 2, 2)).to_have_text("14")
    page.reload()
    expect(cell(page, 2, 2)).to_have_text("14")
    page.get_by_role("button", name="Save mine over it").click()
    saved(page)
    page.reload()
    expect(cell(page, 2, 2)).to_have_text("14")
    assert all("ERR_FAILED" in fault or "409" in fault for fault in faults)
    faults.clear()


def test_a_problem_is_said_at_its_line_and_keeps_the_quote_from_being_issued(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("tomas")
    start(page, "Staples", "Fellgate Orchards")
    fill_line(page, "WIR-POL", "1.1")
    expect(page.get_by_role("grid")).to_contain_text("does not fit the pack: 1 or 2 would.")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text("Line 1 does not fit the pack")).to_be_visible()
    expect(page.get_by_role("button", name="Issue revision A", exact=True)).to_have_count(0)
    page.get_by_role("button", name=re.compile("1 line to mend")).click()
    page.get_by_role("button", name="Make it 2").click()
    expect(cell(page, 0, 2)).to_have_text("2")
    expect(page.get_by_role("button", name=re.compile("1 of 1 priced"))).to_be_visible()
    expect(page.get_by_role("grid")).not_to_contain_text("does not fit")
