"""Totals, by the rule they follow."""

from collections.abc import Callable
from decimal import ROUND_DOWN, Decimal, localcontext

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.errors import InvalidInput, NoRule
from routecore.totals import (
    DocumentTerms,
    Line,
    PricedDocument,
    TaxComponent,
    price_alone,
    price_document,
)
from tests.core.build import DAY, VAT, D, book, entry, item, line, price

WIRE = item("WIRE", base="MTR", factors={"RL": D(100)}, cost=D("0.19"))
POST = item("POST", cost=D("21.10"))
PRICES = book(entry("41.50"), entry("0.38", code="WIRE", unit="MTR"))


def example() -> PricedDocument:
    lines = [
        line(POST, "20", discount_percent=D(5)),
        line(WIRE, "3", id="2", unit="RL", discount_percent=D("12.5")),
    ]
    return price(lines, PRICES, percent="3", step="0.05")


example_as_expected = example()


def test_the_example_of_the_rules_comes_out_to_the_cent() -> None:
    totals = example().totals
    assert [totals.lines_net, totals.document_discount, totals.net, totals.tax_total] == [
        D("888.25"),
        D("26.65"),
        D("861.60"),
        D("172.32"),
    ]
    assert [totals.gross, totals.payable_rounding, totals.payable] == [
        D("1033.92"),
        D("-0.02"),
        D("1033.90"),
    ]


def test_the_document_discount_is_shared_over_the_lines_exactly() -> None:
    assert [row.document_discount_share for row in example().lines] == [D("23.66"), D("2.99")]


def test_margin_is_taken_after_all_discounts() -> None:
    document = example()
    assert (document.lines[0].margin, document.lines[0].margin_percent) == (D("342.84"), D("44.8"))
    assert (document.totals.margin, document.totals.margin_percent) == (D("382.60"), D("44.4"))


def test_an_unknown_cost_gives_an_unknown_margin() -> None:
    document = price([line(item(), "1"), line(WIRE, "1", id="2")], PRICES)
    assert document.lines[0].margin is None
    assert document.totals.margin is None


def test_alternatives_and_options_are_computed_and_not_added() -> None:
    lines = [
        line(POST, "2"),
        line(POST, "5", id="2", kind="alternative", alternative_to="1"),
        line(POST, "1", id="3", kind="optional"),
    ]
    document = price(lines, PRICES)
    assert document.lines[1].net == D("207.50")
    assert document.totals.lines_net == D("83.00")


def test_a_typed_price_wins_and_keeps_what_the_rules_gave() -> None:
    [priced] = price([line(POST, "2", price=D("39.90"))], PRICES).lines
    assert (priced.source, priced.net) == ("typed", D("79.80"))
    assert (priced.passed_over[0].reason, priced.passed_over[0].price) == ("replaced", D("41.50"))


def test_without_a_price_the_line_needs_one_and_is_not_zero() -> None:
    document = price([line(item("NEW"), "1")], PRICES)
    assert document.lines[0].net is None
    assert [problem.code for problem in document.problems] == ["needs_price"]


def test_a_line_discount_never_exceeds_its_line() -> None:
    [priced] = price([line(POST, "1", discount_amount=D(100))], PRICES).lines
    assert (priced.discount, priced.net) == (D("41.50"), D("0.00"))


def test_a_document_discount_never_exceeds_the_net() -> None:
    assert price([line(POST, "1")], PRICES, amount="100").totals.net == D("0.00")


def test_taxes_of_two_categories_are_rounded_apart() -> None:
    bark = item("BARK", tax_category="reduced")
    prices = book(entry("0.33"), entry("0.35", code="BARK"))
    taxes = {
        "standard": (TaxComponent(name="VAT", percent=D(20)),),
        "reduced": (TaxComponent(name="VAT", percent=D(10)),),
    }
    rows = price([line(POST, "1"), line(bark, "1", id="2")], prices, taxes=taxes).totals.tax
    assert [(r.category, r.base, r.amount) for r in rows] == [
        ("standard", D("0.33"), D("0.07")),
        ("reduced", D("0.35"), D("0.04")),
    ]


def test_a_running_component_lies_on_net_plus_the_first() -> None:
    taxes = {
        "standard": (
            TaxComponent(name="Levy", percent=D(5)),
            TaxComponent(name="VAT", percent=D(10), on="running"),
        )
    }
    rows = price([line(POST, "2")], PRICES, taxes=taxes).totals.tax
    assert [(r.base, r.amount) for r in rows] == [(D("83.00"), D("4.15")), (D("87.15"), D("8.72"))]


def test_tax_by_line_rounds_each_line() -> None:
    prices = book(entry("0.13"))
    lines = [line(POST, "1"), line(POST, "1", id="2")]
    assert price(lines, prices).totals.tax_total == D("0.05")
    assert price(lines, prices, tax_rounding="line").totals.tax_total == D("0.06")


