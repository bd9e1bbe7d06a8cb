from decimal import ROUND_HALF_EVEN, Decimal, localcontext
from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.errors import InvalidInput
from routecore.exact import nearest
from routecore.money import Money, round_amount, round_to_step, split_amount, split_units

D = Decimal
amounts = st.decimals(min_value=-(10**9), max_value=10**9, places=2)
weights = st.lists(st.decimals(min_value=0, max_value=10**6, places=3), min_size=1, max_size=30)


@pytest.mark.parametrize(
    ("value", "currency", "rounded"),
    [
        ("0.125", "EUR", "0.13"),
        ("-0.125", "EUR", "-0.13"),
        ("0.5", "JPY", "1"),
        ("1.0005", "KWD", "1.001"),
        ("2.675", "EUR", "2.68"),
    ],
)
def test_half_is_rounded_away_from_zero(value: str, currency: str, rounded: str) -> None:
    assert round_amount(D(value), currency) == D(rounded)


def test_the_ambient_decimal_context_changes_nothing() -> None:
    with localcontext() as ambient:
        ambient.prec, ambient.rounding = 4, ROUND_HALF_EVEN
        assert round_amount(D("123456.125"), "EUR") == D("123456.13")
        assert split_amount(D("100000.01"), [D(1), D(2)], "EUR") == [D("33333.34"), D("66666.67")]


@pytest.mark.parametrize(
    ("step", "payable"), [("0.05", "1033.90"), ("1.00", "1034.00"), ("0.01", "1033.92")]
)
def test_payable_is_rounded_to_its_step(step: str, payable: str) -> None:
    assert round_to_step(D("1033.92"), D(step)) == D(payable)


@given(total=amounts, parts=weights)
def test_parts_of_a_split_add_up_to_the_whole(total: Decimal, parts: list[Decimal]) -> None:
    assert sum(split_amount(total, parts, "EUR")) == total


@given(total=amounts, parts=weights)
def test_no_part_is_a_unit_or_more_from_its_exact_share(
    total: Decimal, parts: list[Decimal]
) -> None:
    whole = sum(parts)
    if not whole:
        return
    for part, weight in zip(split_amount(total, parts, "EUR"), parts, strict=True):
        assert abs(part - total * weight / whole) < D("0.01")


def test_ties_of_a_split_go_to_the_earlier_line() -> None:
    assert split_amount(D("0.02"), [D(1)] * 3, "EUR") == [D("0.01"), D("0.01"), D("0.00")]


@pytest.mark.parametrize(
    ("weights", "parts"),
    [
        (["1.00", "10.00", "4.00"], ["0.07", "0.67", "0.26"]),  # each is two thirds of a cent over
        (["0.5", "5", "2"], ["0.07", "0.67", "0.26"]),
    ],
)
def test_remainders_that_are_equal_are_found_to_be(weights: list[str], parts: list[str]) -> None:
    assert split_amount(D("1.00"), [D(w) for w in weights], "EUR") == [D(p) for p in parts]


@given(total=st.integers(0, 300), parts=st.lists(st.integers(0, 40), min_size=1, max_size=8))
def test_a_split_is_the_largest_remainders_by_line_order(total: int, parts: list[int]) -> None:
    """Against exact fractions."""
    whole = sum(parts)
    if not whole:
        return
    exact = [Fraction(total * part, whole) for part in parts]
    floors = [value.numerator // value.denominator for value in exact]
    order = sorted(range(len(parts)), key=lambda n: (floors[n] - exact[n], n))
    for n in order[: total - sum(floors)]:
        floors[n] += 1
    assert split_units(total, parts) == floors


def test_two_currencies_do_not_add() -> None:
    with pytest.raises(InvalidInput, match="currencies_mixed"):
        Money(D(1), "EUR") + Money(D(1), "GBP")


@pytest.mark.parametrize("value", [1.5, 1, "1", D("NaN"), D("Infinity")])
def test_only_finite_decimals_are_money(value: object) -> None:
    with pytest.raises(InvalidInput):
        Money(value, "EUR")  # type: ignore[arg-type]


@pytest.mark.parametrize("currency", ["", "eur", "EURO", "E1", "ÉUR"])
def test_a_currency_is_three_capital_letters(currency: str) -> None:
    with pytest.raises(InvalidInput):
        Money(D(1), currency)


@pytest.mark.parametrize(("more", "cents"), [(-1, "0.00"), (0, "0.01"), (1, "0.01")])
def test_a_quotient_is_not_rounded_to_a_tie_before_it_is_rounded(more: int, cents: str) -> None:
    """Half a cent less a part in 10^110 is less than half a cent, however long the division."""
    under = D(3 * 10**110)
    assert nearest(D(15 * 10**107 + more), under, D("0.01")) == D(cents)
    assert nearest(D(-15 * 10**107 - more), under, D("0.01")) == -D(cents)
