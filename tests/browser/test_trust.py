"""A person tries to break the desk: Back, folds, a pulled cable, two tabs, two people, a new version."""

from collections.abc import Callable
import re

from playwright.sync_api import Page, Route, expect
import pytest

from ops.stack import Stack
from tests.browser.desk import cell, expect_sums, fill_line, menu, saved, start, timetable, write

pytestmark = pytest.mark.browser
REVISION = re.compile(r"/api/revisions/\d+(/price)?$")


def test_a_draft_that_one_comes_back_to_is_the_one_that_was_left(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    start(page, "There and back")
    fill_line(page, "POS-300", "20")
    fill_line(page, "NET-730", "2")
    page.get_by_role("link", name="There and back").click()  # at once: nothing is saved yet
    expect(page.get_by_role("heading", name="There and back")).to_be_visible()
    page.go_back()
    expect(cell(page, 0, 2)).to_have_text("20")
    expect(cell(page, 1, 2)).to_have_text("2")
    fill_line(page, "DRI-REG", "1")
    saved(page)
    expect(page.get_by_role("alert")).to_have_count(0)
    page.reload()
    expect(cell(page, 2, 0)).to_have_text("DRI-REG")


def test_keys_in_a_fold_stay_there_and_a_press_beside_a_cell_changes_nothing(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    start(page, "Typing below")
    fill_line(page, "POS-300", "20")
    fill_line(page, "POS-250", "5")
    cell(page, 1, 5).click()
    page.keyboard.type("5")
    page.keyboard.press("Enter")
    cell(page, 0, 4).click()
    page.keyboard.type("19")
    page.keyboard.press("Enter")
    cell(page, 0, 4).click()
    page.keyboard.press("Alt+ArrowDown")
    page.get_by_label("Agreed because").click()
    page.keyboard.type("matches last year")
    page.keyboard.press("Tab")
    page.get_by_role("button", name="Heading above").first.press("Enter")
    expect(page.locator("tr.heading")).to_have_count(1)
    page.keyboard.press("Escape")
    net = page.locator("tr[data-row]").nth(2).locator(".net")
    net.dblclick()
    page.locator("tr[data-row]").nth(1).locator("button.n").click()
    page.keyboard.press("3")
    expect(cell(page, 2, 5)).to_have_text("5 %")
    expect(cell(page, 1, 5)).to_have_text("")
    saved(page)
    page.reload()
    expect(cell(page, 2, 5)).to_have_text("5 %")
    expect(page.get_by_role("grid")).not_to_contain_text("say why")


def test_a_pulled_cable_loses_nothing_and_lets_nothing_be_issued(
    sign_in: Callable[[str], Page], stack: Stack, faults: list[str]
) -> None:
    page = sign_in("ilse")
    start(page, "The cable")
    fill_line(page, "POS-300", "20")
    saved(page)
    page.context.set_offline(True)
    cell(page, 0, 2).click()
    page.keyboard.type("35")
    page.keyboard.press("Enter")
    expect(page.get_by_text("kept here and tried again")).to_be_visible()
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text("The draft is not saved yet")).to_be_visible()
    expect(page.get_by_role("form", name=re.compile("^Issue revision"))).to_have_count(0)
    page.context.set_offline(False)
    saved(page)
    expect(cell(page, 0, 2)).to_have_text("35")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("form", name=re.compile("^Issue revision"))).to_be_visible()
    assert all("ERR_INTERNET_DISCONNECTED" in fault for fault in faults)
    faults.clear()


def test_an_answer_that_was_lost_is_nobody_elses_change(
    sign_in: Callable[[str], Page], stack: Stack, faults: list[str]
) -> None:
    page = sign_in("ilse")
    start(page, "Lost on the way")
    fill_line(page, "POS-300", "20")
    saved(page)
    lost: list[str] = []

    def loses(route: Route) -> None:
        if route.request.method != "PUT" or lost:
            route.continue_()
            return
        lost.append(route.request.url)
        route.fetch()  # it arrives, and is stored
        route.abort()

    page.route(REVISION, loses)
    cell(page, 0, 2).click()
    page.keyboard.type("41")
    page.keyboard.press("Enter")
    page.wait_for_timeout(600)
    cell(page, 0, 2).click()
    page.keyboard.type("42")
    page.keyboard.press("Enter")
    saved(page)
    assert lost
    page.unroute(REVISION)
    page.reload()
    expect(cell(page, 0, 2)).to_have_text("42")
    assert all("ERR_FAILED" in fault for fault in faults)
    faults.clear()


