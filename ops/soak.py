"""Break the desk by chance: ``make up``, then ``make soak MINUTES=10 SEED=1``.

Keys, mouse, Back, reloads, a pulled cable and a second tab, in an order that the seed gives. What was
on the screen must be there again, nobody may clash with oneself, and only what the screen said may be
issued. It says what it did and ends at the first loss, with the acts that led to it.
"""

from argparse import ArgumentParser
from collections.abc import Callable
from random import Random
import re
import sys
import time

from playwright.sync_api import Locator, Page, expect, sync_playwright

from ops.browser import BROWSER, FLAGS
from ops.stack import of_application

REVISION = re.compile(r"/api/revisions/\d+(/price)?$")
CLASH = "changed this draft"
ITEMS = ("POS-250", "POS-300", "NET-730", "WIR-025", "DRI-REG", "CLP-L")
#: Those that can be issued in any quantity.
PLAIN = ITEMS[:2]
QUANTITY, PRICE, DISCOUNT = 2, 4, 5
SECOND_MS = 1000
LINES = """(cells) => [...document.querySelectorAll('tr[data-row]')]
  .filter((row) => row.querySelector('[role=rowheader]').textContent.trim() !== '+')
  .map((row) => cells.map((c) => (row.querySelector(`[data-col='${c}']`)?.textContent ?? '').trim()))"""
Lines = list[list[str]]


class Lost(Exception):
    """Something that was on the screen is not there any more."""


