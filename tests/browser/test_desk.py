"""The desk in full: pasted rows, agreed prices, alternatives, sign-off, solving, comparing, prices."""

from collections.abc import Callable
import re

from playwright.sync_api import Page, expect
import pytest

from ops.stack import Stack
from tests.browser.desk import (
    cell,
    choose,
    expect_sums,
    fill_line,
    go_to,
    menu,
    number_of,
    place,
    saved,
    start,
    write,
)

pytestmark = pytest.mark.browser
PASTE = """text => {
  const data = new DataTransfer(); data.setData('text/plain', text)
  document.activeElement.dispatchEvent(
    new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))
}"""


def test_pasted_rows_are_matched_and_doubtful_ones_wait(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    start(page, "Rows from a sheet")
    page.evaluate(PASTE, "Artikel\tMenge\nPOS-250\t1.200,5\nchestnut\t10\nnothing\tmany")
    panel = page.get_by_role("form", name="Pasted rows")
    expect(panel.get_by_role("row")).to_have_count(4)
    expect(panel.get_by_role("button", name="Add 1 line")).to_be_visible()
    choose(page, "Item of row 3", "POS-200 Chestnut post 200 cm, pointed")
    panel.get_by_role("button", name="Add 2 lines").click()
    expect(cell(page, 0, 2)).to_have_text("1\xa0200.5")
    expect(cell(page, 1, 0)).to_have_text("POS-200")
    page.get_by_role("button", name="Undo").click()
    expect(cell(page, 1, 0)).to_have_count(0)


def test_a_pasted_row_that_reads_two_ways_offers_both(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    start(page, "A comma between")
    page.evaluate(PASTE, "POS-250,20,41,50\nPOS-200,12")
    panel = page.get_by_role("form", name="Pasted rows")
    row = panel.get_by_role("row").nth(1)
    expect(row).to_contain_text("how many? which price?")
    choose(page, "How row 1 is read", "20.41 ×")
    expect(row).not_to_contain_text("how many?")
    expect(panel.get_by_label("Quantity of row 1")).to_have_value("20.41")
    choose(page, "How row 1 is read", "20 × POS-250 at 41.50")
    expect(panel.get_by_label("Quantity of row 1")).to_have_value("20")
    panel.get_by_role("button", name="As it is").press("Enter")
    panel.get_by_role("button", name="Add 2 lines").press("Enter")
    expect(cell(page, 0, 2)).to_have_text("20")
    expect(cell(page, 0, 4)).to_have_text("41.50")
    expect(cell(page, 1, 2)).to_have_text("12")


def test_payment_terms_are_set_in_place_and_stay(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    start(page, "Paid in parts")
    fill_line(page, "POS-300", "20")
    page.get_by_role("button", name="Payment, delivery, charges").press("Enter")
    write(page, "Paying early, %", "3")
    expect(page.get_by_text("worth 56.44 % a year")).to_be_visible()  # 3 % 10 days, net 30
    write(page, "… within days", "15")
    expect(page.get_by_text("worth 75.26 % a year")).to_be_visible()
    write(page, "Paying early, %", "0")
    expect(page.get_by_text("a year")).to_have_count(0)
    page.get_by_role("button", name="Pay in parts").press("Enter")
    write(page, "Part 1, %", "33,3")
    expect(page.get_by_label("Part 2, %")).to_have_value("66.7")
    write(page, "Part 2, days", "90")
    saved(page)
    page.reload()
    page.get_by_role("button", name="Payment, delivery, charges").press("Enter")
    expect(page.get_by_label("Part 2, days")).to_have_value("90")
    expect(page.get_by_label("Part 1, %")).to_have_value("33.3")
    page.get_by_label("Take away part 1").press("Enter")
    expect(page.get_by_label("Payment, days")).to_have_value("30")
    saved(page)


def test_an_agreed_price_asks_why_and_beyond_the_limit_a_lead_signs_off(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    start(page, "A price to be signed")
    fill_line(page, "POS-300", "20")
    cell(page, 0, 4).click()
    page.keyboard.type("18")
    page.keyboard.press("Enter")
    expect(page.get_by_role("grid")).to_contain_text("has a price agreed by hand: say why.")
    cell(page, 0, 4).click()
    page.keyboard.press("Alt+ArrowDown")
    expect(page.get_by_text("The rules would give")).to_be_visible()
    write(page, "Agreed because", "Matches the offer of last year")
    expect(page.get_by_role("grid")).not_to_contain_text("say why")
    saved(page)
    page.get_by_role("button", name=re.compile("Sign-off needed")).click()
    page.get_by_label("Why it should be signed off").fill("They order every winter")
    page.get_by_role("button", name="Ask for a sign-off").click()
    expect(page.get_by_role("button", name=re.compile("Sign-off asked"))).to_be_visible()
    quote = page.url
    menu(page, "Ilse Brandvold", "Sign out")

    page = sign_in("petra")
    page.get_by_role("link", name=re.compile("^Sign off Q-")).click()
    page.get_by_role("button", name=re.compile("Sign-off asked")).click()
    page.get_by_label("A word to the rep").fill("Once")
    page.get_by_role("button", name="Sign off", exact=True).click()
    expect(page.get_by_role("button", name=re.compile("Signed off"))).to_be_visible()
    assert page.url == quote


def test_alternatives_stand_in_brackets_and_a_target_is_solved(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    start(page, "Two ways")
    fill_line(page, "NET-730", "4")
    fill_line(page, "NET-740", "4")
    saved(page)
    cell(page, 1, 2).click()
    page.keyboard.press("Alt+a")
    expect(page.locator("tr.alternative")).to_contain_text("(1\xa0352.00)")
    expect_sums(page, Lines="1 248.00")
    cell(page, 0, 2).click()
    page.keyboard.press("Alt+h")
    page.keyboard.type("North field")
    page.keyboard.press("Enter")
    expect(page.locator("tr.heading")).to_contain_text("North field")
    saved(page)
    menu(page, "More", "Solve for…")
    page.get_by_label("Should come to").fill("1450")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Take the amount").click()
    expect_sums(page, Payable="1 450.00")


def test_a_price_change_is_looked_at_before_it_is_made(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("admin")
    page.goto(f"{stack.url}/prices?part=rules")
    row = page.get_by_role("row", name=re.compile("WHOLE-ORDER"))
    row.get_by_role("button", name="Change").click()
    page.get_by_label("Tiers").fill("from 20000: 3 %")
    page.get_by_role("button", name="What would move?").click()
    expect(page.get_by_text(re.compile(r"[1-9]\d* of \d+ open quotes would move"))).to_be_visible()
    page.get_by_role("button", name="Save").click()
    expect(row).to_contain_text("from 20000: 3 %")
    row.get_by_role("button", name="Change").click()
    page.get_by_role("button", name="Who changed it").click()
    expect(page.get_by_text(re.compile("Wyn Hallory: Tiers .* → from 20000: 3 %"))).to_be_visible()


def test_the_price_check_shows_the_price_and_the_next_break(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("tomas")
    page.goto(f"{stack.url}/prices?customer=12&item=2&quantity=90")
    expect(page.get_by_text("Chestnut post 250 cm, pointed for Fellgate Orchards")).to_be_visible()
    expect(
        page.get_by_text(re.compile("With 100 pieces: .* less than the present one"))
    ).to_be_visible()


def test_several_items_come_in_at_once_and_lines_from_an_earlier_quote(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    start(page, "Everything at once")
    for code in ("POS-250", "DRI-REG"):
        page.keyboard.type(code)
        page.keyboard.press("Shift+Enter")  # may be quicker than the answer
        expect(page.get_by_text(f"{code}. Enter takes them in")).to_be_visible()
    page.keyboard.press("Enter")
    expect(cell(page, 1, 0)).to_have_text("DRI-REG")
    expect(page.get_by_role("textbox", name="Quantity")).to_be_focused()
    page.keyboard.type("3")
    page.keyboard.press("Enter")
    expect_sums(page, Lines="57.50")
    saved(page)

    page.keyboard.press("Alt+l")
    panel = page.get_by_role("form", name="Lines from an earlier quote")
    earlier = number_of(stack, "Posts and wire for 6 ha")
    panel.get_by_role("button", name=re.compile(earlier)).click()
    panel.get_by_label("All lines").uncheck()
    panel.get_by_label("Take Wire tensioner, ratchet").check()
    panel.get_by_role("button", name="Add 1 line").click()
    expect(cell(page, 2, 0)).to_have_text("FIX-TEN")
    expect(cell(page, 2, 2)).to_have_text("200")


def test_the_sheet_of_keys_opens_over_the_desk(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    go_to(page, number_of(stack, "New frost line, north field"))
    cell(page, 0, 2).click()
    page.keyboard.press("?")
    sheet = page.get_by_role("dialog", name="Keys")
    expect(sheet).to_contain_text("moves the line")
    page.keyboard.press("Escape")
    expect(sheet).not_to_be_visible()


def test_a_file_of_quotes_is_tried_and_then_made(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("tomas")
    place(page, "Quotes")
    page.get_by_role("button", name="From a file…").click()
    rows = ["Quote,Customer,Item,Quantity", "a,Fellgate Orchards,POS-250,120",
            "b,Fellgate Orchards,POS-250,many", "b,Fellgate Orchards,NONE,1"]  # fmt: skip
    page.locator("input[type=file]").set_input_files(
        {"name": "q.csv", "mimeType": "text/csv", "buffer": "\n".join(rows).encode()}
    )
    panel = page.get_by_role("region", name="Quotes from a file")
    expect(panel.get_by_role("status")).to_contain_text("1 of 2 quotes in q.csv are good.")
    expect(panel).to_contain_text("There is no item NONE.")
    panel.get_by_role("button", name="Make 1 draft").click()
    panel.get_by_role("link", name=re.compile(r"Q-\d\d-\d{4}")).click()
    expect_sums(page, Lines="1 020.00")


def test_a_paper_is_changed_looked_at_and_taken_back(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("admin")
    menu(page, "Wyn Hallory", "Quote papers")
    preview = page.get_by_role("img", name="Page 1 of a quote on this paper")
    expect(preview).to_be_visible()
    before = preview.get_attribute("src")
    write(page, "At the end", "Deliveries leave on Tuesdays.")
    expect(preview).not_to_have_attribute("src", before or "")
    page.get_by_role("button", name="Keep as edition 1").click()
    expect(page.get_by_role("listitem").filter(has_text="counts now")).to_contain_text("1")
    page.get_by_role("button", name="Go back to it").click()
    expect(page.get_by_role("listitem").filter(has_text="counts now")).to_contain_text("As shipped")


def test_a_change_shows_the_kept_cases_that_it_moves(
    sign_in: Callable[[str], Page], stack: Stack, faults: list[str]
) -> None:
    page = sign_in("admin")
    page.goto(f"{stack.url}/prices?part=cases")
    page.get_by_role("button", name="Run them all").click()
    expect(page.get_by_text(re.compile(r"\d of 3 cases hold"))).to_be_visible()
    page.goto(f"{stack.url}/prices?part=entries&words=POS-250")
    row = page.get_by_role("row", name=re.compile("^Base list POS-250 .* piece 600"))
    row.get_by_role("button", name="Change").click()
    page.get_by_label("Price", exact=True).fill("-2")
    page.get_by_role("button", name="What would move?").click()
    expect(page.get_by_role("alert")).to_contain_text("-2 cannot be read.")
    faults.clear()  # the browser notes the refusal
    page.get_by_label("Price", exact=True).fill("7.95")
    page.get_by_role("button", name="What would move?").click()
    expect(page.get_by_text("1 of 3 kept cases would move.")).to_be_visible()
    expect(page.get_by_text("Posts by the pallet, trade customer")).to_be_visible()
