"""Speed as ratios within one run, so that a slow machine is slow on both sides.

``make bench``. Each figure is the best of several rounds. Prints a table; ``docs/performance.md``
keeps what it printed last.
"""

from collections.abc import Callable
from datetime import date
from decimal import Decimal
import json
import os
from pathlib import Path
import sys
from time import perf_counter
from typing import Any

from ops import database
from ops.stack import of_browser_tests
from routecore.pricing import Item, PriceBook, PriceEntry, PriceList
from routecore.quantity import Units
from routecore.totals import DocumentTerms, Line, TaxComponent, price_document

D = Decimal
CENT = D("0.01")


def best(act: Callable[[], object], rounds: int) -> float:
    """The least seconds that one call took."""
    taken = []
    for _ in range(rounds):
        start = perf_counter()
        act()
        taken.append(perf_counter() - start)
    return min(taken)


def core_quote(lines: int) -> Callable[[], object]:
    """Pricing a quote of so many lines; every item with a break and a validity."""
    items = [
        Item(id=f"I{n}", units=Units(base="H87", factors={"BX": D(12)}), cost=D("5.10"))
        for n in range(lines)
    ]
    entries = tuple(
        PriceEntry(
            item=item.id,
            unit="H87",
            price=D("10.37") - D("0.5") * tier,
            from_quantity=D(100 * tier),
            valid_from=date(2026, 1, 1),
        )
        for item in items
        for tier in range(2)
    )
    book = PriceBook(lists={"base": PriceList(id="base", currency="EUR", entries=entries)})
    rows = [
        Line(id=item.id, item=item, quantity=D(7 + n), unit="H87", discount_percent=D("2.5"))
        for n, item in enumerate(items)
    ]
    terms = DocumentTerms(on=date(2026, 3, 2), currency="EUR")
    taxes = {"standard": (TaxComponent(name="VAT", percent=D(20)),)}
    return lambda: price_document(terms, book, rows, taxes)


def bare_loop(lines: int) -> Callable[[], object]:
    """The multiplications and roundings that those lines need, and nothing else."""
    rows = [(D(7 + n), D("10.37"), D("2.5"), D("5.10")) for n in range(lines)]

    def run() -> Decimal:
        total = D(0)
        for quantity, price, percent, cost in rows:
            exact = quantity * price
            off = exact * percent / 100
            exact.quantize(CENT)
            total += (exact - off).quantize(CENT)
            (quantity * cost).quantize(CENT)
        return (total * 20 / 100).quantize(CENT)

    return run


def over_http() -> tuple[float, float]:
    """Seconds of saving and pricing a 200-line draft, and of the list of stages."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings_test")
    import httpx

    stack = of_browser_tests(Path("var/bench"))
    stack.refuse_busy_ports()
    database.start(stack.database)
    _fresh_database(stack.database.port, stack.database_name)
    try:
        stack.bring_up()
        with httpx.Client(base_url=stack.url, trust_env=False, timeout=30) as client:
            return _draft(client), best(lambda: client.get("/api/stages").raise_for_status(), 60)
    finally:
        stack.stop()


def _fresh_database(port: int, name: str) -> None:
    import MySQLdb

    from config.paths import load_secrets

    link = MySQLdb.connect(
        host="127.0.0.1", port=port, user="vividroute", password=load_secrets()["database"]
    )
    link.query(f"DROP DATABASE IF EXISTS {name}")
    link.query(f"CREATE DATABASE {name} CHARACTER SET utf8mb4 COLLATE utf8mb4_uca1400_as_ci")
    link.close()


def _draft(client: Any) -> float:
    client.post("/api/session", json={"username": "ilse", "password": "orchard-demo"})
    token = {"X-CSRFToken": client.cookies["vivid_csrf"], "Referer": str(client.base_url)}
    customer = client.get("/api/customers").json()["rows"][0]["id"]
    quote = client.post("/api/quotes", json={"customer_id": customer}, headers=token).json()
    items = client.get("/api/items", params={"most": 50}).json()
    body = {
        "version": quote["version"],
        "valid_until": quote["valid_until"],
        "lines": [
            {
                "key": f"k{n}",
                "item_id": items[n % len(items)]["id"],
                "quantity": str(100 * (n + 1)),
                "unit": items[n % len(items)]["base_unit"],
            }
            for n in range(200)
        ],
    }
    path = f"/api/revisions/{quote['id']}"

    def save() -> None:
        body["lines"][7]["quantity"] = str(int(body["lines"][7]["quantity"]) + 100)
        answer = client.put(path, json=body, headers=token)
        answer.raise_for_status()
        body["version"] = answer.json()["version"]

    save()
    return best(save, 20)


def main() -> int:
    """Measure and print."""
    core, bare = best(core_quote(200), 30), best(bare_loop(200), 200)
    twice = best(core_quote(400), 20)
    saved, row = over_http()
    results = [
        ("core: 200 lines priced, against a bare loop of the same multiplications", core / bare),
        ("core: 400 lines against 200", twice / core),
        ("HTTP: 200-line draft saved, priced and answered, against one short list", saved / row),
    ]
    for name, ratio in results:
        print(f"{ratio:8.1f} ×  {name}")
    print(f"\n200-line draft over HTTP: {saved * 1000:.0f} ms here (aim: under 100)")
    Path("var").mkdir(exist_ok=True)
    Path("var/bench.json").write_text(json.dumps(dict(results), indent=1))
    return 0


if __name__ == "__main__":
    sys.exit(main())
