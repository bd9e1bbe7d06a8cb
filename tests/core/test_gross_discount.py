"""A discount on the gross, and a payable that is aimed at: the nearest that any net discount reaches."""

from collections.abc import Callable
from decimal import Decimal
from typing import Any

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.errors import InvalidInput
from routecore.totals import (
    Charge,
    DocumentTerms,
    Line,
    PricedDocument,
    TaxComponent,
    solve_document,
)
from routecore.totals.gross import Category, Taxed
from routecore.totals.tax import TaxRates
from tests.core.build import DAY, D, book, item, line, price

TAXES = {
    "standard": (TaxComponent(name="VAT", percent=D(19)),),
    "low": (TaxComponent(name="VAT", percent=D(3)),),
    "none": (),
    "double": (
        TaxComponent(name="Levy", percent=D(5)),
        TaxComponent(name="VAT", percent=D("9.975"), on="running"),
    ),
}


def lines_of(*rows: tuple[int, str, str]) -> list[Line]:
    """So many lines of a price in a category."""
    return [
        line(item(f"I{n}", tax_category=category), "1", id=f"{n}.{k}", price=D(value))
        for n, (count, value, category) in enumerate(rows)
        for k in range(count)
    ]


def priced(lines: list[Line], **given: Any) -> PricedDocument:
    return price(lines, book(), taxes=TAXES, on="gross", **given)


@pytest.mark.parametrize(
    ("rows", "given", "rounding"),
    [
        ([(200, "0.07", "standard")], {"percent": "10", "tax_rounding": "line"}, "0.00"),
        ([(50, "1.03", "low")], {"percent": "10", "tax_rounding": "line"}, "0.00"),
        ([(100, "0.10", "standard"), (100, "1.10", "none")], {"percent": "5"}, "0.00"),
        ([(100, "10.10", "standard"), (100, "20.10", "none")], {"percent": "5"}, "0.00"),
    ],
)  # fmt: skip
def test_the_target_is_hit_where_any_net_discount_hits_it(
    rows: list[tuple[int, str, str]], given: dict[str, str], rounding: str
) -> None:
    document = priced(lines_of(*rows), **given)
    assert document.totals.payable_rounding == D(rounding)
    assert document.problems == ()


FREIGHT = Charge(name="Freight", amount=D(10), tax_category="standard")


@pytest.mark.parametrize(
    ("value", "given", "payable", "wanted"),
    [
        ("200.00", {"percent": "100"}, "11.90", "249.90"),
        ("200.00", {"amount": "245"}, "11.90", "245.00"),
        ("0.00", {"amount": "5"}, "11.90", "5.00"),
    ],
)
def test_what_the_lines_cannot_bear_is_capped_and_said(
    value: str, given: dict[str, str], payable: str, wanted: str
) -> None:
    document = priced(lines_of((1, value, "standard")), charges=(FREIGHT,), **given)
    totals = document.totals
    assert (totals.payable, totals.payable_rounding) == (D(payable), D("0.00"))
    [problem] = document.problems
    assert (problem.code, problem.facts["wanted"]) == ("discount_not_reached", D(wanted))
    assert problem.facts["reached"] == totals_without(value) - D(payable)


def totals_without(value: str) -> Decimal:
    free = price(lines_of((1, value, "standard")), book(), taxes=TAXES, charges=(FREIGHT,))
    return free.totals.gross


TERMS = DocumentTerms(on=DAY, currency="EUR")
BY_LINE = DocumentTerms(on=DAY, currency="EUR", tax_rounding="line")
TWO_CATEGORIES = [(100, "0.10", "standard"), (100, "1.10", "none")]


@pytest.mark.parametrize(
    ("terms", "rows", "value"),
    [
        (BY_LINE, [(200, "0.07", "standard")], "14.40"),
        (TERMS, TWO_CATEGORIES, "115.80"),
        (TERMS, TWO_CATEGORIES, "113.37"),
    ],
)
def test_a_payable_that_a_discount_gives_is_found(
    terms: DocumentTerms, rows: list[tuple[int, str, str]], value: str
) -> None:
    answer = solve_document(terms, book(), lines_of(*rows), TAXES, target="payable", value=D(value))
    assert (answer.reached, answer.exact) == (D(value), True)


