"""Speed as ratios within one run, so that a slow machine is slow on both sides.

``make bench``. Each figure is the best of several rounds. Prints a table; ``docs/performance.md``
keeps what it printed last.
"""

from collections.abc import Callable
from datetime import date
from decimal import Decimal
import gc
import json
from pathlib import Path
import subprocess
import sys
from time import perf_counter
from typing import Any

from config.paths import ROOT
from ops import bench_core, bench_forecast
from ops.bench_desk import key_to_totals
from ops.bench_house import fresh_house
from ops.bench_timetable import CHIPS, key_to_sums
from ops.visitor import signed_in
from routecore.pricing import (
    Customer,
    CustomerPrice,
    DiscountRule,
    Item,
    PriceBook,
    PriceEntry,
    PriceList,
    Tier,
)
from routecore.quantity import Units
from routecore.totals import (
    DocumentDiscount,
    DocumentTerms,
    Line,
    TaxComponent,
    price_document,
)

D = Decimal
CENT = D("0.01")


def best(*acts: Callable[[], object], rounds: int) -> list[float]:
    """The least seconds that one call of each took; they take turns, so that noise hits all alike."""
    taken: list[list[float]] = [[] for _ in acts]
    gc.collect()
    for _ in range(rounds):
        for act, seconds in zip(acts, taken, strict=True):
            start = perf_counter()
            act()
            seconds.append(perf_counter() - start)
    return [min(seconds) for seconds in taken]


def _entry(item: Item, tier: int) -> PriceEntry:
    return PriceEntry(
        item=item.id,
        unit="H87",
        price=D("10.37") - D("0.5") * tier,
        from_quantity=D(100 * tier),
        valid_from=date(2026, 1, 1),
    )


def book_of(items: list[Item], *, entries: int, rules: int, prices: int) -> PriceBook:
    """A book with so many list entries, rules and customer prices; the items' own come first.

    Each item has two tiers on the list; every second is touched by a percent by quantity, all by one
    over the document. The rest names items that no line has.
    """
    rows = [_entry(item, tier) for item in items for tier in range(2)]
    rows += [
        PriceEntry(item=f"X{n}", unit="H87", price=D("3.10")) for n in range(entries - len(rows))
    ]
    found = [
        DiscountRule(
            id=f"R{n}",
            item=items[2 * n].id if 2 * n < len(items) else f"X{n}",
            tiers=(Tier(start=D(5), percent=D("1.5")), Tier(start=D(500), percent=D(3))),
        )
        for n in range(rules - 1)
    ]
    whole = DiscountRule(
        id="WHOLE",
        measure="amount",
        over="document",
        tiers=(Tier(start=D(1000), percent=D(1)), Tier(start=D(10**7), percent=D(2))),
    )
    return PriceBook(
        lists={"base": PriceList(id="base", currency="EUR", entries=tuple(rows))},
        customer=Customer(id="C"),
        customer_prices=[
            CustomerPrice(
                customer="C",
                currency="EUR",
                entry=PriceEntry(item=f"X{n}", unit="H87", price=D("2.90"), discountable=False),
            )
            for n in range(prices)
        ],
        rules=[*found, whole],
    )


def core_quote(
    lines: int, *, entries: int = 5000, rules: int = 500, prices: int = 200
) -> Callable[[], object]:
    """Pricing a quote of so many lines against a book of that size."""
    items = [
        Item(id=f"I{n}", units=Units(base="H87", factors={"BX": D(12)}), cost=D("5.10"))
        for n in range(lines)
    ]
    book = book_of(items, entries=entries, rules=rules, prices=prices)
    rows = [
        Line(id=item.id, item=item, quantity=D(7 + n), unit="H87", discount_percent=D("2.5"))
        for n, item in enumerate(items)
    ]
    terms = DocumentTerms(
        on=date(2026, 3, 2), currency="EUR", discount=DocumentDiscount(percent=D(3))
    )
    taxes = {"standard": (TaxComponent(name="VAT", percent=D(20)),)}
    return lambda: price_document(terms, book, rows, taxes)


def bare_loop(lines: int) -> Callable[[], object]:
    """The multiplications and roundings that the same answer takes, and nothing else.

    Per line: amount, two percents and a typed one, net, cost, share of the discount, margin; then the
    same again for the larger quantity of each next break (price, rule, document), and for what the
    present quantity would cost at its terms.
    """
    cent, hundred = CENT, D(100)

    def net(quantity: Decimal, price: Decimal) -> Decimal:
        left = quantity * price / D(1)
        left -= left * D("1.5") / hundred
        left -= left * D(1) / hundred
        return (left - left * D("2.5") / hundred).quantize(cent)

    def run() -> Decimal:
        total = D(0)
        for n in range(lines):
            quantity = D(7 + n)
            total += net(quantity, D("10.37"))
            (quantity * D("10.37")).quantize(cent)
            cost = (quantity * D("5.10")).quantize(cent)
            share = (total * D(3) / hundred / D(lines)).quantize(cent)
            ((total - share - cost) * hundred / total).quantize(D("0.1"))
            for step in range(3):
                larger = (D(100 * step + 100) / D(1)).to_integral_value() * D(1) / D(1)
                new = total - net(larger, D("9.87")) + net(quantity, D("9.87"))
                (new * D(3) / hundred).quantize(cent)
        return (total * D(20) / hundred).quantize(cent)

    return run


