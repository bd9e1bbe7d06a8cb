"""What the application costs on a hundred times the demo, against one row and against ten times.

Part of ``make bench``; ``python -m ops.bench_growth`` alone. Two applications run beside each other, on
ten times and on a hundred times the demo (``--times``: another size and its tenth); every page is asked of both
in turn, as a rep and as the team's lead, so that noise hits both alike. A ratio is of medians. The customer is
the one who bought most often.
"""

import argparse
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
import os
from pathlib import Path
import re
from statistics import median
import sys
from time import perf_counter, sleep
from typing import Any

import httpx

from ops import database
from ops.grow import connect, make_house, stack_of
from ops.ports import Trouble
from ops.stack import Stack
from ops.visitor import signed_in

MANY = 100
ROUNDS = 9
#: What is aimed at: against one row, and against a tenth of the data.
MOST_ROWS, MOST_GROWTH = 10, 1.5
LISTS: dict[str, list[dict[str, str]]] = {
    "quotes": [
        *({"state": state} for state in ("", "draft", "issued", "lapsing", "lapsed", "declined", "ordered")),
        *({"words": words} for words in ("hazel", "hazelmoor frost", "orchards", "Q-26-00", "h", "qqqq")),
        *({"sort": sort} for sort in ("number", "customer", "-payable", "valid", "owner", "deal")),
        {"since": "2026-01-01", "until": "2026-03-31"},
        {"page": "40"},
        {"state": "ordered", "words": "hazel", "sort": "-net"},
    ],
    "orders": [
        *({"state": state} for state in ("", "way", "stumbled", "ready", "paid")),
        *({"words": words} for words in ("hazel", "orchards", "O-26-00", "qqqq")),
        *({"sort": sort} for sort in ("customer", "-payable", "wanted", "owner")),
        {"page": "40"},
    ],
    "deals": [
        *({"state": state} for state in ("open", "closed", "")),
        *({"state": "", "words": words} for words in ("hazel", "frost", "qqqq")),
        *({"state": "closed", "sort": sort} for sort in ("amount", "customer", "title", "stage", "owner")),
        {"month": "overdue"},
        {"confidence": "sure"},
        {"state": "", "least": "10000"},
    ],
    "customers": [
        {},
        *({"words": words} for words in ("hazel", "orchards", "maren", "C-10", "qqqq")),
        *({"sort": sort} for sort in ("town", "kind", "-limit", "owner")),
        *({"day": day} for day in ("unseen", "due", "overdue", "limit", "halt", "caution", "retired")),
    ],
    "likely-customers": [{"name": name} for name in ("Hazelmor Orchard", "Orchards", "Zquix Wyr")],
    "timetable": [{}, {"stale": "true"}],
    "timetable/sums": [{}],
    "leads": [{}, {"words": "orch"}],
    "today": [{}],
    "diary": [{}, {"whose": "all"}, {"kind": "open"}, {"whose": "all", "words": "trial"}],
    "mail-list": [{}, {"waits": "true"}, {"words": "hail net"}, {"words": "qqqq"}],
    "forecast": [{}, {"confidence": "likely"}],
    "forecast/outlook": [{}, {"chances": "learnt"}],
    "forecast/cuts": [{}, {"by": "customer"}, {"within": "quarter"}],
    "forecast/revenue": [{}],
    "forecast/calibration": [{}],
    "invoices": [{}, {"state": "late"}, {"words": "INV-26"}, {"sort": "customer"}],
    "backlog": [{}, {"sort": "-worth"}],
    "go": [{"words": words} for words in ("hazel", "orch", "frost", "Q-26-0012", "post", "qqqq", "h")],
    "items": [{"words": words} for words in ("", "post", "net", "POS-3", "qqqq")],
    "prices/records/entries": [{}, {"words": "post"}, {"page": "30"}],
    "prices/records/items": [{}, {"words": "net"}],
    "prices/records/customer_prices": [{}, {"words": "hazel"}],
    "prices/records/agreements": [{}],
    "quotes.csv": [{}],
    "orders.csv": [{}],
    "deals.csv": [{"state": ""}],
    "customers.csv": [{}],
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Finding:
    """What a page costs: milliseconds on the big house, and its ratios."""

    who: str
    page: str
    milliseconds: float
    to_row: float
    to_tenth: float

    @property
    def too_much(self) -> bool:
        """Whether it is more than is allowed; a file is as long as its rows, up to ten thousand."""
        return not self.is_file and (self.to_row > MOST_ROWS or self.to_tenth > MOST_GROWTH)

    @property
    def is_file(self) -> bool:
        """Whether all rows are asked for."""
        return ".csv" in self.page


@contextmanager
def running(stack: Stack) -> Iterator[Stack]:
    """The web server alone, on a house that is there."""
    stack.manage("collectstatic", "--no-input", "--verbosity", "0")
    stack.start("web")
    try:
        _wait(f"{stack.url}/api/session")
        yield stack
    finally:
        stack.stop()


def _wait(address: str) -> None:
    """Until there is an answer, whatever it says."""
    for _ in range(300):
        with suppress(httpx.TransportError):
            httpx.get(address, trust_env=False)
            return
        sleep(0.1)
    raise Trouble(f"{address} does not answer")


def big_buyer(house: str, who: str) -> int:
    """Of the customers that a person sees, the one with the most lines on invoices."""
    whose = "" if who in LEADS else f"AND u.username = '{who}'"
    with connect(house) as link:
        cursor = link.cursor()
        cursor.execute(
            "SELECT i.customer_id FROM ledger_invoiceline l JOIN ledger_invoice i ON i.id = l.invoice_id "
            "JOIN customers_customer c ON c.id = i.customer_id JOIN people_user u ON u.id = c.owner_id "
            f"WHERE l.order_line_id IS NOT NULL {whose} GROUP BY 1 ORDER BY COUNT(*) DESC, 1 LIMIT 1"
        )
        return int(cursor.fetchone()[0])


def pages_of(client: httpx.Client, heavy: int) -> dict[str, Callable[[], object]]:
    """Every page by its name."""
    found: dict[str, Callable[[], object]] = {}
    for path, queries in LISTS.items():
        for query in queries:
            name = path + ("?" + "&".join(f"{k}={v}" for k, v in query.items()) if query else "")
            found[name] = _get(client, f"/api/{path}", query)
    found |= _customer(client, heavy)
    quotes = client.get("/api/quotes", params={"state": "ordered"}).json()["rows"]
    found["a quote"] = _get(client, f"/api/revisions/{quotes[0]['revision_id']}", {})
    found["an order"] = _get(client, f"/api/orders/{quotes[0]['order_id']}", {})
    deals = client.get("/api/deals").json()["rows"]
    found["a deal"] = _get(client, f"/api/deals/{deals[0]['id']}", {})
    found |= _draft(client, heavy)
    return found


def _get(client: httpx.Client, path: str, query: dict[str, str]) -> Callable[[], object]:
    def ask() -> object:
        return client.get(path, params=query).raise_for_status()

    return ask


def _customer(client: httpx.Client, customer: int) -> dict[str, Callable[[], object]]:
    """The page of a big buyer, all that is asked for from there, and its regulars."""
    path = f"/api/customers/{customer}"
    documents = client.get(f"{path}/documents").json()["rows"]
    invoice = next(row["to"] for row in documents if row["kind"] == "invoice")
    found = {"a customer": _get(client, path, {}), "an invoice": _get(client, f"/api{invoice}", {})}
    for query in ({}, {"kind": "open"}, {"words": "wire"}, {"since": "2026-06-01"}):
        found[f"its documents {query}"] = _get(client, f"{path}/documents", query)
    found["what happened"] = _get(client, f"{path}/timeline", {})
    found["its items"] = _get(client, f"{path}/items", {})
    found["around its regulars"] = _get(client, f"{path}/regulars/around", {})
    for show in ("due", "bought", "group", "all"):
        found[f"its regulars, {show}"] = _get(client, f"{path}/regulars", {"show": show})
    return found


#: Lines of the promise that is asked for.
LINES = 200


def _promise(client: httpx.Client, path: str) -> Callable[[], object]:
    """What can be promised of two hundred lines."""
    items = client.get("/api/items", params={"most": 50}).json()
    lines = [
        {
            "key": f"p{n}",
            "item_id": items[n % len(items)]["id"],
            "quantity": "7",
            "unit": items[n % len(items)]["base_unit"],
        }
        for n in range(LINES)
    ]

    def ask() -> object:
        return client.post(f"{path}/promises", json={"lines": lines}).raise_for_status()

    return ask


def _draft(client: httpx.Client, customer: int) -> dict[str, Callable[[], object]]:
    """A quote of twelve lines: saved, and priced while typing."""
    made = client.post("/api/quotes", json={"customer_id": customer}).raise_for_status().json()
    items = client.get("/api/items", params={"most": 12}).json()
    lines = [
        {"key": f"k{n}", "item_id": item["id"], "quantity": "100", "unit": item["base_unit"]}
        for n, item in enumerate(items)
    ]
    body: dict[str, Any] = {
        "version": made["version"],
        "valid_until": made["valid_until"],
        "lines": lines,
    }
    path = f"/api/revisions/{made['id']}"

    def save() -> None:
        lines[0]["quantity"] = str(int(str(lines[0]["quantity"])) + 100)
        body["version"] = client.put(path, json=body).raise_for_status().json()["version"]

    def price() -> None:
        lines[0]["quantity"] = str(int(str(lines[0]["quantity"])) + 100)
        typed = {name: value for name, value in body.items() if name != "version"}
        client.post(f"{path}/price", json=typed).raise_for_status()

    save()
    promise = _promise(client, path)
    return {"a draft saved": save, "a draft priced": price, f"{LINES} lines promised": promise}


def timed(act: Callable[[], object]) -> float:
    """Milliseconds of one call."""
    start = perf_counter()
    act()
    return (perf_counter() - start) * 1000


def measure(few: Stack, many: Stack, name: str, only: str = "") -> Iterator[Finding]:
    """Every page of a person on both houses, or those whose names match ``only``."""
    with signed_in(few.url, name) as small, signed_in(many.url, name) as big:
        row = _get(big, "/api/stages", {})
        pages = pages_of(big, big_buyer(many.database_name, name))
        tenth = pages_of(small, big_buyer(few.database_name, name))
        for page, act in pages.items():
            if not re.search(only, page):
                continue
            taken = [(timed(act), timed(tenth[page]), timed(row)) for _ in range(ROUNDS + 1)][1:]
            here, there, one = (median(column) for column in zip(*taken, strict=True))
            yield Finding(name, page, here, here / one, here / there)


PEOPLE, LEADS = ("ilse", "petra"), ("petra",)


def growth(times: int, only: str) -> list[Finding]:
    """As the rep with the most, and as the lead of all."""
    sizes = (times // 10, times)
    houses = [stack_of(make_house(size), Path("var/growth") / str(size)) for size in sizes]
    try:
        with running(houses[0]) as few, running(houses[1]) as many:
            return [found for name in PEOPLE for found in measure(few, many, name, only)]
    finally:
        database.stop(database.of_growth())


def main() -> int:
    """Measure and print."""
    parser = argparse.ArgumentParser(prog="ops.bench_growth")
    parser.add_argument(
        "--times", type=int, default=MANY, help="how many times the demo, from 20 on"
    )
    parser.add_argument("--only", default="", help="pages whose names match an expression")
    given = parser.parse_args()
    times = given.times
    os.environ.setdefault("VIVID_DB_MEMORY", "1024")
    found = growth(times, given.only)
    for each in sorted(found, key=lambda f: -f.to_row):
        mark = "!" if each.too_much else " "
        print(
            f"{mark} {each.to_row:6.1f} × one row  {each.to_tenth:5.2f} × a tenth "
            f"{each.milliseconds:7.1f} ms  {each.who:6} {each.page}"
        )
    pages = [each for each in found if not each.is_file]
    rows = sum(each.to_row > MOST_ROWS for each in pages)
    grown = sum(each.to_tenth > MOST_GROWTH for each in pages)
    print(f"\n{len(pages)} pages on {times} times the demo: {rows} above {MOST_ROWS} × one row, "
          f"{grown} above {MOST_GROWTH} × a tenth of the data")  # fmt: skip
    return 0


if __name__ == "__main__":
    sys.exit(main())
