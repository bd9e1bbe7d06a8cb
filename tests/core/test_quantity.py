from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.errors import InvalidInput
from routecore.quantity import Units, check_quantity, reach

D = Decimal
positive = st.decimals(min_value="0.01", max_value=10**5, places=2)


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


@given(quantity=positive, factor=positive, minimum=positive, multiple=positive)
def test_the_proposed_neighbours_are_valid_and_nearest(
    quantity: Decimal, factor: Decimal, minimum: Decimal, multiple: Decimal
) -> None:
    fault = check_quantity(quantity, unit_factor=factor, minimum=minimum, multiple=multiple)
    if fault is None:
        assert quantity * factor >= minimum
        return
    for base in (fault.above * factor, (fault.below or fault.above) * factor):
        packs = base / multiple
        assert abs(packs - packs.to_integral_value()) < D("1e-15")
        assert base >= minimum - D("1e-15")
    assert (fault.below or D(0)) < quantity < fault.above


@given(target=positive, factor=positive, multiple=positive)
def test_what_reaches_a_tier_is_the_least_orderable_quantity(
    target: Decimal, factor: Decimal, multiple: Decimal
) -> None:
    base = reach(target, unit_factor=factor, multiple=multiple) * factor
    assert target - D("1e-15") <= base < target + multiple
