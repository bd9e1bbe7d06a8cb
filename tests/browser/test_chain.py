"""From the buyer's yes to one payment over two invoices: the whole chain, changed on its way."""

from collections.abc import Callable
import re

from playwright.sync_api import Browser, Page, expect
import pytest

from ops.stack import Stack
from tests.browser.test_ordering import offered
from tests.browser.test_route import open_office, press_in_office

pytestmark = pytest.mark.browser
NEWS = 30_000


def test_a_buyer_without_scripts_says_yes_and_the_chain_ends_in_one_payment_over_two_invoices(
    sign_in: Callable[[str], Page], stack: Stack, browser: Browser, faults: list[str]
) -> None:
    page = sign_in("ilse")
    offered(page, "Posts along the lane")
    quote = page.get_by_role("heading", level=1).text_content() or ""
    page.get_by_text("quantities may be changed").click()
    page.get_by_role("button", name="Make the address").click()
    address = page.get_by_label("The buyer’s address").input_value()

    # The buyer's phone: no script, no sign-in.
    phone = browser.new_context(java_script_enabled=False, viewport={"width": 390, "height": 844})
    buyer = phone.new_page()
    buyer.goto(address)
    expect(
        buyer.get_by_role("button", name=re.compile(r"Accept for 3.216\.00 EUR"))
    ).to_be_visible()
    buyer.get_by_label("Quantity: Chestnut post").press("Control+a")
    buyer.get_by_label("Quantity: Chestnut post").press_sequentially("40")
    buyer.get_by_role("button", name="See the new total").click()
    yes = buyer.get_by_role("button", name=re.compile(r"Accept for 2.6\d\d\.00 EUR"))
    expect(yes).to_be_visible()
    buyer.get_by_label("Your name").first.press_sequentially("Edda Marsh")
    buyer.get_by_label(re.compile("Your order number")).press_sequentially("PO 88")
    yes.click()
    expect(buyer.get_by_text("Accepted by Edda Marsh")).to_be_visible()

    # The rep reads of it on Today, and writes exactly this order.
    page.get_by_role("link", name="Today", exact=True).click()
    stop = page.get_by_role("listitem").filter(has_text="Edda Marsh")
    stop.get_by_role("link", name=re.compile("^Quote Q")).click()
    expect(page.get_by_text("Edda Marsh says yes")).to_be_visible()
    page.get_by_role("radio", name=re.compile("stays open")).last.click(force=True)
    page.get_by_role("button", name="Write this order").click()
    expect(page.get_by_text("To hand over")).to_be_visible()
    expect(page.get_by_text("their number PO 88")).to_be_visible()
    assert quote in (page.get_by_role("heading", level=1).text_content() or "")
    number = re.search(r"O-\d\d-\d{4}", page.locator("main").inner_text())
    assert number

    # Handed over; half of it leaves; then the buyer wants less of the posts than is left.
    page.get_by_role("button", name="Hand over").click()
    expect(page.get_by_text(re.compile("Taken as BO-"))).to_be_visible(timeout=NEWS)
    press_in_office(page, stack, number[0], "Half of each line")
    expect(page.locator("header.head").get_by_text("Part shipped")).to_be_visible(timeout=NEWS)
    page.get_by_role("button", name="Change…").click()
    becomes = page.get_by_label("Becomes: Chestnut post").first
    becomes.press_sequentially("10")
    page.get_by_label("Because").press_sequentially("A row less")
    page.keyboard.press("Enter")
    refusal = page.get_by_role("region", name="The buyer changes the order").get_by_role("alert")
    expect(refusal).to_contain_text("20 have left the house already")
    assert len(faults) == 1
    faults.clear()  # the refusal was meant
    becomes.press("Control+a")
    becomes.press_sequentially("30")
    page.get_by_role("button", name="Ask the back office").click()
    expect(page.get_by_text("30 instead of 40")).to_be_visible()
    expect(page.get_by_text(re.compile("· done"))).to_be_visible(timeout=NEWS)
    expect(page.get_by_text("first 40")).to_be_visible()

    # Two deliveries, two invoices, one payment over both.
    for button in ("Invoice", "Ship the rest", "Invoice"):
        press_in_office(page, stack, number[0], button)
    expect(page.locator("header.head").get_by_text("Invoiced", exact=True)).to_be_visible(
        timeout=NEWS
    )
    office = open_office(page, stack)
    office.get_by_role("link", name="Accounts").click()
    row = office.get_by_role("row", name=re.compile(quote))
    with office.expect_navigation():
        row.get_by_role("button", name="All of it").click()
    office.close()
    expect(page.locator("header.head").get_by_text("Paid", exact=True)).to_be_visible(timeout=NEWS)

    # The whole Route: drawn, by keys, and as a tree.
    page.get_by_role("link", name="The whole Route").click()
    expect(page.get_by_role("link", name=re.compile("^Invoice INV"))).to_have_count(2)
    expect(page.get_by_role("link", name=re.compile("^Payment PAY"))).to_have_count(1)
    page.get_by_role("link", name=re.compile(f"^Order {number[0]}")).press("ArrowRight")
    expect(page.get_by_role("link", name=re.compile("^Handover BO"))).to_be_focused()
    page.get_by_text("As a tree").click()
    tree = page.get_by_role("tree")
    expect(tree.get_by_text(re.compile("also for INV"))).to_be_visible()
    tree.get_by_role("treeitem").filter(has_text="Payment PAY").press("Enter")
    expect(page.get_by_role("heading", level=1)).to_contain_text("PAY-")

    # The buyer sees where the order stands, and cannot say yes once more.
    buyer.reload()
    expect(buyer.get_by_text("is paid")).to_be_visible()
    phone.close()


def test_the_back_office_works_its_handovers(sign_in: Callable[[str], Page]) -> None:
    page = sign_in("joren")
    page.get_by_role("link", name="Orders", exact=True).click()
    page.get_by_role("link", name="Handovers").click()
    expect(page.get_by_role("cell", name=re.compile("carrier"))).to_be_visible()
    page.get_by_role("button", name="Sent and answered").first.click()
    expect(page.get_by_text("order_number").first).to_be_visible()
    page.get_by_role("button", name="Compare now").click()
    expect(page.get_by_text(re.compile("the same on both sides|What differs"))).to_be_visible(
        timeout=NEWS
    )
