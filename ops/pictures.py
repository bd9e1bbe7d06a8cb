"""Take the pictures in ``docs/screenshots`` from the running application (``make up`` first)."""

from pathlib import Path
import sys

from playwright.sync_api import Browser, Page, expect, sync_playwright

from config.paths import ROOT
from ops.browser import BROWSER, FLAGS
from ops.landmarks import landmarks
from ops.stack import of_application

FOLDER = ROOT / "docs" / "screenshots"
SETTLED_MS = 700
VIEWS = {
    "today": "/today",
    "timetable": "/timetable",
    "diary": "/diary",
    "customer": "{customer}",
    "deal": "{deal}",
    "quote": "{quote}",
    "quotes": "/quotes",
    "order": "{order}",
    "forecast": "/forecast",
    "route": "{route}",
}


def enter(browser: Browser, url: str, scheme: str, who: str = "ilse") -> Page:
    """A laptop's screen, signed in."""
    context = browser.new_context(
        viewport={"width": 1280, "height": 800},
        color_scheme="dark" if scheme == "dark" else "light",
        locale="en-GB",
    )
    page = context.new_page()
    page.goto(url)
    page.get_by_label("Name").fill(who)
    page.get_by_label("Password").fill("orchard-demo")
    page.keyboard.press("Enter")
    page.wait_for_url(f"{url}/today")
    return page


def shoot(page: Page, folder: Path, name: str) -> None:
    """A picture once nothing is under way and nothing moves."""
    page.wait_for_load_state("networkidle")
    # What is read only when somebody comes to it is read too.
    at = page.evaluate("() => scrollY")
    page.evaluate("() => scrollTo(0, document.body.scrollHeight)")
    page.wait_for_timeout(SETTLED_MS)
    page.evaluate("(at) => scrollTo(0, at)", at)
    expect(page.locator("[aria-busy=true]")).to_have_count(0)
    page.wait_for_timeout(SETTLED_MS)
    page.screenshot(path=folder / f"{name}.png")


def take(page: Page, url: str, name: str, folder: Path, *, fold: bool = False) -> None:
    """One picture; with the second line of the desk folded out where asked."""
    page.goto(url)
    page.wait_for_load_state("networkidle")
    if fold:
        page.locator("button.n").nth(1).click()
    shoot(page, folder, name)


def rule(page: Page, url: str, folder: Path) -> None:
    """A rule that is about to change, and what would move."""
    page.goto(url)
    page.get_by_role("button", name="Change", exact=True).nth(0).click()
    page.get_by_label("Tiers").fill("from 150: 3 %; from 400: 5 %")
    page.get_by_role("button", name="What would move?").click()
    page.get_by_text("would move.").first.wait_for()
    shoot(page, folder, "rules")


def mail(page: Page, url: str, folder: Path) -> None:
    """A mail that came, read into lines of a quote."""
    page.goto(f"{url}/mail?waits=true")
    page.get_by_text("Anfrage Hagelnetz").click()
    page.get_by_role("button", name="A quote from it").click()
    page.get_by_role("button", name="Add 3 lines").wait_for()
    shoot(page, folder, "mail")


def paper(page: Page, url: str, folder: Path) -> None:
    """The detailed paper on a quote with every kind of line."""
    page.goto(url)
    page.get_by_role("img").first.wait_for()
    shoot(page, folder, "papers")


def handovers(page: Page, url: str, folder: Path) -> None:
    """What is on its way, and both sides compared."""
    page.goto(f"{url}/handovers")
    page.get_by_role("button", name="Compare now").click()
    page.get_by_text("the same on both sides").wait_for()
    shoot(page, folder, "handovers")


def buyer(page: Page, url: str, folder: Path) -> None:
    """What the buyer reads under a quote's own address."""
    quotes = page.request.get(f"{url}/api/quotes?state=issued&words=Quince&sort=-date").json()
    page.goto(f"{url}/quotes/{quotes['rows'][0]['revision_id']}")
    page.get_by_text("quantities may be changed").click()
    page.get_by_role("button", name="Make the address").click()
    page.goto(page.get_by_label("The buyer’s address").input_value())
    shoot(page, folder, "buyer")


def agreement(page: Page, url: str, folder: Path) -> None:
    """A framework agreement, half called off: its pace, its plan, its orders."""
    page.goto(f"{url}/agreements")
    page.get_by_role("link", name="FA-0024", exact=True).click()
    page.get_by_role("region", name="Pace").wait_for()
    shoot(page, folder, "agreement")


def regulars(page: Page, url: str, folder: Path) -> None:
    """The sheet of regulars with quantities typed down it."""
    rows = page.request.get(f"{url}/api/customers?words=Stonebeck").json()["rows"]
    page.goto(f"{url}/customers/{rows[0]['id']}/regulars")
    page.locator("input.order").first.wait_for()
    for _ in range(3):
        page.keyboard.press("=")
        page.wait_for_timeout(SETTLED_MS)
    shoot(page, folder, "regulars")


def departures(page: Page, url: str, folder: Path) -> None:
    """An item's promises by departure, and its price for a customer."""
    rows = page.request.get(f"{url}/api/customers?words=Stonebeck").json()["rows"]
    items = page.request.get(f"{url}/api/items?words=NET-730").json()
    page.goto(f"{url}/items/{items[0]['id']}?customer={rows[0]['id']}")
    page.locator("ol.departures").wait_for()
    page.locator("section.price .answer").wait_for()
    shoot(page, folder, "promise")


def ordering(page: Page, url: str, folder: Path) -> None:
    """An order being written: an alternative taken, a line divided over two days."""
    quotes = page.request.get(f"{url}/api/quotes?state=issued&words=Quince&sort=-date").json()
    page.goto(f"{url}/orders/new?from={quotes['rows'][0]['revision_id']}")
    page.get_by_role("button", name="Take it instead").click()
    first = page.get_by_label("Order now: Hail net, crystal")
    first.click()
    page.keyboard.press("Control+a")
    page.keyboard.type("3")
    page.keyboard.press("Alt+ArrowDown")
    page.get_by_role("button", name="Divide the line").click()
    first.nth(1).click()
    page.keyboard.type("1")
    page.keyboard.press("Alt+ArrowDown")
    page.get_by_label("Wanted by").nth(1).click()
    page.keyboard.type("+20")
    page.keyboard.press("Enter")
    shoot(page, folder, "ordering")


def main() -> int:
    """Take them all."""
    stack = of_application()
    FOLDER.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=BROWSER, args=FLAGS)
        page = enter(browser, stack.url, "light")
        places = landmarks(page, stack.url)
        for name, path in VIEWS.items():
            there = stack.url + path.format(**places)
            take(page, there, name, FOLDER, fold=name == "quote")
        keeper = enter(browser, stack.url, "light", "admin")
        rule(keeper, f"{stack.url}/prices?part=rules", FOLDER)
        paper(keeper, f"{stack.url}/papers?paper=detailed", FOLDER)
        handovers(keeper, stack.url, FOLDER)
        buyer(page, stack.url, FOLDER)
        ordering(page, stack.url, FOLDER)
        agreement(page, stack.url, FOLDER)
        regulars(page, stack.url, FOLDER)
        departures(page, stack.url, FOLDER)
        mail(enter(browser, stack.url, "light", "amara"), stack.url, FOLDER)
        browser.close()
    return 0


if __name__ == "__main__":
    sys.exit(main())
