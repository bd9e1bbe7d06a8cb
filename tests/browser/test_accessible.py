"""axe finds nothing serious on any main view, on light paper and on dark."""

from collections.abc import Callable
import json
from typing import Any

from playwright.sync_api import Page
import pytest

from config.paths import ROOT
from ops.landmarks import landmarks
from ops.stack import Stack

pytestmark = pytest.mark.browser
AXE = (ROOT / "web/node_modules/axe-core/axe.min.js").read_text()
#: Of what holds, nothing is told: to name every place where it does takes longer than to look.
FAULTS = {"resultTypes": ["violations"]}
RULES = {"runOnly": ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"], **FAULTS}
#: Dark paper changes colours alone.
CONTRAST = {"runOnly": {"type": "rule", "values": ["color-contrast"]}, **FAULTS}
VIEWS = ["/today", "/visits", "/diary", "/mail", "{customer}/happened", "/leads", "/leads/new", "/leads/1", "/leads/file", "/leads/strangers", "/account", "/deals", "/timetable", "/invoices", "/backlog", "/deals/new", "{deal}", "/customers", "{customer}",
         "/customers/4/regulars", "/customers/file", "/customers/4/merge?other=5", "/invoices/1",
         "/payments/1", "/deliveries/1", "/items/1", "/agreements", "/agreements/2",
         "/standing-orders/1", "/standing-orders/new?customer=4",
         "/quotes", "{quote}", "{quote}/compare", "/orders", "{order}", "/forecast",
         "/quotes?state=draft", "/prices?part=rules", "/prices?customer=2&item=2",
         "{route}", "{route}?as=tree"]  # fmt: skip


def serious(page: Page, rules: object = RULES) -> list[tuple[str, str]]:
    found: dict[str, Any] = page.evaluate(f"axe.run(document, {rules})")
    return [
        (row["id"], node["html"][:200])
        for row in found["violations"]
        if row["impact"] in ("serious", "critical")
        for node in row["nodes"]
    ]


@pytest.mark.parametrize("half", [0, 1])
def test_nothing_serious_on_any_main_view(
    sign_in: Callable[[str], Page], stack: Stack, half: int
) -> None:
    page = sign_in("ilse")
    faults = {}
    places = landmarks(page, stack.url)
    for view in VIEWS[half::2]:
        page.emulate_media(color_scheme="light")
        page.goto(stack.url + view.format(**places))
        page.wait_for_load_state("networkidle")
        if view == "{quote}":
            page.locator("button.n").nth(1).click()
        page.evaluate(AXE)
        found = serious(page)
        page.emulate_media(color_scheme="dark")
        # Colours are judged as they are, not on their way to the dark paper's.
        page.wait_for_timeout(400)
        if found := [*found, *serious(page, CONTRAST)]:
            faults[view] = found
    assert faults == {}, json.dumps(faults, indent=1)


def test_the_pipeline_is_accessible_to_who_keeps_it(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("admin")
    page.goto(f"{stack.url}/pipeline")
    page.wait_for_load_state("networkidle")
    page.evaluate(AXE)
    assert serious(page) == []


def test_the_sign_in_page_is_accessible(page: Page, stack: Stack) -> None:
    page.goto(f"{stack.url}/sign-in")
    page.wait_for_load_state("networkidle")
    page.evaluate(AXE)
    assert serious(page) == []


def test_the_buyers_page_is_accessible_and_fits_a_phone(
    sign_in: Callable[[str], Page], stack: Stack
) -> None:
    page = sign_in("ilse")
    page.goto(stack.url + landmarks(page, stack.url)["issued"])
    page.get_by_role("button", name="Make the address").click()
    address = page.get_by_label("The buyer’s address").input_value()
    buyer = page.context.new_page()
    buyer.set_viewport_size({"width": 390, "height": 844})
    for place in (address, f"{address}x"):
        buyer.goto(place)
        buyer.evaluate(AXE)
        assert serious(buyer) == []
        assert buyer.evaluate("document.documentElement.scrollWidth") <= 390


@pytest.mark.parametrize(
    "view", ["/today", "/diary", "{customer}", "{customer}/happened", "{deal}", "{quote}"]
)
def test_a_phone_shows_it_without_scrolling_sideways(
    sign_in: Callable[[str], Page], stack: Stack, view: str
) -> None:
    page = sign_in("ilse")
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(stack.url + view.format(**landmarks(page, stack.url)))
    page.wait_for_load_state("networkidle")
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
