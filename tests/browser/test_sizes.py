"""A laptop, a small window, a phone: what is worked on is in sight, never behind the bar of sums."""

from collections.abc import Callable
import re

from playwright.sync_api import Locator, Page, expect
import pytest

from ops.stack import Stack
from tests.browser.desk import cell, figure, go_to, make_deal, menu, number_of, saved

pytestmark = pytest.mark.browser
SIZES = [(1280, 800), (1024, 768), (390, 844)]


def in_sight(page: Page, what: Locator) -> None:
    """The whole of it lies within the window and above the bar."""
    expect(what).to_be_visible()
    page.wait_for_timeout(120)  # what scrolls has scrolled
    box = what.bounding_box()
    bar = page.locator("footer").bounding_box()
    assert box is not None
    assert bar is not None
    assert box["y"] >= 0
    assert box["y"] + box["height"] <= bar["y"] + 1, (box, bar)
    assert box["x"] + box["width"] <= (page.viewport_size or {"width": 0})["width"] + 1


@pytest.mark.parametrize(("width", "height"), SIZES)
def test_nothing_that_is_worked_on_hides_behind_the_sums(
    sign_in: Callable[[str], Page], stack: Stack, width: int, height: int
) -> None:
    page = sign_in("ilse")
    page.set_viewport_size({"width": width, "height": height})
    go_to(page, number_of(stack, "New frost line, north field"))
    rows = page.locator("tr[data-row]")
    cell(page, 0, 2).click()
    for row in range(1, rows.count() - 1):
        page.keyboard.press("Escape")
        page.keyboard.press("ArrowDown")
        expect(cell(page, row, 2)).to_be_focused()
        in_sight(page, cell(page, row, 2))
    page.keyboard.press("Control+End")  # past the last line, where a new one begins
    page.keyboard.type("po")
    hits = page.get_by_role("listbox", name="Items")
    expect(hits.get_by_role("option").first).to_be_visible()
    in_sight(page, hits.get_by_role("option").first)
    page.keyboard.press("Escape")
    page.keyboard.press("Control+Enter")
    in_sight(page, page.get_by_role("button", name=re.compile("^(Issue revision .|Ask for)")).first)
    in_sight(page, page.get_by_role("button", name="Not yet"))


def test_a_word_that_comes_late_pushes_no_cell_behind_the_sums(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    page.set_viewport_size({"width": 390, "height": 844})
    go_to(page, number_of(stack, "New frost line, north field"))
    cell(page, 0, 2).click()
    page.keyboard.press("Escape")
    page.keyboard.press("ArrowDown")
    expect(cell(page, 1, 2)).to_be_focused()
    page.evaluate(
        """() => {
          const late = document.createElement('p')
          late.style.height = '700px'
          document.querySelector('main').prepend(late)
        }"""
    )
    in_sight(page, cell(page, 1, 2))


def test_the_next_step_wears_its_own_over_the_theme(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    go_to(page, number_of(stack, "New frost line, north field"))
    step = page.get_by_role("button", name=re.compile("^Issue revision"))
    expect(step).to_have_css("height", "42px")
    # Its words begin behind the coral.
    expect(step).to_have_css("padding-left", "34px")


@pytest.mark.browser_context_args(has_touch=True)
def test_on_a_phone_a_quote_is_made_by_touch(sign_in: Callable[[str], Page], stack: Stack) -> None:
    page = sign_in("ilse")
    page.set_viewport_size({"width": 390, "height": 844})
    make_deal(page, "By touch", "Stonebeck Farm")
    page.get_by_role("button", name="Start a quote").click()
    cell(page, 0, 0).tap()  # no keyboard comes up by itself
    page.keyboard.type("POS-250")
    page.get_by_role("listbox", name="Items").get_by_role("option").first.tap()
    quantity = page.get_by_role("textbox", name="Quantity")
    expect(quantity).to_be_focused()
    page.keyboard.type("40")
    page.get_by_role("heading", name="Stonebeck Farm").tap()
    expect(cell(page, 0, 2)).to_have_text("40")
    saved(page)
    box = cell(page, 0, 2).bounding_box()
    assert box is not None
    assert box["height"] >= 40  # a finger's width
    cell(page, 0, 2).tap()  # one touch opens it
    expect(quantity).to_be_focused()
    page.keyboard.press("Control+a")
    page.keyboard.type("60")
    page.keyboard.press("Enter")
    expect(cell(page, 0, 2)).to_have_text("60")
    expect(figure(page, "Payable")).to_be_visible()
    expect(figure(page, "Net")).to_be_hidden()
    page.get_by_role("button", name="All sums").tap()
    expect(figure(page, "Net")).to_be_visible()


def test_on_a_phone_the_person_is_their_initials_and_their_menu_is_whole(
    sign_in: Callable[[str], Page],
) -> None:
    page = sign_in("ilse")
    page.set_viewport_size({"width": 390, "height": 844})
    expect(page.get_by_text("IB", exact=True)).to_be_visible()
    menu(page, "Ilse Brandvold", "Keys")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()
