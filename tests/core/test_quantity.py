from decimal import Decimal
from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.errors import InvalidInput
from routecore.exact import Ratio
from routecore.quantity import Units, check_quantity, typeable

D = Decimal


def test_units_convert_through_the_base_unit() -> None:
    wire = Units(base="MTR", factors={"RL": D(100), "PF": D(4800)})
    assert wire.convert(D(2), "PF", "RL") == D(96)
    assert wire.convert(D(50), "MTR", "RL") == D("0.5")


def test_a_foreign_unit_is_refused() -> None:
    with pytest.raises(InvalidInput, match="unknown_unit"):
        Units(base="MTR").factor("KGM")


@pytest.mark.parametrize("factor", ["0", "-1"])
def test_a_factor_is_positive(factor: str) -> None:
    with pytest.raises(InvalidInput, match="not_positive"):
        Units(base="MTR", factors={"RL": D(factor)})


@pytest.mark.parametrize(
    ("quantity", "code", "below", "above"),
    [
        ("9", "below_minimum", None, "12"),
        ("50", "not_a_multiple", "48", "60"),
        ("14", "not_a_multiple", "12", "24"),
    ],
)
def test_a_quantity_off_the_pack_is_said_with_its_neighbours(
    quantity: str, code: str, below: str | None, above: str
) -> None:
    fault = check_quantity(D(quantity), unit_factor=D(1), minimum=D(10), multiple=D(12))
    assert fault is not None
    assert (fault.code, fault.below, fault.above) == (code, below and D(below), D(above))


@pytest.mark.parametrize(
    ("factor", "minimum", "pack", "quantity", "below", "above"),
    [
        ("7", None, "24", "2", None, "24"),  # boxes of 7 in packs of 24: 24 boxes are 7 packs
        ("6", None, "5", "3", "2.5", "5"),  # 15 pieces are 3 packs of 5, and 2.5 cartons of 6
        ("7", "10", None, "1", None, "2"),  # at least 10 pieces, in boxes of 7
        ("0.000001", None, "999999999999999", "1", None, None),  # beyond what can be typed
    ],
)
def test_proposed_quantities_can_be_typed(
    factor: str, minimum: str | None, pack: str | None, quantity: str, below: str | None, above: str | None
) -> None:  # fmt: skip
    fault = check_quantity(
        D(quantity),
        unit_factor=D(factor),
        minimum=minimum and D(minimum),  # type: ignore[arg-type]
        multiple=pack and D(pack),  # type: ignore[arg-type]
    )
    assert fault is not None
    assert (fault.below, fault.above) == (below and D(below), above and D(above))


def valid(quantity: Decimal, factor: Decimal, minimum: Decimal, multiple: Decimal) -> bool:
    packs = Fraction(quantity) * Fraction(factor) / Fraction(multiple)
    return packs.denominator == 1 and Fraction(quantity) * Fraction(factor) >= Fraction(minimum)


small = st.sampled_from([D(n) for n in ("1", "2", "3", "5", "6", "7", "12", "0.5", "1.2")])


@given(quantity=st.decimals("0.01", 12, places=2), factor=small, minimum=small, multiple=small)
def test_the_proposed_neighbours_are_valid_and_nearest(
    quantity: Decimal, factor: Decimal, minimum: Decimal, multiple: Decimal
) -> None:
    """Against every quantity of up to three decimals below and between."""
    fault = check_quantity(quantity, unit_factor=factor, minimum=minimum, multiple=multiple)
    if fault is None:
        assert valid(quantity, factor, minimum, multiple)
        return
    assert fault.above is not None and valid(fault.above, factor, minimum, multiple)
    assert fault.above > quantity
    thousandths = (D(n) / 1000 for n in range(1, int(fault.above * 1000)))
    between = [q for q in thousandths if valid(q, factor, minimum, multiple)]
    assert max(between, default=None) == (fault.below if fault.code == "not_a_multiple" else None)


@given(base=st.decimals("0.01", 300, places=2), factor=small, multiple=small)
def test_what_holds_a_quantity_is_the_least_that_does(
    base: Decimal, factor: Decimal, multiple: Decimal
) -> None:
    grid = typeable(factor, None, multiple)
    least = grid.holding(Ratio(base))
    assert least is not None
    assert valid(least, factor, multiple, multiple) and least * factor >= base
    step = Fraction(grid.step, 10**6)
    assert Fraction(least) - step <= 0 or (Fraction(least) - step) * Fraction(factor) < base


def test_a_quantity_of_a_third_is_refused_from_a_file_and_compared_exactly_where_it_arises() -> (
    None
):
    thirds = Ratio(D(1), D(3)).plus(D(1), D(3)).plus(D(1), D(3))
    assert thirds.reaches(D(1)) and not thirds.exceeds(Ratio(D(1)))
