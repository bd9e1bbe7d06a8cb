"""Records of the demo that pictures and browser tests go to: the live quote of Hazelmoor and around it."""

from typing import Any

from playwright.sync_api import Page


def landmarks(page: Page, url: str) -> dict[str, str]:
    """Paths of a draft, an issued quote, a deal, a customer, an order and its Route, as who is signed in sees them."""

    def ask(path: str) -> Any:
        return page.request.get(f"{url}/api/{path}").json()

    drafts = ask("quotes?state=draft&words=Hazelmoor&sort=-date")["rows"]
    # The demo's own: one of a deal, with many lines.
    draft = next((row for row in drafts if row["deal"]), drafts[0])
    quote = ask(f"revisions/{draft['revision_id']}")
    issued = ask("quotes?state=issued&sort=-date")["rows"][0]
    order = ask("orders?state=way&words=Marrow")["rows"][0]
    return {
        "quote": f"/quotes/{quote['id']}",
        "deal": f"/deals/{quote['deal_id']}",
        "customer": f"/customers/{quote['customer_id']}",
        "order": f"/orders/{order['id']}",
        "issued": f"/quotes/{issued['revision_id']}",
        "route": f"/route/order/{order['id']}",
    }