def batch(cases: int) -> Callable[[], object]:
    """``python -m routecore price`` over a file of so many cases, as a process of its own."""
    case = json.loads(Path("tests/core/cases/orchard.json").read_text(encoding="utf-8"))
    file = Path(f"var/bench-{cases}.json")
    file.write_text(json.dumps([case] * cases), encoding="utf-8")
    command = [sys.executable, "-m", "routecore", "price", str(file)]
    return lambda: subprocess.run(command, capture_output=True, check=True)


Milliseconds = tuple[float, float]


def over_http() -> tuple[list[float], list[Milliseconds], dict[str, Milliseconds]]:
    """Seconds of saving a 200-line draft, pricing it while typing, and fetching one row; milliseconds from a key to
    new totals in the browser, with 300 lines and with 10; and from an arrow key to what moves on the Timetable."""
    with fresh_house() as stack:
        with signed_in(stack.url, "ilse") as client:
            save, price = _draft(client)
            row = lambda: client.get("/api/session").raise_for_status()  # noqa: E731
            seconds = best(save, price, row, rounds=40)
        return seconds, key_to_totals(stack.url, 300, 10), key_to_sums(stack.url, CHIPS)


def _draft(client: Any) -> tuple[Callable[[], None], Callable[[], None]]:
    customer = client.get("/api/customers").json()["rows"][0]["id"]
    quote = client.post("/api/quotes", json={"customer_id": customer}).json()
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
        answer = client.put(path, json=body)
        answer.raise_for_status()
        body["version"] = answer.json()["version"]

    def price() -> None:
        body["lines"][7]["quantity"] = str(int(body["lines"][7]["quantity"]) + 100)
        typed = {name: value for name, value in body.items() if name != "version"}
        client.post(f"{path}/price", json=typed).raise_for_status()

    save()
    return save, price


def by_shape() -> list[tuple[str, float]]:
    """Documents of a thousand lines of every shape, and case files of eight times the size."""
    acts = {name: shape(1000) for name, shape in bench_core.SHAPES.items()}
    base, *seconds = best(bench_core.plain(1000), *acts.values(), rounds=4)
    found = [
        (f"core: 1,000 lines, {name}, against plain ones (aim: 3)", second / base)
        for name, second in zip(acts, seconds, strict=True)
    ]
    for part in ("items", "lists", "rules", "agreements"):
        few, many = best(
            bench_core.reading(**{part: 1000}), bench_core.reading(**{part: 8000}), rounds=4
        )
        found.append((f"reading a case of 8,000 {part} against 1,000 (linear: 8)", many / few))
    return found


def memory() -> list[tuple[str, int]]:
    """Megabytes at most, of a process that prices five thousand lines."""
    return [(name, bench_core.memory_of(name, 5000)) for name in ("plain ones", *bench_core.SHAPES)]


def tell(results: list[tuple[str, float]], megabytes: list[tuple[str, int]]) -> None:
    """Ratios first, then what was held in memory."""
    for name, ratio in results:
        print(f"{ratio:8.1f} ×  {name}")
    for name, size in megabytes:
        print(f"{size:8} MB  5,000 lines, {name} (aim: under 300)")
    print()


def tell_seconds(taken: list[tuple[str, float]]) -> None:
    """What some acts took here."""
    for name, seconds in taken:
        print(f"{name[0].upper()}{name[1:]}: {seconds:.2f} s here")


def tell_browser(desk: Milliseconds, board: dict[str, Milliseconds]) -> None:
    """What a key takes until something is seen."""
    key, slow = desk
    print(
        f"Key to new totals, 300 lines: median {key:.0f} ms, nine of ten under {slow:.0f} ms here"
    )
    for what, name in (("the moved chip", "shown"), ("the new sums", "taken")):
        middle, most = board[name]
        print(
            f"Timetable of {CHIPS:,} deals, key to {what}: median {middle:.0f} ms, "
            f"nine of ten under {most:.0f} ms here (aim: 100)"
        )


def main() -> int:
    """Measure and print."""
    shapes, megabytes = by_shape(), memory()
    core, bare, twice, small = best(
        core_quote(200),
        bare_loop(200),
        core_quote(400),
        core_quote(200, entries=400, rules=102, prices=0),
        rounds=40,
    )
    thousand, ten_thousand = best(batch(1000), batch(10_000), rounds=1)
    deals, taken = bench_forecast.grown(best)
    (saved, typed, row), ((key, slow), (key_of_ten, _)), board = over_http()
    results = [
        ("core: 200 lines, 5,000 entries, 500 rules, against a bare loop (aim: 8)", core / bare),
        ("core: 400 lines against 200 (linear: 2)", twice / core),
        (
            "core: that book against one that holds only what touches the quote (aim: 1)",
            core / small,
        ),
        (
            "HTTP: 200-line draft saved, priced and answered, against an endpoint that fetches one row",
            saved / row,
        ),
        ("HTTP: the same draft priced while typing, not stored, against that row", typed / row),
        ("batch: 10,000 cases against 1,000 (linear: 10)", ten_thousand / thousand),
        *shapes,
        *deals,
        ("browser: key to new totals with 300 lines, against 10 lines", key / key_of_ten),
    ]
    tell(results, megabytes)
    print(
        f"200 lines over HTTP: saved in {saved * 1000:.0f} ms, priced in {typed * 1000:.0f} ms here"
    )
    tell_seconds([("10,000 cases", ten_thousand), *taken])
    tell_browser((key, slow), board)
    (ROOT / "var/bench.json").write_text(json.dumps(dict(results), indent=1))
    return 0


if __name__ == "__main__":
    sys.exit(main())
