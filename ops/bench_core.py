"""The core by the shape of the document: each against a plain one of as many lines.

A plain document has items of its own a line, two list prices, a rule a line for every second, and a
rule over the whole. Every other shape is one in which a line's larger quantity moves others, or many
lines share what they ask.
"""

from collections.abc import Callable
from dataclasses import replace
from datetime import date
from decimal import Decimal
import json
import subprocess
import sys

from routecore.casefile import read_case
from routecore.pricing import (
    Agreement,
    Customer,
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
DAY = date(2026, 3, 2)
TERMS = DocumentTerms(on=DAY, currency="EUR")
ON_GROSS = replace(TERMS, discount=DocumentDiscount(percent=D(3), on="gross"))
TAXES = {
    "standard": (TaxComponent(name="VAT", percent=D(20)),),
    "reduced": (TaxComponent(name="VAT", percent=D(7)),),
}
Act = Callable[[], object]


def plain_terms() -> DocumentTerms:
    """A discount of three percent on the net."""
    return replace(TERMS, discount=DocumentDiscount(percent=D(3)))


def items_of(count: int) -> list[Item]:
    """Items of one group, in two tax categories."""
    return [
        Item(
            id=f"I{n}",
            units=Units(base="H87", factors={"BX": D(12)}),
            group="G",
            cost=D("5.10"),
            tax_category="reduced" if n % 3 else "standard",
        )
        for n in range(count)
    ]


def prices_of(items: list[Item], *, tiers: int = 2) -> list[PriceEntry]:
    """List prices that fall by quantity."""
    return [
        PriceEntry(
            item=item.id,
            unit="H87",
            price=D("10.37") + D(n % 89) / 100 - D("0.5") * tier,
            from_quantity=D(40 * tier),
        )
        for n, item in enumerate(items)
        for tier in range(tiers)
    ]


def tiers(*rows: tuple[int, str]) -> tuple[Tier, ...]:
    """Percents from quantities or amounts."""
    return tuple(Tier(start=D(start), percent=D(percent)) for start, percent in rows)


def lines_of(items: list[Item], count: int) -> list[Line]:
    """Lines of a few pieces; items are taken in turn."""
    return [
        Line(id=f"L{n}", item=items[n % len(items)], quantity=D(7 + n % 31), unit="H87")
        for n in range(count)
    ]


def pricing(
    terms: DocumentTerms, lines: list[Line], entries: list[PriceEntry], **book: object
) -> Act:
    """The document, ready to be priced."""
    lists = {"base": PriceList(id="base", currency="EUR", entries=tuple(entries))}
    made = PriceBook(lists=lists, customer=Customer(id="C"), **book)  # type: ignore[arg-type]
    return lambda: price_document(terms, made, lines, TAXES)


def plain(count: int) -> Act:
    """The document that the others are measured against."""
    items = items_of(count)
    rules = [
        DiscountRule(id=f"R{n}", item=item.id, tiers=tiers((5, "1.5"), (500, "3")))
        for n, item in enumerate(items[::2])
    ]
    whole = DiscountRule(
        id="WHOLE", measure="amount", over="document", tiers=tiers((1000, "1"), (10**7, "2"))
    )
    return pricing(plain_terms(), lines_of(items, count), prices_of(items), rules=[*rules, whole])


def gross_and_own_breaks(count: int) -> Act:
    """A discount on the gross, and a price break on every line."""
    items = items_of(count)
    return pricing(ON_GROSS, lines_of(items, count), prices_of(items))


def gross_by_line(count: int) -> Act:
    """The same without breaks, tax rounded by line."""
    items = items_of(count)
    terms = replace(ON_GROSS, tax_rounding="line")
    return pricing(terms, lines_of(items, count), prices_of(items, tiers=1))


def one_agreement(count: int, *, enough: bool) -> Act:
    """One discountable agreement that every line draws from, and a rule by line."""
    [item] = items_of(1)
    left = D(30 * count) if enough else D(11 * count)
    agreement = Agreement(
        id="FA",
        customer="C",
        currency="EUR",
        remaining=left,
        entry=PriceEntry(item=item.id, unit="H87", price=D(9), discountable=True),
    )
    rule = DiscountRule(id="R", item=item.id, tiers=tiers((5, "1"), (60, "3")))
    return pricing(
        TERMS, lines_of([item], count), prices_of([item]), agreements=[agreement], rules=[rule]
    )


def agreement_and_group(count: int, *, enough: bool) -> Act:
    """One agreement that every line draws from, and a rule over the group, which then moves."""
    [item] = items_of(1)
    left = D(30 * count) if enough else D(11 * count)
    agreement = Agreement(
        id="FA",
        customer="C",
        currency="EUR",
        remaining=left,
        entry=PriceEntry(item=item.id, unit="H87", price=D(9), discountable=True),
    )
    rule = DiscountRule(
        id="R",
        group="G",
        over="group",
        measure="amount",
        tiers=tiers((5, "1"), (300 * count, "3")),
    )
    return pricing(
        TERMS, lines_of([item], count), prices_of([item]), agreements=[agreement], rules=[rule]
    )


def graduated_group(count: int, *, line_rules: bool) -> Act:
    """A graduated rule over all lines' group, with price breaks or a rule by line."""
    items = items_of(count)
    group = DiscountRule(
        id="G",
        group="G",
        over="group",
        graduated=True,
        tiers=tiers((100, "1"), (1000, "2"), (10**6, "3")),
    )
    rules = [group]
    if line_rules:
        rules.append(DiscountRule(id="L", group="G", tiers=tiers((5, "1"), (60, "3"))))
    prices = prices_of(items, tiers=1 if line_rules else 2)
    return pricing(TERMS, lines_of(items, count), prices, rules=rules)


def group_rule_by_line(count: int) -> Act:
    """A rule over a group for every line, each touching one."""
    items = items_of(count)
    rules = [
        DiscountRule(id=f"R{n}", item=item.id, over="group", tiers=tiers((5, "1"), (60, "3")))
        for n, item in enumerate(items)
    ]
    return pricing(TERMS, lines_of(items, count), prices_of(items, tiers=1), rules=rules)


def agreement_by_line(count: int) -> Act:
    """An agreement for every line."""
    items = items_of(count)
    agreements = [
        Agreement(
            id=f"FA{n}",
            customer="C",
            currency="EUR",
            remaining=D(50),
            entry=PriceEntry(item=item.id, unit="H87", price=D(9), discountable=False),
        )
        for n, item in enumerate(items)
    ]
    return pricing(TERMS, lines_of(items, count), prices_of(items), agreements=agreements)


def one_item(count: int, *, entries: int) -> Act:
    """Every line of one item, which has very many prices."""
    [item] = items_of(1)
    rows = [
        PriceEntry(
            item=item.id,
            unit="H87",
            price=D("10.37") - D(n) / 1000,
            from_quantity=D(n),
        )
        for n in range(entries)
    ]
    return pricing(TERMS, lines_of([item], count), rows)


SHAPES: dict[str, Callable[[int], Act]] = {
    "a discount on the gross and price breaks": gross_and_own_breaks,
    "a discount on the gross, tax rounded by line": gross_by_line,
    "one agreement for all lines, with enough left": lambda n: one_agreement(n, enough=True),
    "one agreement for all lines, which runs out": lambda n: one_agreement(n, enough=False),
    "one agreement for all lines, and a rule over all": (
        lambda n: agreement_and_group(n, enough=True)
    ),
    "one agreement for all lines, which runs out, and a rule over all": (
        lambda n: agreement_and_group(n, enough=False)
    ),
    "a graduated rule over all, and price breaks": lambda n: graduated_group(n, line_rules=False),
    "a graduated rule over all, and a rule by line": lambda n: graduated_group(n, line_rules=True),
    "a rule over a group for each line": group_rule_by_line,
    "an agreement for each line": agreement_by_line,
    "one item with 4,000 prices": lambda n: one_item(n, entries=4000),
}


def case_with(*, items: int = 1, lists: int = 1, rules: int = 0, agreements: int = 0) -> object:
    """A case file's content with one line, and so much around it."""
    goods = [{"id": f"I{n}", "base_unit": "H87"} for n in range(items)]
    entry = {"item": "I0", "unit": "H87", "price": "10"}
    return {
        "document": {"date": "2026-03-02", "currency": "EUR"},
        "items": goods,
        "price_lists": [
            {"id": "base" if not n else f"P{n}", "currency": "EUR", "entries": [entry]}
            for n in range(lists)
        ],
        "discount_rules": [
            {"id": f"R{n}", "tiers": [{"from": "1", "percent": "1"}]} for n in range(rules)
        ],
        "agreements": [
            {**entry, "id": f"FA{n}", "customer": "C", "currency": "EUR", "remaining": "1"}
            for n in range(agreements)
        ],
        "taxes": {"standard": [{"name": "VAT", "percent": "20"}]},
        "lines": [{"id": "1", "item": "I0", "quantity": "1"}],
    }


def reading(**size: int) -> Act:
    """Reading such a case."""
    data = case_with(**size)
    return lambda: read_case(data)


def memory_of(shape: str, count: int) -> int:
    """Megabytes that a process uses at most that prices so many lines of a shape, or of a plain one."""
    code = (
        "from pathlib import Path\n"
        "from ops.bench_core import SHAPES, plain\n"
        f"SHAPES.get({json.dumps(shape)}, plain)({count})()\n"
        "print(Path('/proc/self/status').read_text())"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, check=True, text=True)
    # Not getrusage: a child starts with the greatest size of its parent.
    [peak] = [row for row in done.stdout.splitlines() if row.startswith("VmHWM:")]
    return int(peak.split()[1]) // 1024