class _Rep:
    """Somebody at the desk who cannot sit still."""

    def __init__(self, page: Page, url: str, chance: Random) -> None:
        self.page, self.url, self.chance = page, url, chance
        self.items: tuple[str, ...] = ITEMS
        self.cut = False
        self.done: list[str] = []
        self.quotes = self.issued = 0
        self.crashes: list[str] = []
        page.on("pageerror", lambda error: self.crashes.append(str(error)))

    # ---- what is on the screen ------------------------------------------------------------
    def cell(self, row: int, col: int) -> Locator:
        return self.page.locator("tr[data-row]").nth(row).locator(f"[data-col='{col}']")

    def lines(self) -> Lines:
        """Item and quantity of each line; prices follow the rules."""
        found: Lines = self.page.evaluate(LINES, [0, QUANTITY])
        return found

    def any_row(self) -> int:
        return self.chance.randrange(max(1, len(self.lines())))

    def sums(self) -> str:
        return self.page.locator("footer dl").inner_text()

    def saved(self) -> None:
        told = self.page.get_by_role("status").filter(has_text="saved")
        expect(told.first).to_have_text(re.compile(r"^, saved \d"), timeout=20 * SECOND_MS)

    def still_there(self, before: Lines, when: str) -> None:
        for _ in range(40):
            if self.lines() == before:
                return
            self.page.wait_for_timeout(200)
        raise Lost(f"{when}: {before} became {self.lines()}")

    def clash(self) -> Locator:
        return self.page.get_by_role("alert").filter(has_text=CLASH)

    # ---- what a person does ---------------------------------------------------------------
    def press(self, *keys: str) -> None:
        for key in keys:
            self.page.keyboard.press(key)

    def point_at(self, row: int, col: int) -> None:
        """Click a cell; what the item search lays over it is closed first, as a person would."""
        if self.page.locator("#item-hits").count():
            self.press("Escape")
        self.cell(row, col).click()

    def write(self, row: int, col: int, text: str, leave: str = "Enter") -> None:
        self.point_at(row, col)
        self.page.keyboard.type(text)
        self.press(leave)

    def start(self) -> None:
        self.page.goto(f"{self.url}/customers/4")
        self.page.get_by_role("button", name="Start a quote").click()
        expect(self.cell(0, 0)).to_be_focused()
        self.quotes += 1

    def add(self) -> None:
        self.press("Escape")
        self.cell(len(self.lines()), 0).click()
        self.page.keyboard.type(self.chance.choice(self.items))
        self.page.get_by_role("listbox", name="Items").get_by_role("option").first.wait_for()
        self.press("Enter")
        self.page.keyboard.type(str(self.chance.randint(1, 90)))
        self.press("Enter")

    def quantity(self) -> None:
        leave = self.chance.choice(["Enter", "Tab", "ArrowDown"])
        self.write(self.any_row(), QUANTITY, str(self.chance.randint(1, 900)), leave)

    def quick(self) -> None:
        self.point_at(self.any_row(), QUANTITY)
        for _ in range(3):
            self.page.keyboard.type(str(self.chance.randint(1, 99)))
            self.press("Enter")

    def discount(self) -> None:
        self.write(self.any_row(), DISCOUNT, str(self.chance.randint(0, 2)))

    def price(self) -> None:
        if self.items is ITEMS:
            self.write(self.any_row(), PRICE, f"{self.chance.randint(1, 90)}.50")

    def junk(self) -> None:
        self.write(self.any_row(), QUANTITY, "1O0x", "Escape")

    def take_away(self) -> None:
        if len(self.lines()) > 1:
            self.point_at(self.any_row(), QUANTITY)
            self.press("Control+Delete")

    def undo(self) -> None:
        self.point_at(0, QUANTITY)
        self.press(*["Control+z"] * self.chance.randint(1, 3))

    def redo(self) -> None:
        self.point_at(0, QUANTITY)
        self.press("Control+Shift+z")

    def wander(self) -> None:
        self.point_at(0, QUANTITY)
        ways = ["ArrowDown", "ArrowUp", "ArrowLeft", "ArrowRight", "Home", "End", "Tab"]
        self.press(*self.chance.choices(ways, k=6))

    def fold(self) -> None:
        self.page.locator("tr[data-row] button.n").nth(self.any_row()).click()

    def pull_the_cable(self) -> None:
        if not self.cut:
            self.page.route(REVISION, lambda route: route.abort())
        self.cut = True

    def plug_it_in(self) -> None:
        if self.cut:
            self.page.unroute(REVISION)
        self.cut = False

    def leave_and_come_back(self) -> None:
        self.press("Escape")
        self.page.wait_for_timeout(self.chance.choice([0, 50, 400, 900]))
        before = self.lines()
        self.page.get_by_role("link", name="Orders", exact=True).click()
        self.page.wait_for_url(re.compile("/orders"))
        self.page.wait_for_timeout(self.chance.choice([0, 300]))
        self.page.go_back()
        self.still_there(before, "Back")

    def reload(self) -> None:
        self.press("Escape")
        self.page.wait_for_timeout(self.chance.choice([0, 50, 400, 900]))
        before = self.lines()
        self.page.reload()
        if self.cut:
            self.plug_it_in()
            self.page.wait_for_timeout(4 * SECOND_MS)
            again = self.page.get_by_role("button", name="Try again")
            if again.count():
                again.first.click()
        self.still_there(before, "reload")

    def second_tab(self) -> None:
        """Another tab changes the draft; this one is told, and chooses."""
        if self.cut:
            return
        self.press("Escape")
        self.saved()
        other = _Rep(self.page.context.new_page(), self.url, self.chance)
        other.page.goto(self.page.url)
        other.write(0, QUANTITY, str(self.chance.randint(1, 99)))
        other.saved()
        other.page.close()
        self.write(0, QUANTITY, "777")
        expect(self.clash()).to_be_visible()
        choice = self.chance.choice(["Show theirs", "Save mine over it"])
        self.page.get_by_role("button", name=choice).click()
        expect(self.clash()).to_have_count(0)

    def acts(self) -> list[Callable[[], None]]:
        typing = [self.add, self.add, self.quantity, self.quantity, self.quick, self.discount]
        other = [
            self.price,
            self.junk,
            self.take_away,
            self.undo,
            self.redo,
            self.wander,
            self.fold,
        ]
        line = [self.pull_the_cable, self.plug_it_in, self.leave_and_come_back, self.reload]
        return [*typing, *other, *line, self.second_tab]

    def one_quote(self, until: float) -> None:
        """A quote from its first line to its issue, with much in between."""
        self.items = self.chance.choice([ITEMS, PLAIN])
        self.start()
        self.add()
        for _ in range(self.chance.randint(5, 30)):
            if time.monotonic() > until:
                break
            act = self.chance.choice(self.acts()) if self.lines() else self.add
            self.done.append(f"{act.__name__} {self.lines()}")
            act()
            if self.crashes:
                raise Lost(self.crashes[0])
            if self.clash().count():
                raise Lost("a clash with oneself")
        self.plug_it_in()
        self.press("Escape")
        self.saved()
        before = self.lines()
        self.page.reload()
        self.still_there(before, "what was saved")
        if before:
            self.issue()

    def issue(self) -> None:
        """Issue it with the last key just pressed, where its checks allow it."""
        self.write(0, QUANTITY, str(self.chance.randint(1, 50)))
        self.press("Control+Enter")
        self.page.wait_for_timeout(self.chance.choice([200, 1200]))
        step = self.page.get_by_role("button", name=re.compile("^Issue revision .$"))
        if not step.count():
            return
        said = self.lines()
        step.click()
        self.page.wait_for_timeout(2 * SECOND_MS)
        if not self.page.get_by_role("link", name="Write the order…").count():
            return
        sums = self.sums()
        self.page.reload()
        self.still_there(said, "issued")
        if self.sums() != sums:
            raise Lost(f"issued: {sums} became {self.sums()}")
        self.issued += 1


def main() -> int:
    """So many minutes of it; 1 where something was lost."""
    parser = ArgumentParser(description=__doc__)
    parser.add_argument("--minutes", type=float, default=5)
    parser.add_argument("--seed", type=int, default=1)
    given = parser.parse_args()
    until = time.monotonic() + 60 * given.minutes
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path=BROWSER, args=FLAGS)
        page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
        url = of_application().url
        page.goto(url)
        page.get_by_label("Name").fill("ilse")
        page.get_by_label("Password").fill("orchard-demo")
        page.keyboard.press("Enter")
        page.wait_for_url(f"{url}/today")
        rep = _Rep(page, url, Random(given.seed))
        try:
            while time.monotonic() < until:
                rep.one_quote(until)
        except Exception as problem:  # whatever it is, the way to it is told
            page.screenshot(path="var/soak.png")
            print(*rep.done[-40:], f"seed {given.seed}: {problem}", sep="\n")
            return 1
        browser.close()
    print(
        f"seed {given.seed}: {rep.quotes} quotes, {len(rep.done)} acts, {rep.issued} issued, nothing lost"
    )
    return 0


if __name__ == "__main__":
    sys.exit(main())
