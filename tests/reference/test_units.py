"""Unit conversions against the ``pint`` library, for the codes of UN/ECE Recommendation 20 it knows."""

from decimal import Decimal

import pint
import pytest

from routecore.quantity import Units

CODES = {
    "MTR": "meter", "KMT": "kilometer", "CMT": "centimeter", "MMT": "millimeter", "FOT": "foot", "INH": "inch",
    "KGM": "kilogram", "GRM": "gram", "TNE": "metric_ton", "LTR": "liter", "MLT": "milliliter", "MTQ": "meter ** 3",
    "MTK": "meter ** 2", "HAR": "hectare", "HUR": "hour", "MIN": "minute", "DAY": "day",
}  # fmt: skip
SAME = [("MTR", "KMT", "CMT", "MMT", "FOT", "INH"), ("KGM", "GRM", "TNE"), ("LTR", "MLT", "MTQ"),
        ("MTK", "HAR"), ("HUR", "MIN", "DAY")]  # fmt: skip
PAIRS = [(base, unit) for family in SAME for base in family for unit in family if unit != base]
registry = pint.UnitRegistry(non_int_type=Decimal)


@pytest.mark.parametrize(("base", "unit"), PAIRS)
def test_an_exact_factor_converts_there_and_back(base: str, unit: str) -> None:
    factor = (Decimal(1) * registry(CODES[unit])).to(CODES[base]).magnitude
    units = Units(base=base, factors={unit: factor})
    there = units.convert(Decimal("7.5"), unit, base)
    assert abs(
        there - (Decimal("7.5") * registry(CODES[unit])).to(CODES[base]).magnitude
    ) < Decimal("1e-20")
    assert abs(units.convert(there, base, unit) - Decimal("7.5")) < Decimal("1e-20")