def test_only_what_the_screen_says_is_issued(
    sign_in: Callable[[str], Page], stack: Stack, faults: list[str]
) -> None:
    page = sign_in("ilse")
    start(page, "Seen and issued")
    fill_line(page, "POS-300", "20")
    saved(page)
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text(re.compile(r"^[\d\s.]+ EUR for Stonebeck Farm"))).to_be_visible()
    other = page.context.new_page()
    other.goto(page.url)
    cell(other, 0, 2).click()
    other.keyboard.type("200")
    other.keyboard.press("Enter")
    saved(other)
    other.close()
    page.get_by_role("button", name="Issue revision A", exact=True).click()
    expect(
        page.get_by_text(re.compile(r"The total has changed from .* to .*: look again"))
    ).to_be_visible()
    expect(cell(page, 0, 2)).to_have_text("200")
    page.get_by_role("button", name="Issue revision A", exact=True).click()
    expect(page.get_by_role("link", name="Write the order…")).to_be_visible()
    expect(cell(page, 0, 2)).to_have_text("200")
    page.keyboard.press("Control+z")  # an issued quote stays as it is
    expect(cell(page, 0, 2)).to_have_text("200")
    assert all("409" in fault for fault in faults)
    faults.clear()


def test_what_one_person_typed_is_not_the_next_persons(
    sign_in: Callable[[str], Page], stack: Stack, faults: list[str]
) -> None:
    page = sign_in("ilse")
    start(page, "Whose draft")
    fill_line(page, "POS-300", "20")
    saved(page)
    address = page.url
    page.route(REVISION, lambda route: route.abort())
    cell(page, 0, 2).click()
    page.keyboard.type("99")
    page.keyboard.press("Enter")
    expect(page.get_by_text("kept here and tried again")).to_be_visible()
    menu(page, "Ilse Brandvold", "Sign out")
    page.get_by_label("Name").wait_for()
    page.unroute(REVISION)
    sign_in("petra")
    page.goto(address)
    expect(cell(page, 0, 2)).to_have_text("20")
    menu(page, "Petra Vashti", "Sign out")
    sign_in("ilse")
    page.goto(address)
    expect(cell(page, 0, 2)).to_have_text("99")
    saved(page)
    assert all("ERR_FAILED" in fault for fault in faults)
    faults.clear()


def test_text_that_cannot_be_read_stays_in_its_cell_and_stops_the_issue(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    start(page, "Not a number")
    fill_line(page, "POS-300", "20")
    cell(page, 0, 2).click()
    page.keyboard.type("1,200")
    cell(page, 0, 5).click()
    expect(cell(page, 0, 2)).to_have_text("1,200")
    page.get_by_role("link", name="Not a number").click()
    expect(page.get_by_role("heading", name="Not a number")).to_be_visible()
    page.go_back()
    expect(cell(page, 0, 2)).to_have_text("1,200")
    page.reload()
    expect(cell(page, 0, 2)).to_have_text("1,200")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text("Line 1: “1,200” cannot be read yet.")).to_be_visible()
    expect(page.get_by_role("textbox", name="Quantity")).to_be_focused()
    page.keyboard.press("Control+a")
    page.keyboard.type("1000")
    page.keyboard.press("Enter")
    expect(cell(page, 0, 2)).to_have_text("1\xa0000")
    page.keyboard.press("Control+z")
    expect(cell(page, 0, 2)).to_have_text("20")
    page.keyboard.press("Control+Shift+z")
    expect(cell(page, 0, 2)).to_have_text("1\xa0000")
    expect_sums(page, Lines="19 900.00")
    page.get_by_role("button", name="Payment, delivery, charges").click()
    write(page, "Payment, days", "400")
    expect(page.get_by_text("A whole number from 0 to 365")).to_be_visible()
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text("Payment, days: “400” cannot be read yet.")).to_be_visible()
    expect(page.get_by_label("Payment, days")).to_be_focused()
    expect(page.get_by_role("form", name=re.compile("^Issue revision"))).to_have_count(0)
    page.keyboard.press("Control+a")
    page.keyboard.type("14")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("form", name=re.compile("^Issue revision"))).to_be_visible()
    saved(page)
    page.reload()
    page.get_by_role("button", name="Payment, delivery, charges").click()
    expect(page.get_by_label("Payment, days")).to_have_value("14")


