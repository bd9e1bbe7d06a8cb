"""Records of the demo that pictures and browser tests go to: the live quote of Hazelmoor and around it."""

from typing import Any

from playwright.sync_api import Page


def landmarks(page: Page, url: str) -> dict[str, str]:
    """The paths of ``quote``, ``deal``, ``customer`` and ``order``, as the person signed in sees them."""

    def ask(path: str) -> Any:
        return page.request.get(f"{url}/api/{path}").json()

    draft = ask("quotes?state=draft&words=Hazelmoor&sort=-date")["rows"][0]
    quote = ask(f"revisions/{draft['revision_id']}")
    order = ask("orders?state=way&words=Marrow")["rows"][0]
    return {
        "quote": f"/quotes/{quote['id']}",
        "deal": f"/deals/{quote['deal_id']}",
        "customer": f"/customers/{quote['customer_id']}",
        "order": f"/orders/{order['id']}",
    }
