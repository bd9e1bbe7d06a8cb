"""Solving backwards, against a full search of small documents."""

from fractions import Fraction
from typing import Any

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.errors import InvalidInput
from routecore.totals import (
    DocumentDiscount,
    DocumentTerms,
    Limits,
    Line,
    LineSolution,
    TaxComponent,
    price_document,
    solve_document,
    solve_line,
)
from tests.core.build import DAY, VAT, D, book, entry, item, line

PRICES = book(entry("10"), entry("10", code="B"))
TAXES = {**VAT, "low": (TaxComponent(name="VAT", percent=D(7)),)}


def terms(**discount: Any) -> DocumentTerms:
    given = DocumentDiscount(**discount) if discount else None
    return DocumentTerms(on=DAY, currency="EUR", discount=given)


def solved(given: DocumentTerms, lines: list[Line], **target: Any) -> LineSolution:
    return solve_line(given, PRICES, lines, TAXES, "1", **target)


def test_a_lines_margin_is_what_it_keeps_after_the_document_discount() -> None:
    lines = [line(item(cost=D(6)), "10")]
    answer = solved(terms(percent=D(10)), lines, margin=D(30))
    assert (answer.net, answer.margin_percent, answer.exact) == (D("95.24"), D("30.0"), True)
    with pytest.raises(InvalidInput, match="out_of_reach"):
        solved(terms(percent=D(10)), lines, margin=D(40))  # 33.3 % without a line discount


def test_limits_in_the_way_of_a_line_are_named() -> None:
    lines = [line(item(cost=D(6)), "10"), line(item("B"), "10", id="2", discount_percent=D(50))]
    answer = solved(terms(), lines, net=D(80), limits=Limits(line_percent=D(10)))
    assert [(e.code, e.line, e.found) for e in answer.blocked] == [
        ("line_discount", "1", D("20.00"))
    ]


def test_a_percent_is_never_more_than_a_hundred() -> None:
    prices = book(entry("0.005"))  # a line of half a cent is a cent
    answer = solve_line(terms(), prices, [line(item(), "1")], VAT, "1", net=D(0))
    assert (answer.amount, answer.percent) == (D("0.01"), D(100))


discounts = st.one_of(
    st.just({}),
    st.builds(
        lambda kind, value, on: {kind: D(value), "on": on},
        st.sampled_from(["percent", "amount"]),
        st.integers(0, 60),
        st.sampled_from(["net", "gross"]),
    ),
)


@given(
    quantity=st.integers(1, 12),
    other=st.integers(1, 12),
    cost=st.integers(0, 9),
    margin=st.integers(-20, 80),
    discount=discounts,
)
def test_no_greater_discount_keeps_the_margin(
    quantity: int, other: int, cost: int, margin: int, discount: dict[str, Any]
) -> None:
    """Against pricing every net of the line, cent by cent."""
    goods = item(cost=D(cost))
    lines = [line(goods, str(quantity)), line(item("B", tax_category="low"), str(other), id="2")]
    prices = book(entry("0.50"), entry("0.70", code="B"))
    given = terms(**discount)
    whole = quantity * 50

    def keeps(off: int) -> bool:
        typed = [line(goods, str(quantity), discount_amount=D(off) / 100), lines[1]]
        row = price_document(given, prices, typed, TAXES).lines[0]
        after = (row.net or D(0)) - row.document_discount_share
        if not after:
            return not row.cost
        return Fraction(after - (row.cost or 0)) / Fraction(after) >= Fraction(margin, 100)

    try:
        answer = solve_line(given, prices, lines, TAXES, "1", margin=D(margin))
    except InvalidInput as error:
        assert error.code == "out_of_reach" and not keeps(0)
        return
    assert keeps(int(answer.amount * 100))
    greater = range(int(answer.amount * 100) + 1, whole + 1)
    assert not any(keeps(off) for off in greater)


@given(
    rows=st.lists(
        st.tuples(st.sampled_from(["standard", "low"]), st.integers(0, 90), st.integers(0, 80)),
        min_size=1,
        max_size=4,
    ),
    target=st.sampled_from(["net", "payable", "margin_percent"]),
    part=st.fractions(0, 1),
)
def test_a_solved_document_is_the_best_of_all_discounts(
    rows: list[tuple[str, int, int]], target: str, part: Fraction
) -> None:
    """Against trying every discount on the net."""
    lines = [
        line(item(f"I{n}", tax_category=name, cost=D(cost) / 100), "1", id=str(n), price=D(cents) / 100)
        for n, (name, cents, cost) in enumerate(rows)
    ]  # fmt: skip
    every = []
    for off in range(sum(cents for _, cents, _ in rows) + 1):
        given = terms(amount=D(off) / 100)
        every.append(price_document(given, book(), lines, TAXES).totals)
    reachable = [getattr(t, target) for t in every if getattr(t, target) is not None]
    if not reachable:
        return
    low, high = min(reachable), max(reachable)
    value = low + (high - low) * D(int(part * 100)) / 100
    value = value.quantize(D("0.1") if target == "margin_percent" else D("0.01"))
    try:
        answer = solve_document(terms(), book(), lines, TAXES, target=target, value=value)
    except InvalidInput:
        # A margin lies below a hundred, and a net of nothing has none.
        assert target == "margin_percent" and (value >= 100 or value > low)
        return
    if target == "margin_percent":
        index = int(answer.amount * 100)
        exact = [(t.margin or D(0)) * 100 - value * (t.net) for t in every]
        assert exact[index] >= 0 or index == 0
        assert all(
            m < 0 or not t.net for m, t in zip(exact[index + 1 :], every[index + 1 :], strict=True)
        )
    else:
        assert abs(answer.reached - value) == min(abs(one - value) for one in reachable)
        assert answer.exact == (value in reachable)
