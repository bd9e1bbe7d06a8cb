"""What a customer wrote becomes lines: looked through, corrected by keys, remembered; nothing comes unasked."""

from collections.abc import Callable

from playwright.sync_api import Page, expect
import pytest

from tests.browser.desk import cell, menu, place, start
from tests.browser.test_desk import PASTE

pytestmark = pytest.mark.browser
MAIL = """Dear Ilse,

for the new block please quote 12 hail nets black and 300 chestnut posts. About 500 bamboo stakes 120 cm.
We do not need the bird nets any more.

Kind regards
Edda Morrow

On 3 March Ilse wrote:
> 20 orchard bins
"""


def test_a_pasted_mail_is_read_and_comes_onto_the_quote_as_a_person_says(
    sign_in: Callable[[str], Page],
) -> None:
    page = sign_in("ilse")
    start(page, "Lines from a mail")
    expect(cell(page, 0, 0)).to_be_focused()
    page.evaluate(PASTE, MAIL)
    panel = page.get_by_role("form", name="Lines from a mail")
    expect(panel.get_by_role("button", name="Add 1 line")).to_be_visible()
    expect(panel).to_contain_text("We do not need the bird nets any more. not wanted")
    expect(panel).not_to_contain_text("20 orchard bins", use_inner_text=True)
    expect(panel.get_by_label("Take “bamboo stakes 120 cm”")).not_to_be_checked()
    # The doubtful item is one key away from right.
    item = panel.get_by_role("combobox", name="Item of “chestnut posts”")
    item.focus()
    item.press("ArrowDown")
    expect(page.get_by_role("option", name="POS-250")).to_be_visible()
    item.press("ArrowDown")
    item.press("Enter")
    keep = panel.get_by_role("checkbox", name="“chestnut posts” is this item from now on")
    keep.press("Space")
    panel.get_by_role("button", name="Add 2 lines").press("Enter")
    expect(cell(page, 0, 0)).to_have_text("NET-730")
    expect(cell(page, 0, 2)).to_have_text("12")
    expect(cell(page, 1, 2)).to_have_text("300")
    expect(cell(page, 2, 0)).not_to_contain_text("STK")
    expect(
        page.get_by_text("is POS-250 from now on").or_(page.get_by_text("is POS-200 from now on"))
    ).to_be_visible()
    # The next mail is read with it.
    menu(page, "More", "From a mail…")
    text = page.get_by_role("textbox", name="The mail")
    text.click()
    page.keyboard.type("40 chestnut posts please")
    page.get_by_role("button", name="Read it", exact=True).press("Enter")
    expect(panel).to_contain_text("40 chestnut posts please")
    page.keyboard.press("Escape")
    expect(panel).to_have_count(0)


def test_an_item_shows_what_it_is_called_and_a_word_is_added_there(
    sign_in: Callable[[str], Page],
) -> None:
    page = sign_in("ilse")
    place(page, "Orders")
    page.locator("main table.list tbody tr a").first.click()
    page.locator("main a[href^='/items/']").first.click()
    card = page.get_by_role("region", name="Also called")
    expect(card).to_contain_text("in mails that are read")
    field = card.get_by_role("textbox", name="What else it is called")
    field.click()
    page.keyboard.type("long arm cutter")
    page.keyboard.press("Enter")
    expect(card).to_contain_text("long arm cutter Ilse Brandvold")
    card.get_by_role("button", name="Take “long arm cutter” away").press("Enter")
    expect(card).not_to_contain_text("long arm cutter")