def test_a_category_without_tax_adds_none() -> None:
    totals = price([line(POST, "2")], PRICES, taxes={"standard": ()}).totals
    assert (totals.gross, totals.tax[0].name) == (D("83.00"), "")


def test_an_unknown_tax_category_is_no_rule() -> None:
    with pytest.raises(NoRule, match="unknown_tax_category"):
        price([line(POST, "1")], PRICES, taxes={})


@pytest.mark.parametrize(
    ("build", "code"),
    [
        (lambda: line(POST, "0"), "not_positive"),
        (lambda: line(POST, "-1"), "not_positive"),
        (lambda: line(POST, "1", unit="RL"), "unknown_unit"),
        (lambda: line(POST, "1", discount_percent=D("100.01")), "out_of_range"),
        (lambda: line(POST, "1", discount_amount=D(-1)), "negative"),
        (lambda: line(POST, "1", price=D(-1)), "negative"),
        (lambda: line(POST, "1", kind="gift"), "unknown_choice"),
    ],
)
def test_a_line_that_cannot_be_is_refused(build: Callable[[], Line], code: str) -> None:
    with pytest.raises(InvalidInput, match=code):
        build()


def test_two_lines_cannot_share_an_id() -> None:
    with pytest.raises(InvalidInput, match="double_id"):
        price([line(POST, "1"), line(POST, "2")], PRICES)


money = st.decimals("0.01", "9999.99", places=2)
documents = st.lists(
    st.tuples(st.decimals("0.001", "5000", places=3), money, st.integers(0, 100), st.booleans()),
    min_size=1,
    max_size=12,
)


def build_lines(rows: list[tuple[Decimal, Decimal, int, bool]]) -> list[Line]:
    return [
        line(
            item(f"I{n}", tax_category="standard" if standard else "reduced"),
            str(quantity),
            id=str(n),
            price=unit_price,
            discount_percent=D(percent),
        )
        for n, (quantity, unit_price, percent, standard) in enumerate(rows)
    ]


TWO = {
    "standard": (TaxComponent(name="VAT", percent=D(20)),),
    "reduced": (TaxComponent(name="VAT", percent=D("5.5")),),
}


@given(rows=documents, percent=st.integers(0, 100))
def test_the_totals_obey_en16931_br_co_10_to_17(
    rows: list[tuple[Decimal, Decimal, int, bool]], percent: int
) -> None:
    document = price(build_lines(rows), book(), percent=str(percent), taxes=TWO)
    t = document.totals
    assert t.lines_net == sum(row.net or 0 for row in document.lines)  # BR-CO-10
    assert t.document_discount == sum(row.document_discount_share for row in document.lines)
    assert t.net == t.lines_net - t.document_discount + t.charges  # BR-CO-13
    assert t.tax_total == sum(row.amount for row in t.tax)  # BR-CO-14
    assert t.gross == t.net + t.tax_total  # BR-CO-15
    assert t.payable == t.gross + t.payable_rounding  # BR-CO-16
    assert sum(row.base for row in t.tax) == t.net
    for row in t.tax:  # BR-CO-17
        assert abs(row.amount - row.base * row.percent / 100) <= D("0.005")


@given(rows=documents, seed=st.randoms(use_true_random=False))
def test_the_order_of_lines_does_not_matter(
    rows: list[tuple[Decimal, Decimal, int, bool]], seed: object
) -> None:
    lines = build_lines(rows)
    mixed = list(lines)
    seed.shuffle(mixed)  # type: ignore[attr-defined]
    one = price(lines, book(), percent="7", taxes=TWO).totals
    other = price(mixed, book(), percent="7", taxes=TWO).totals
    assert (one.lines_net, one.document_discount, one.net) == (
        other.lines_net,
        other.document_discount,
        other.net,
    )


def test_the_callers_decimal_context_changes_nothing() -> None:
    with localcontext() as ambient:
        ambient.prec = 4
        ambient.rounding = ROUND_DOWN
        assert example() == example_as_expected


@given(
    st.decimals("0.1", "9999", places=1),
    st.sampled_from([None, D(5), D("33.3333")]),
    st.sampled_from(["MTR", "RL"]),
)
def test_a_line_alone_is_priced_as_a_document_of_it_alone(
    quantity: Decimal, percent: Decimal | None, unit: str
) -> None:
    prices = book(entry("0.38", code="WIRE", unit="MTR"))
    alone = line(WIRE, str(quantity), unit=unit, discount_percent=percent)
    terms = DocumentTerms(on=DAY, currency="EUR")
    assert price_alone(terms, prices, alone) == price_document(terms, prices, [alone], VAT).lines[0]
