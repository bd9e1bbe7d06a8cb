"""Document discount on the gross, charges, solving backwards, limits."""

from decimal import Decimal
from typing import Any

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.errors import InvalidInput
from routecore.totals import (
    Charge,
    DocumentDiscount,
    DocumentTerms,
    Limits,
    Line,
    TaxComponent,
    exceeded,
    solve_document,
    solve_line,
)
from tests.core.build import DAY, VAT, D, book, entry, item, line, price

POST = item(cost=D("6.10"), group="posts")
BARK = item("BARK", tax_category="reduced", cost=D(2), group="bark")
PRICES = book(entry("9.99"), entry("3.33", code="BARK"))
TAXES = {
    "standard": (TaxComponent(name="VAT", percent=D(20)),),
    "reduced": (TaxComponent(name="VAT", percent=D(10)),),
    "double": (
        TaxComponent(name="Levy", percent=D(5)),
        TaxComponent(name="VAT", percent=D("9.975"), on="running"),
    ),
}


def test_a_percent_on_the_gross_falls_on_the_gross() -> None:
    totals = price([line(POST, "10")], PRICES, percent="10", on="gross").totals
    assert (totals.document_discount, totals.net, totals.gross, totals.payable) == (
        D("9.99"),
        D("89.91"),
        D("107.89"),
        D("107.89"),
    )


def test_what_no_net_discount_reaches_goes_to_the_payable_rounding() -> None:
    totals = price([line(POST, "1")], PRICES, amount="0.03", on="gross").totals
    assert totals.payable == D("11.96")
    assert totals.gross + totals.payable_rounding == totals.payable
    assert abs(totals.payable_rounding) <= D("0.01")


documents = st.lists(
    st.tuples(
        st.sampled_from(["standard", "reduced", "double"]),
        st.decimals("0.01", "999.99", places=2),
        st.integers(1, 40),
    ),
    min_size=1,
    max_size=8,
)


def lines_of(rows: list[tuple[str, Decimal, int]]) -> list[Line]:
    return [
        line(item(f"I{n}", tax_category=category), str(quantity), id=str(n), price=value)
        for n, (category, value, quantity) in enumerate(rows)
    ]


