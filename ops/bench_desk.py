"""From the key to the new totals on the screen, measured in the browser itself."""

from statistics import median, quantiles
from typing import Any

from playwright.sync_api import Page, sync_playwright

from ops.browser import BROWSER, FLAGS

KEYS = 40
#: Makes a draft of so many lines and gives its address.
MAKE = """async (count) => {
  const token = /vivid_csrf=([^;]*)/.exec(document.cookie)[1]
  const headers = {'X-CSRFToken': token, 'Content-Type': 'application/json'}
  const read = async (path) => (await fetch(path)).json()
  const customer = (await read('/api/customers')).rows[0].id
  const items = await read('/api/items?most=50')
  const body = JSON.stringify({customer_id: customer})
  const quote = await (await fetch('/api/quotes', {method: 'POST', headers, body})).json()
  const lines = [...Array(count).keys()].map((n) => {
    const item = items[n % items.length]
    return {key: `k${n}`, item_id: item.id, quantity: String(100 * (n + 1)), unit: item.base_unit}
  })
  const draft = {version: quote.version, valid_until: quote.valid_until, lines}
  await fetch(`/api/revisions/${quote.id}`, {method: 'PUT', headers, body: JSON.stringify(draft)})
  return `/quotes/${quote.id}`
}"""
#: Notes the time from a digit's key to the frame that shows other totals.
WATCH = """() => {
  const bar = document.querySelector('footer dl')
  let start = 0, shown = bar.textContent
  window.taken = []
  document.addEventListener('keydown', (e) => { if (/[0-9]/.test(e.key)) start = performance.now() }, true)
  new MutationObserver(() => {
    if (!start || bar.textContent === shown) return
    shown = bar.textContent
    const since = start
    start = 0
    requestAnimationFrame(() => setTimeout(() => window.taken.push(performance.now() - since)))
  }).observe(bar, {subtree: true, childList: true, characterData: true})
}"""


def key_to_totals(url: str, *sizes: int) -> list[tuple[float, float]]:
    """Milliseconds (median, ninth tenth) for drafts of so many lines."""
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path=BROWSER, args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(url)
        page.fill("input[name=username]", "ilse")
        page.fill("input[name=password]", "orchard-demo")
        page.keyboard.press("Enter")
        page.wait_for_url(f"{url}/today")
        found = [_measured(page, url, size) for size in sizes]
        browser.close()
        return found


def _measured(page: Page, url: str, lines: int) -> tuple[float, float]:
    page.goto(url + page.evaluate(MAKE, lines))
    cell = page.locator("tr[data-row]").nth(3).locator("[data-col='2']")
    cell.wait_for()
    page.wait_for_timeout(1000)
    page.evaluate(WATCH)
    cell.click()
    for n in range(KEYS):
        page.keyboard.press(str(1 + n % 9))
        page.wait_for_timeout(300)
        if n % 4 == 3:
            page.keyboard.press("Escape")
            page.wait_for_timeout(700)
    taken: Any = page.evaluate("window.taken")
    return median(taken), quantiles(taken, n=10)[-1]