def test_the_start_waits_for_a_server_that_does_not_answer(
    page: Page, stack: Stack, faults: list[str]
) -> None:
    page.route("**/api/session", lambda route: route.abort())
    page.goto(f"{stack.url}/quotes")
    expect(page.get_by_role("alert")).to_contain_text("The server does not answer")
    page.unroute("**/api/session")
    page.get_by_role("button", name="Try again").click()
    expect(page.get_by_label("Name")).to_be_visible()
    faults.clear()


def test_a_newer_version_is_noticed_and_offered(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")

    def newer(route: Route) -> None:
        answer = route.fetch()
        route.fulfill(response=answer, headers={**answer.headers, "x-vivid-build": "0" * 12})

    page.route("**/api/deals*", newer)
    page.get_by_role("link", name="Deals", exact=True).click()
    expect(page.get_by_text("A newer version of the application is here.")).to_be_visible()
    page.unroute("**/api/deals*")
    page.get_by_role("button", name="Load it").click()
    expect(page.get_by_role("heading", name="Deals")).to_be_visible()
    expect(page.get_by_text("A newer version")).to_have_count(0)


def test_two_quick_keys_on_the_timetable_do_not_clash_with_oneself(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("tomas")
    timetable(page)
    chip = page.get_by_role("button", name=re.compile("Wire and anchors, 4 ha"))
    before = chip.get_attribute("aria-label") or ""
    chip.focus()
    for _ in range(3):
        page.keyboard.press("ArrowRight")
    expect(chip).not_to_have_attribute("aria-label", before)
    page.wait_for_load_state("networkidle")
    moved = chip.get_attribute("aria-label")
    page.reload()
    expect(chip).to_have_attribute("aria-label", moved or "")
    chip.focus()
    page.keyboard.press("m")
    page.get_by_role("form", name=re.compile("^Move ")).get_by_label("Expected decision").click()
    page.keyboard.press("Control+a")
    page.keyboard.type("+14")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Move it").click()
    expect(chip).not_to_have_attribute("aria-label", moved or "")
    expect(page.locator(".fault-note")).to_have_count(0)


def test_a_deals_fields_keep_what_is_typed_while_others_save_themselves(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("tomas")
    page.goto(f"{stack.url}/deals?words=Wire and anchors")
    page.get_by_role("link", name="Wire and anchors").click()
    page.get_by_label("Because").click()
    page.keyboard.type("They asked twice")
    page.get_by_role("combobox", name="Confidence").click(force=True)
    page.get_by_role("option", name="Sure").locator("visible=true").click()
    expect(page.get_by_label("Because")).to_have_value("They asked twice")
    page.get_by_label("Own probability").click()
    page.keyboard.type("80")
    page.keyboard.press("Tab")
    expect(page.locator(".sum")).to_contain_text("80 %")
    page.reload()
    expect(page.get_by_label("Because")).to_have_value("They asked twice")
    expect(page.locator(".sum")).to_contain_text("They asked twice")


def test_a_name_typed_with_pauses_loses_no_letter(sign_in: Callable[[str], Page]) -> None:
    page = sign_in("ilse")
    page.get_by_role("button", name="New", exact=True).click()
    page.get_by_role("menuitem", name="Deal", exact=True).click()
    customer = page.get_by_role("combobox", name="Customer", exact=True)
    customer.click()
    for letter in "Stonebeck":
        page.keyboard.press(letter)
        # Longer than it waits before it asks: what was found is drawn between two letters.
        page.wait_for_timeout(450)
    expect(customer).to_have_value("Stonebeck")
    page.get_by_role("option", name="Stonebeck Farm").click()
    expect(page.get_by_role("combobox", name="Contact")).to_be_visible()


def test_what_is_typed_while_the_first_page_comes_goes_where_it_was_begun(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    # The page's own code is long on its way; the line of places is there before.
    held: list[Route] = []

    def hold(route: Route) -> None:
        held.append(route)

    page.route(re.compile("/assets/TodayPage"), hold)
    page.goto(f"{stack.url}/", wait_until="commit")
    page.get_by_role("navigation", name="Places").wait_for()
    page.keyboard.press("Control+k")
    box = page.get_by_role("combobox", name="Go to…")
    expect(box).to_be_focused()
    page.keyboard.type("Stone")
    assert held
    for each in held:
        each.continue_()
    expect(page.get_by_role("heading", level=1, name="Today")).to_be_visible()
    page.keyboard.type("beck")
    expect(box).to_have_value("Stonebeck")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1, name="Stonebeck Farm")).to_be_visible()
