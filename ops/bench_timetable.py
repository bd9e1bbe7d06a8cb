"""From the arrow key on the Timetable to the new sums on the screen, measured in the browser itself.

Part of ``make bench``; ``python -m ops.bench_timetable`` alone, on a demo of its own.
"""

import argparse
from statistics import median, quantiles
from typing import Any

from playwright.sync_api import Page, sync_playwright

from ops.bench_house import fresh_house
from ops.browser import BROWSER, FLAGS

KEYS = 30
#: So many deals more on the Timetable.
CHIPS = 2_000
#: Notes the time from an arrow key to the frame in which the sums at the foot of the board are others.
WATCH = """() => {
  const foot = document.querySelector('.board tfoot')
  let start = 0, shown = foot.textContent
  window.taken = []
  window.shown = []
  document.addEventListener('keydown', (e) => {
    if (!e.key.startsWith('Arrow')) return
    const since = performance.now()
    start = since
    requestAnimationFrame(() => setTimeout(() => window.shown.push(performance.now() - since)))
  }, true)
  new MutationObserver(() => {
    if (!start || foot.textContent === shown) return
    shown = foot.textContent
    const since = start
    start = 0
    requestAnimationFrame(() => setTimeout(() => window.taken.push(performance.now() - since)))
  }).observe(foot, {subtree: true, childList: true, characterData: true})
}"""
#: Makes so many more deals: titles, amounts and days follow from their number.
MAKE = """async (count) => {
  const token = /vivid_csrf=([^;]*)/.exec(document.cookie)[1]
  const headers = {'X-CSRFToken': token, 'Content-Type': 'application/json'}
  const customer = (await (await fetch('/api/customers')).json()).rows[0].id
  const stages = (await (await fetch('/api/stages')).json()).filter((s) => s.outcome === 'open')
  for (let n = 0; n < count; n++) {
    const on = new Date(Date.now() + (1 + n % 90) * 864e5).toISOString().slice(0, 10)
    const deal = {title: `Deal ${n}`, customer_id: customer, estimate: String(500 + 37 * n),
      decision_on: on, stage: stages[n % stages.length].code}
    const answer = await fetch('/api/deals', {method: 'POST', headers, body: JSON.stringify(deal)})
    if (!answer.ok) throw new Error(await answer.text())
  }
}"""


def key_to_sums(url: str, deals: int) -> dict[str, tuple[float, float]]:
    """Milliseconds (median, ninth tenth) to the moved chip and to the new sums, with so many deals more."""
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path=BROWSER, args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(url)
        page.fill("input[name=username]", "ilse")
        page.fill("input[name=password]", "orchard-demo")
        page.keyboard.press("Enter")
        page.wait_for_url(f"{url}/today")
        page.set_default_timeout(600_000)
        page.evaluate(MAKE, deals)
        found = _measured(page, url)
        browser.close()
        return found


def _measured(page: Page, url: str) -> dict[str, tuple[float, float]]:
    page.goto(f"{url}/timetable")
    page.locator(".board tfoot").wait_for()
    page.wait_for_timeout(1500)
    page.evaluate(WATCH)
    page.locator("td.week [data-deal]").nth(5).focus()
    for n in range(KEYS):
        page.keyboard.press("ArrowRight" if n % 2 == 0 else "ArrowLeft")
        page.wait_for_timeout(900)
    return {name: _of(page.evaluate(f"window.{name}")) for name in ("shown", "taken")}


def _of(taken: Any) -> tuple[float, float]:
    return median(taken), quantiles(taken, n=10)[-1]


def main() -> None:
    """Print what is measured, as often as is wished: the first time warms the house up."""
    wanted = argparse.ArgumentParser(description=__doc__)
    wanted.add_argument("--times", type=int, default=3)
    with fresh_house() as stack:
        for time in range(wanted.parse_args().times):
            found = key_to_sums(stack.url, 0 if time else CHIPS)
            told = "; ".join(
                f"to the {what} {found[name][0]:.0f} ms, nine of ten {found[name][1]:.0f} ms"
                for name, what in (("shown", "moved chip"), ("taken", "new sums"))
            )
            print(f"{CHIPS:,} deals more, from an arrow key {told}", flush=True)


if __name__ == "__main__":
    main()
