"""The order lines of a public benchmark, priced in bulk.

Source: TPC-H (a decision-support benchmark for databases) at scale factor 0.01, as the packages
``duckdb`` and ``duckdb-extension-tpch`` generate it, with the benchmark's own published answer to its
query 1, which they carry. Nothing is fetched when the test runs.
"""

from collections.abc import Iterator
from decimal import Decimal
from itertools import groupby
from operator import itemgetter
from pathlib import Path

import duckdb
import duckdb_extension_tpch  # type: ignore[import-untyped]
import pytest

from routecore.pricing import Item, PriceBook, PriceEntry, PriceList
from routecore.quantity import Units
from routecore.totals import DocumentTerms, Line, PricedDocument, TaxComponent, price_document
from tests.core.build import DAY

D = Decimal
#: A currency with four decimals (ISO 4217), in which price × quantity × (1 − discount) is exact.
FOUR_DECIMALS = "CLF"
RATES = range(9)
TAXES = {str(n): (TaxComponent(name="Tax", percent=D(n)),) for n in RATES}
ITEMS = {
    n: Item(id=f"GOODS{n}", units=Units(base="H87", factors={}), tax_category=str(n)) for n in RATES
}
Row = tuple[int, Decimal, Decimal, Decimal, int]


@pytest.fixture(scope="module")
def orders() -> Iterator[duckdb.DuckDBPyConnection]:
    """The benchmark's tables."""
    offline: dict[str, str | bool | int | float | list[str]] = {
        "autoinstall_known_extensions": False,
        "autoload_known_extensions": False,
    }
    with duckdb.connect(config=offline) as link:
        folder = Path(duckdb_extension_tpch.__file__).parent
        [extension] = folder.glob("extensions/*/*.duckdb_extension")
        link.execute(f"LOAD '{extension}'")
        link.execute("CALL dbgen(sf = 0.01)")
        yield link


def priced(currency: str, rows: list[Row]) -> PricedDocument:
    """A document of (quantity, price, discount percent, tax percent)."""
    book = PriceBook(
        lists={
            "base": PriceList(
                id="base",
                currency=currency,
                entries=tuple(
                    PriceEntry(item=item.id, unit="H87", price=D(1)) for item in ITEMS.values()
                ),
            )
        }
    )
    lines = [
        Line(
            id=str(n),
            item=ITEMS[tax],
            quantity=quantity,
            unit="H87",
            price=price,
            discount_percent=discount,
        )
        for n, (_, quantity, price, discount, tax) in enumerate(rows)
    ]
    return price_document(DocumentTerms(on=DAY, currency=currency), book, lines, TAXES)


LINES = """
    SELECT l_orderkey, l_quantity, CAST(l_extendedprice / l_quantity AS DECIMAL(12, 2)),
           CAST(l_discount * 100 AS DECIMAL(5, 2)), CAST(l_tax * 100 AS INTEGER)
    FROM lineitem
"""


def test_the_published_sums_of_query_1_come_out_to_the_last_digit(
    orders: duckdb.DuckDBPyConnection,
) -> None:
    """Net: exact. With tax: half a unit of the fourth decimal for each rate of each document."""
    answer = orders.execute(
        "SELECT answer FROM tpch_answers() WHERE query_nr = 1 AND scale_factor = 0.01"
    ).fetchone()
    assert answer is not None
    published = [line.split("|") for line in answer[0].strip().split("\n")[1:]]
    assert len(published) == 4
    for flag, status, quantity, base, net, charged, *_, count in published:
        rows = orders.execute(
            f"{LINES} WHERE l_shipdate <= DATE '1998-09-02' AND l_returnflag = ? "
            "AND l_linestatus = ?",
            [flag, status],
        ).fetchall()
        documents = [priced(FOUR_DECIMALS, rows[n : n + 500]) for n in range(0, len(rows), 500)]
        lines = [line for document in documents for line in document.lines]
        assert len(lines) == int(count)
        assert sum(row[1] for row in rows) == D(quantity)
        assert sum(line.amount or 0 for line in lines) == D(base)
        assert sum(document.totals.net for document in documents) == D(net)
        gross = sum(d.totals.net + d.totals.tax_total for d in documents)
        assert abs(gross - D(charged)) <= D("0.00005") * len(RATES) * len(documents)


def test_every_fifth_order_in_cents_as_another_engine_rounds_it(
    orders: duckdb.DuckDBPyConnection,
) -> None:
    """DuckDB rounds decimals half away from zero, as we do: net by line, tax by rate."""
    expected = orders.execute("""
        WITH nets AS (
            SELECT l_orderkey, l_tax, sum(round(l_extendedprice * (1 - l_discount), 2)) AS net
            FROM lineitem GROUP BY ALL
        )
        SELECT l_orderkey, sum(net), sum(round(CAST(net * l_tax AS DECIMAL(18, 4)), 2))
        FROM nets GROUP BY l_orderkey
    """).fetchall()
    sums = {key: (net, tax) for key, net, tax in expected}
    rows = orders.execute(f"{LINES} ORDER BY l_orderkey, l_linenumber").fetchall()
    whole = [(key, list(lines)) for key, lines in groupby(rows, key=itemgetter(0))]
    assert len(whole) == 15_000
    for key, lines in whole[::5]:
        totals = priced("EUR", lines).totals
        assert (totals.net, totals.tax_total) == sums[key], key


def test_the_benchmarks_own_order_totals_are_ours_cut_to_cents(
    orders: duckdb.DuckDBPyConnection,
) -> None:
    """TPC-H cuts where we round: the total of an order is the sum of cut cents of its lines."""
    totals = dict(orders.execute("SELECT o_orderkey, o_totalprice FROM orders").fetchall())
    rows = orders.execute(f"{LINES} WHERE l_orderkey % 50 = 1 ORDER BY l_orderkey").fetchall()
    for key, lines in groupby(rows, key=itemgetter(0)):
        priced_lines = priced(FOUR_DECIMALS, own := list(lines)).lines
        cut = sum(
            int(int((line.net or D(0)) * 100) * (100 + row[4]) / D(100))
            for line, row in zip(priced_lines, own, strict=True)
        )
        assert D(cut) / 100 == totals[key], key