@given(rows=documents, percent=st.decimals(0, 100, places=2))
def test_the_payable_falls_by_exactly_the_percent_on_the_gross(
    rows: list[tuple[str, Decimal, int]], percent: Decimal
) -> None:
    lines = lines_of(rows)
    gross = price(lines, book(), taxes=TAXES).totals.gross
    document = price(lines, book(), taxes=TAXES, percent=str(percent), on="gross")
    totals = document.totals
    off = (gross * percent / 100).quantize(D("0.01"), "ROUND_HALF_UP")
    assert totals.payable == gross - off
    components = len(totals.tax)
    assert abs(totals.payable_rounding) <= D("0.01") * ((components + 1) // 2)
    assert sum(row.document_discount_share for row in document.lines) == totals.document_discount


def test_charges_add_with_their_own_tax_and_take_no_discount() -> None:
    charges = (
        Charge(name="Freight", amount=D("12.50"), tax_category="reduced"),
        Charge(name="Packing", percent=D(2)),
    )
    document = price([line(POST, "10")], PRICES, percent="10", charges=charges, taxes=TAXES)
    totals = document.totals
    assert [(row.name, row.amount) for row in totals.charge_rows] == [
        ("Freight", D("12.50")),
        ("Packing", D("2.00")),
    ]
    assert (totals.document_discount, totals.charges, totals.net) == (
        D("9.99"),
        D("14.50"),
        D("104.41"),
    )
    assert [(row.category, row.base) for row in totals.tax] == [
        ("standard", D("91.91")),
        ("reduced", D("12.50")),
    ]
    assert totals.margin == D("28.91")  # 89.91 less 61.00: charges earn nothing


TERMS = DocumentTerms(on=DAY, currency="EUR")
LINES = [line(POST, "10"), line(BARK, "7", id="2")]


def solved(target: str, value: str, **given: Any) -> Any:
    return solve_document(TERMS, PRICES, LINES, TAXES, target=target, value=D(value), **given)


@pytest.mark.parametrize("target", ["net", "payable"])
@pytest.mark.parametrize("value", ["100.00", "77.77", "123.21"])
def test_a_solved_amount_is_met(target: str, value: str) -> None:
    answer = solved(target, value)
    assert answer.reached == D(value) or not answer.exact
    assert abs(answer.reached - D(value)) <= D("0.01")
    again = DocumentDiscount(amount=answer.amount)
    assert answer.document.totals.document_discount == again.off(D("123.21"), "EUR")


def test_a_solved_margin_is_met() -> None:
    answer = solved("margin_percent", "35")
    assert (answer.reached, answer.exact) == (D("35.0"), True)
    assert answer.document.totals.cost == D("75.00")


def test_the_percent_is_the_nearest() -> None:
    assert solved("net", "100.00").percent == D("18.8378")


@pytest.mark.parametrize(
    ("target", "value"), [("net", "123.22"), ("payable", "500"), ("margin_percent", "99")]
)
def test_what_no_discount_reaches_is_said(target: str, value: str) -> None:
    with pytest.raises(InvalidInput, match="out_of_reach"):
        solved(target, value)


def test_without_costs_no_margin_is_solved() -> None:
    with pytest.raises(InvalidInput, match="unknown_cost"):
        solve_document(
            TERMS, PRICES, [line(item(), "1")], VAT, target="margin_percent", value=D(20)
        )


def test_a_limit_in_the_way_is_named() -> None:
    answer = solved("net", "100.00", limits=Limits(document_percent=D(10)))
    assert [(e.code, e.found, e.limit) for e in answer.blocked] == [
        ("document_discount", D("18.84"), D(10))
    ]


@given(
    rows=documents,
    share=st.decimals("0.05", 1, places=4),
    target=st.sampled_from(["net", "payable"]),
)
def test_a_solved_target_is_met_within_what_cents_allow(
    rows: list[tuple[str, Decimal, int]], share: Decimal, target: str
) -> None:
    lines = lines_of(rows)
    plain = price(lines, book(), taxes=TAXES).totals
    value = (getattr(plain, target) * share).quantize(D("0.01"))
    answer = solve_document(TERMS, book(), lines, TAXES, target=target, value=value)
    assert abs(answer.reached - value) <= (D(0) if target == "net" else D("0.02"))


@pytest.mark.parametrize(
    ("given", "net"),
    [({"price": "9.00"}, "90.00"), ({"net": "81.00"}, "81.00"), ({"margin": "25"}, "81.34")],
)
def test_a_line_is_solved_for_price_net_or_margin(given: dict[str, str], net: str) -> None:
    [(name, value)] = given.items()
    answer = solve_line(TERMS, PRICES, LINES, TAXES, "1", **{name: D(value)})
    assert (answer.net, answer.exact) == (D(net), True)
    typed = line(POST, "10", discount_amount=answer.amount)
    assert price([typed], PRICES).lines[0].net == D(net)


def test_a_line_cannot_be_solved_above_its_price() -> None:
    with pytest.raises(InvalidInput, match="out_of_reach"):
        solve_line(TERMS, PRICES, LINES, TAXES, "1", price=D(11))


def codes(lines: list[Line], limits: Limits, percent: str = "") -> list[tuple[str, str, Decimal]]:
    document = price(lines, PRICES, percent=percent, taxes=TAXES)
    return [(e.code, e.line, e.found) for e in exceeded(document, lines, limits)]


def test_the_reps_own_discount_is_what_they_took_off_the_rules_price() -> None:
    typed = line(POST, "10", price=D("8.99"))
    off = line(BARK, "100", id="2", discount_percent=D(12))
    assert codes([typed, off], Limits(line_percent=D(10))) == [
        ("line_discount", "1", D("10.01")),
        ("line_discount", "2", D("12.00")),
    ]


def test_the_margin_floor_is_the_groups_else_the_general_one() -> None:
    limits = Limits(margin_floor=D(50), margin_floors={"posts": D(20)})
    assert codes(LINES, limits) == [("margin_floor", "2", D("39.94"))]


def test_the_document_discount_has_its_limit() -> None:
    limits = Limits(document_percent=D(5))
    assert codes(LINES, limits, percent="5") == []
    assert codes(LINES, limits, percent="5.01")[0][:2] == ("document_discount", "")