def test_a_payable_below_what_charges_leave_is_out_of_reach() -> None:
    terms = DocumentTerms(on=DAY, currency="EUR", charges=(FREIGHT,))
    with pytest.raises(InvalidInput, match="out_of_reach"):
        solve_document(
            terms, book(), lines_of((1, "50", "standard")), TAXES, target="payable", value=D(11)
        )


categories = st.lists(
    st.tuples(
        st.sampled_from(["standard", "low", "none", "double"]),
        st.lists(st.integers(0, 120), min_size=1, max_size=6),
        st.lists(st.integers(0, 60), max_size=1),
    ),
    min_size=1,
    max_size=4,
)


@given(
    rows=categories,
    rounding=st.sampled_from(["document", "line"]),
    part=st.fractions(0, 1),
    more=st.integers(-3, 3),
)
def test_no_net_discount_comes_nearer_than_the_one_found(
    rows: list[tuple[str, list[int], list[int]]], rounding: str, part: Any, more: int
) -> None:
    """Against trying every discount of the document."""
    taxed = Taxed(
        [Category(TaxRates(TAXES[name]), sum(nets), nets, charges) for name, nets, charges in rows],
        rounding,
    )
    every = [taxed.gross(discount) for discount in range(taxed.whole + 1)]
    target = int(every[-1] + part * (every[0] - every[-1])) + more
    discount, gross = taxed.nearest(target)
    assert gross == every[discount]
    assert abs(gross - target) == min(abs(one - target) for one in every)


@given(
    rows=st.lists(
        st.tuples(st.sampled_from(["standard", "low", "none", "double"]), st.integers(0, 500)),
        min_size=1,
        max_size=8,
    ),
    percent=st.decimals(0, 100, places=1),
    rounding=st.sampled_from(["document", "line"]),
    charges=st.sampled_from([(), (FREIGHT,)]),
    step=st.sampled_from(["", "0.05"]),
)
def test_payable_rounding_keeps_its_bound_or_the_discount_is_said_to_be_missed(
    rows: list[tuple[str, int]], percent: Decimal, rounding: str, charges: Any, step: str
) -> None:
    lines = lines_of(*((1, str(D(cents) / 100), name) for name, cents in rows))
    document = priced(
        lines, percent=str(percent), tax_rounding=rounding, charges=charges, step=step
    )
    totals = document.totals
    components = sum(1 for row in totals.tax if row.name)
    bound = D("0.01") * ((components + 1) // 2) + (D("0.025") if step else 0)
    assert abs(totals.payable_rounding) <= bound
    assert totals.gross + totals.payable_rounding == totals.payable
    missed = [p for p in document.problems if p.code == "discount_not_reached"]
    if not step and not missed:
        free = price(lines, book(), taxes=TAXES, charges=charges, tax_rounding=rounding)
        off = (free.totals.gross * percent / 100).quantize(D("0.01"), "ROUND_HALF_UP")
        assert totals.payable == free.totals.gross - off


def test_a_discount_is_split_over_the_categories_first() -> None:
    """The smaller category bears its part to the cent, although each of its lines bears half a one."""
    lines = lines_of((100, "0.10", "standard"), (100, "1.10", "none"))
    document = price(lines, book(), taxes=TAXES, amount="6.08")
    bases = [row.base for row in document.totals.tax]
    assert bases == [D("9.49"), D("104.43")]  # 0.51 and 5.57 of 6.08


@pytest.mark.parametrize("shape", [lambda n: [(n, "0.07", "standard")], lambda n: [(1, f"{k}.{k % 97:02}", "low") for k in range(1, n)]])  # fmt: skip
def test_a_long_document_is_solved_in_few_trials(
    shape: Callable[[int], list[tuple[int, str, str]]], monkeypatch: pytest.MonkeyPatch
) -> None:
    tried: list[int] = []
    plain = Taxed.gross
    monkeypatch.setattr(Taxed, "gross", lambda self, d: (tried.append(d), plain(self, d))[1])
    lines = lines_of(*shape(400))
    totals = priced(lines, percent="7", tax_rounding="line").totals
    assert abs(totals.payable_rounding) <= D("0.01")
    assert len(tried) < 300
